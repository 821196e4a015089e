import { z } from 'zod';
import { expiryMarket, type ExpiryMarket, type MarketResource } from './market-resource.ts';
import { expiryPast, pastResource, type PastResource, standing } from './past-resource.ts';
import {
  expirySurface,
  type ExpirySurface,
  type ShownMoment,
  surfaceResource,
  type SurfaceResource,
} from './surface-resource.ts';

const expiryOverview = expirySurface.extend(expiryPast.shape);
export type ExpiryOverview = z.infer<typeof expiryOverview>;

export const expiryPicture = expiryOverview.extend(expiryMarket.shape).meta({ id: 'ExpiryPicture' });
export type ExpiryPicture = z.infer<typeof expiryPicture>;

const placed = z.object({ value: z.number(), standing: standing.nullable() });
/** Surface and past of an instant in one: everything but its quotes. */
const overview = surfaceResource.extend({
  previousPrice: pastResource.shape.previousPrice,
  standing: pastResource.shape.standing,
  indexStanding: pastResource.shape.indexStanding,
  realized30: pastResource.shape.realized30,
  history: pastResource.shape.history,
  waiting: pastResource.shape.waiting,
  /** Shape of the smile at 30 days by rule, with each figure's standing among the year before; null without a smile */
  shape: surfaceResource.shape.shape.unwrap().extend({ riskReversal25: placed, butterfly25: placed }).nullable(),
  expiries: z.array(expiryOverview),
});
export type Overview = z.infer<typeof overview>;

/** Surface, past and quotes of an instant in one. */
export const picture = overview.extend({ expiries: z.array(expiryPicture) }).meta({ id: 'Picture' });
export type Picture = z.infer<typeof picture>;

/** Whether an expiry's quotes are there, too. */
export function isQuoted(expiry: ExpiryOverview): expiry is ExpiryPicture {
  return 'strikes' in expiry;
}

/** Without the stored instants around it, which another that is stored later changes. */
export type Unplaced<T extends ShownMoment> = Omit<T, keyof ShownMoment>;

/** Surface and past of the same instant in one. */
export function joinOverview(surface: SurfaceResource, past: PastResource): Overview;
export function joinOverview(surface: Unplaced<SurfaceResource>, past: PastResource): Unplaced<Overview>;
export function joinOverview(surface: Unplaced<SurfaceResource>, past: PastResource): Unplaced<Overview> {
  const pastOf = new Map(past.expiries.map((e) => [e.date, e]));
  const { previousPrice, standing: level, indexStanding, realized30, history, waiting } = past;
  return {
    ...surface,
    previousPrice,
    standing: level,
    indexStanding,
    realized30,
    history,
    waiting,
    shape: surface.shape && {
      name: surface.shape.name,
      riskReversal25: { ...surface.shape.riskReversal25, standing: past.shape?.riskReversal25 ?? null },
      butterfly25: { ...surface.shape.butterfly25, standing: past.shape?.butterfly25 ?? null },
    },
    expiries: surface.expiries.map((e) => ({ ...e, ...(pastOf.get(e.date) ?? { realized: null, standing: null }) })),
  };
}

/** An expiry with its quotes, each expiry that is among them. */
export function joinQuotes<E extends ExpirySurface>(
  expiries: readonly E[],
  market: MarketResource,
): (E & ExpiryMarket)[] {
  const quotesOf = new Map(market.expiries.map((e) => [e.date, e]));
  return expiries.flatMap((e) => {
    const quotes = quotesOf.get(e.date);
    return quotes ? [{ ...e, ...quotes }] : [];
  });
}

/** A surface with its quotes. */
export type QuotedSurface = Omit<SurfaceResource, 'expiries'> & { expiries: (ExpirySurface & ExpiryMarket)[] };

/** Surface, past and quotes of the same instant in one. */
export function joinPicture(surface: SurfaceResource, past: PastResource, market: MarketResource): Picture;
export function joinPicture(
  surface: Unplaced<SurfaceResource>,
  past: PastResource,
  market: MarketResource,
): Unplaced<Picture>;
export function joinPicture(
  surface: Unplaced<SurfaceResource>,
  past: PastResource,
  market: MarketResource,
): Unplaced<Picture> {
  const seen = joinOverview(surface, past);
  return { ...seen, expiries: joinQuotes(seen.expiries, market) };
}
