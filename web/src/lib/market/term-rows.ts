import { forwardVolatility } from '@umwelt/core/surface';
import type { Overview } from '../api/picture.ts';
import type { ExpirySurface } from '../api/surface-resource.ts';
import type { TermRow } from '../api/term-row.ts';

/**
 * The fitted expiry in line before another; undefined before the first.
 * @param among expiries between which is looked, such as those that are shown
 */
export function expiryBefore<E extends ExpirySurface>(among: readonly E[], expiry: ExpirySurface): E | undefined {
  return among.filter((e) => e.years < expiry.years && e.atm !== null && e.outlier === null).at(-1);
}

/** Volatility of a step between two expiries, or why there is none. */
export type ForwardStep =
  | { ok: true; volatility: number }
  | { ok: false; reason: 'no-smile' | 'other-delivery' | 'variance-falls' };

/**
 * Volatility between the fitted expiry before and this one; from the instant on to the first.
 * @param among expiries between which a step goes: those that are listed, or shown
 */
export function forwardStepInto(among: readonly ExpirySurface[], expiry: ExpirySurface): ForwardStep {
  if (expiry.atm === null) return { ok: false, reason: 'no-smile' };
  const previous = expiryBefore(among, expiry);
  if (previous?.atm == null) return { ok: true, volatility: expiry.atm };
  // Options on a future are on that of their delivery: the one does not go on where the other ends.
  if (expiry.model === 'futures' && previous.underlyingPrice !== expiry.underlyingPrice)
    return { ok: false, reason: 'other-delivery' };
  const result = forwardVolatility(
    { timeToExpiry: previous.years, volatility: previous.atm },
    { timeToExpiry: expiry.years, volatility: expiry.atm },
  );
  return result.ok ? { ok: true, volatility: result.volatility } : { ok: false, reason: 'variance-falls' };
}

/** As {@link forwardStepInto}; null where there is none. */
export function forwardVolatilityInto(among: readonly ExpirySurface[], expiry: ExpirySurface): number | null {
  const step = forwardStepInto(among, expiry);
  return step.ok ? step.volatility : null;
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
    forwardVolatility: forwardVolatilityInto(picture.expiries, e),
    percentile: e.standing?.percentile ?? null,
    rank: e.standing?.rank ?? null,
  }));
}
