import type { DerivingContext } from '../../api/as-of-context.ts';
import type { SessionMeasures } from '../repositories/measures.ts';
import type { StoredSlice } from '../repositories/slices.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import type { Carry, KnownEvent } from './derive-stored.ts';
import type { SessionBars } from './session-bars.ts';

/** All that the resources of an underlying at an instant are made of, as it is stored. */
export interface ResourceInput {
  stored: StoredUnderlying;
  /** Nearest expiry first, not empty */
  rows: StoredSlice[];
  carry: Carry;
  events: (KnownEvent & { label: string })[];
  past: SessionMeasures[];
  /** Sessions of the same year that have quotes, by date */
  pastStored: readonly string[];
  previousPrice: number | undefined;
  /** Sessions that have ended by the instant */
  ended: SessionBars;
  futuresCurve: { deliveries: string[]; prices: number[] } | undefined;
  context: DerivingContext;
}
