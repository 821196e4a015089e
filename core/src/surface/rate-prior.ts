import type { FactorEstimate } from './implied-forward.ts';
import { RATE_ERRORS, type RatePrior } from './slice-forward.ts';
import { zeroRate } from './zero-rate.ts';

/** What the pairs of one expiry alone say of its discount factor, beside the curve. */
export interface FactorBesideCurve {
  timeToExpiry: number;
  /** Of the curve, per year; undefined without one */
  rate?: number;
  alone: FactorEstimate;
}

/** What a rate is where neither curve nor quotes tell: between a little below 0 and a tenth. Common practice, no source. */
export const USUAL_RATE: RatePrior = { rate: 0.03, error: 0.04 };

/** Deviations beyond which an expiry contradicts the others and counts less (Huber 1964). */
const CONTRADICTION = 2;
const ROUNDS = 3;

/**
 * What other expiries of a chain and its curve say of the rate of an expiry: the curve's, with the spread over it that the
 * others have in common; without a curve their common rate, and where they tell little what rates usually are. An expiry's own
 * financing may lie a little beside it.
 * @param rate of the curve to the expiry, per year; undefined without one
 * @see Huber, P. J. (1964). Robust estimation of a location parameter. Annals of Mathematical Statistics 35(1), 73-101.
 */
export function ratePrior(rate: number | undefined, others: readonly FactorBesideCurve[]): RatePrior {
  const known = others
    .filter((e) => (e.rate === undefined) === (rate === undefined))
    .map(({ timeToExpiry: T, alone, rate: curve = 0 }) => ({
      spread: zeroRate(alone.discountFactor, T) - curve,
      error: Math.hypot(alone.error / (alone.discountFactor * T), RATE_ERRORS.expiry),
    }))
    .filter((e) => Number.isFinite(e.spread) && e.error < Infinity);
  const start = rate === undefined ? USUAL_RATE : { rate: 0, error: RATE_ERRORS.spread };
  const priorWeight = 1 / start.error ** 2;
  let spread = start.rate;
  let weight = priorWeight;
  for (let round = 0; round < ROUNDS; round++) {
    let sum = priorWeight * start.rate;
    weight = priorWeight;
    for (const e of known) {
      const off = Math.abs(e.spread - spread) / e.error;
      const trust = round === 0 || off <= CONTRADICTION ? 1 : CONTRADICTION / off;
      sum += (trust * e.spread) / (e.error * e.error);
      weight += trust / (e.error * e.error);
    }
    spread = sum / weight;
  }
  return { rate: (rate ?? 0) + spread, error: Math.hypot(RATE_ERRORS.expiry, Math.sqrt(1 / weight)) };
}
