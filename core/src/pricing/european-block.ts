import { tableErfcxDifference, tableExp, tableLog } from '../math/index.ts';
import type { Greeks } from './greeks.ts';

/*
 * Symbols: a discounted spot S e^(-q T), b discounted strike K e^(-r T), s total deviation, d1 and d2 as in Merton
 * (1973). The Gaussian factor is shared, since a n(d1) = b n(d2): with g = a exp(-d1^2 / 2) / 2 the two tails are
 * g erfcx(|d1| / sqrt 2) and g erfcx(|d2| / sqrt 2), so a row takes three exponentials and one logarithm.
 *
 * Rows go through in blocks and each block in four short passes: a small loop body is inlined whole and keeps the
 * processor's pipeline full, where one long body took twice the time. Rows beyond the limits below get harmless
 * numbers in the passes and are then written by the general functions, which hold everywhere.
 */

/** Below this deviation the difference of the two tails would lose more than 25 (1 + |d|) roundings: a series instead. */
export const SMALL_DEVIATION = 0.04;
export const LEAST_DEVIATION = 1e-6;
export const LARGEST_DEVIATION = 10;
/** Keeps the table exponential and logarithm, and their quotient, well inside the normal numbers. */
export const LARGEST_EXPONENT = 50;
export const LEAST_PRICE = 1e-90;
export const LARGEST_PRICE = 1e90;
/** Beyond it exp(-d^2 / 2) comes near the smallest numbers. */
const LARGEST_SCORE = 36;
const HALF_SQRT_HALF = 0.5 * Math.SQRT1_2;
export const TWO_OVER_SQRT_TWO_PI = 0.7978845608028654;

/** Columns of a block and the tables together stay in the first-level cache. */
export const BLOCK = 256;
export const A = new Float64Array(BLOCK);
export const B = new Float64Array(BLOCK);
/** ln(a / b) of the rows of small deviation, where rounding in a and b would be too large a part of it. */
export const LOG_MONEYNESS = new Float64Array(BLOCK);
export const DEVIATION = new Float64Array(BLOCK);
export const D1 = new Float64Array(BLOCK);
export const HALF_DENSITY = new Float64Array(BLOCK);
/** Rows of the block, counted from its start, that the general functions write. */
export const GENERAL = new Int32Array(2 * BLOCK);

/** d1 of the block's rows. @param general rows that are in `GENERAL` already @returns how many are then */
export function scorePass(count: number, general: number): number {
  for (let j = 0; j < count; j++) {
    const s = DEVIATION[j];
    const x = s < SMALL_DEVIATION ? LOG_MONEYNESS[j] : tableLog(A[j] / B[j]);
    const d1 = x / s + 0.5 * s;
    if (d1 < LARGEST_SCORE && d1 - s > -LARGEST_SCORE) D1[j] = d1;
    else {
      D1[j] = 0;
      GENERAL[general++] = j;
    }
  }
  return general;
}

/** a exp(-d1^2 / 2) / 2 of the block's rows. */
export function densityPass(count: number): void {
  for (let j = 0; j < count; j++) {
    const d1 = D1[j];
    HALF_DENSITY[j] = 0.5 * A[j] * tableExp(-0.5 * d1 * d1);
  }
}

/** Writes the prices of the block's rows of small deviation again. */
export function smallDeviationPass(
  { isCall }: { isCall: Uint8Array | 0 | 1 },
  from: number,
  count: number,
  out: Float64Array,
) {
  for (let j = 0; j < count; j++) {
    const s = DEVIATION[j];
    if (s >= SMALL_DEVIATION) continue;
    const h = Math.abs(D1[j] - 0.5 * s);
    const timeValue = HALF_DENSITY[j] * tableErfcxDifference(h * Math.SQRT1_2, s * HALF_SQRT_HALF);
    const sign = 2 * (typeof isCall === 'number' ? isCall : isCall[from + j]) - 1;
    out[from + j] = Math.max(sign * (A[j] - B[j]), 0) + timeValue;
  }
}

/** One row of columns named as the Greeks. */
export function writeRow(out: Partial<Record<keyof Greeks, Float64Array>>, i: number, greeks: Greeks): void {
  for (const [name, column] of Object.entries(out)) column[i] = greeks[name as keyof Greeks];
}
