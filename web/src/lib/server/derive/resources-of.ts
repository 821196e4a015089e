import type { MarketResource } from '../../api/market-resource.ts';
import type { PastResource } from '../../api/past-resource.ts';
import type { ShownMoment, SurfaceResource } from '../../api/surface-resource.ts';
import { deriveStored } from './derive-stored.ts';
import { marketOf } from './market-of.ts';
import { pastOf } from './past-of.ts';
import type { ResourceInput } from './resource-input.ts';
import { sessionDate } from './session-date.ts';
import { surfaceOf } from './surface-of.ts';

/** What is seen of an underlying at an instant, whichever instants stand around it. */
export interface Resources {
  surface: Omit<SurfaceResource, keyof ShownMoment>;
  market: MarketResource;
  past: PastResource;
}

/** Everything the views show of one underlying at one instant, derived from what is stored: pure computation. */
export function resourcesOf(input: ResourceInput): Resources {
  const { stored, rows, carry, events, context } = input;
  const dateOf = (at: Date): string => sessionDate(at, stored.zone);
  const surface = deriveStored(rows, { dateOf, carryOf: carry, events, ...context });
  return { surface: surfaceOf(surface, input), market: marketOf(surface, input), past: pastOf(surface, input) };
}
