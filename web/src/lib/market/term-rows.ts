import { forwardVolatility } from '@umwelt/core/surface';
import type { Overview } from '../api/picture.ts';
import type { ExpirySurface, SurfaceResource } from '../api/surface-resource.ts';
import type { TermRow } from '../api/term-row.ts';

/** The fitted expiry in line before another; undefined before the first. */
export function expiryBefore(
  picture: Pick<SurfaceResource, 'expiries'>,
  expiry: ExpirySurface,
): ExpirySurface | undefined {
  return picture.expiries.filter((e) => e.years < expiry.years && e.atm !== null && e.outlier === null).at(-1);
}

/** Volatility between the previous fitted expiry and this one. */
export function forwardVolatilityInto(
  picture: Pick<SurfaceResource, 'expiries'>,
  expiry: ExpirySurface,
): number | null {
  if (expiry.atm === null) return null;
  const previous = expiryBefore(picture, expiry);
  if (previous?.atm == null) return expiry.atm;
  const result = forwardVolatility(
    { timeToExpiry: previous.years, volatility: previous.atm },
    { timeToExpiry: expiry.years, volatility: expiry.atm },
  );
  return result.ok ? result.volatility : null;
}

/** Term structure of a picture, nearest expiry first. */
export function termRows(picture: Overview): TermRow[] {
  return picture.expiries.map((e) => ({
    expiry: e.date,
    days: e.days,
    isMonthly: e.isMonthly,
    forward: e.forward,
    atm: e.atm,
    riskReversal25: e.riskReversal25,
    butterfly25: e.butterfly25,
    forwardVolatility: forwardVolatilityInto(picture, e),
    percentile: e.standing?.percentile ?? null,
    rank: e.standing?.rank ?? null,
  }));
}
