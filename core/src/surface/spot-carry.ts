import type { CashDividend } from '../pricing/index.ts';

/**
 * Forward of a spot that grows at a drift and falls by its cash dividends: F = S e^(d T) - sum of A e^(d (T - t)), the pricer's own
 * parity.
 * @param drift rate less yield, per year
 * @param dividends ex-dates in years; those at or after the expiry do not count
 */
export function spotForward(
  spot: number,
  drift: number,
  dividends: readonly CashDividend[],
  timeToExpiry: number,
): number {
  let forward = spot * Math.exp(drift * timeToExpiry);
  for (const { time, amount } of dividends) {
    if (time < timeToExpiry) forward -= amount * Math.exp(drift * (timeToExpiry - time));
  }
  return forward;
}

/** The drift is settled when a step moves the forward by less than this share of itself. */
const SETTLED = 1e-14;
const MOST_STEPS = 40;

/**
 * The drift at which a spot has a forward; see {@link spotForward}.
 * @param forward > 0
 * @returns NaN where none is found: dividends worth more than the spot
 */
export function impliedDrift(
  forward: number,
  spot: number,
  dividends: readonly CashDividend[],
  timeToExpiry: number,
): number {
  let paid = 0;
  for (const { time, amount } of dividends) if (time < timeToExpiry) paid += amount;
  let drift = Math.log((forward + paid) / spot) / timeToExpiry;
  if (paid === 0) return drift;
  for (let step = 0; step < MOST_STEPS; step++) {
    let slope = timeToExpiry * spot * Math.exp(drift * timeToExpiry);
    for (const { time, amount } of dividends) {
      const left = timeToExpiry - time;
      if (left > 0) slope -= left * amount * Math.exp(drift * left);
    }
    const miss = spotForward(spot, drift, dividends, timeToExpiry) - forward;
    if (!(slope > 0)) return NaN;
    drift -= miss / slope;
    if (Math.abs(miss) < SETTLED * forward) break;
  }
  return Number.isFinite(drift) ? drift : NaN;
}
