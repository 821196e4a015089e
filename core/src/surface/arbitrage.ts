import { durrleman, type Smile } from './smile.ts';

/** Points at which a smile is looked at over a range. */
const GRID_POINTS = 60;
/** g is a difference of terms near 1: rounding, not arbitrage, below this. */
const BUTTERFLY_TOLERANCE = 1e-9;
/** Relative, on total variance: crossings below this are rounding of the fit. */
const CALENDAR_TOLERANCE = 1e-9;
/** Beyond its quotes a smile is looked at over this share of their range. */
const OUTER_SHARE = 0.25;
/** Total variance may not rise faster than this with log-moneyness. */
export const STEEPEST_WING = 2;

/** Points from the lower to the upper end of a range. */
export function gridOf([low, high]: readonly [number, number]): Float64Array {
  const grid = new Float64Array(GRID_POINTS + 1);
  for (let i = 0; i <= GRID_POINTS; i++) grid[i] = low + ((high - low) * i) / GRID_POINTS;
  return grid;
}

/** The range a smile must be free of butterfly arbitrage in: its quotes' and a quarter of it on either side. */
export function outerRange([low, high]: readonly [number, number]): [number, number] {
  const reach = OUTER_SHARE * (high - low);
  return [low - reach, high + reach];
}

/** The range two smiles were both fitted in; undefined when there is none. */
export function commonRange(a: readonly [number, number], b: readonly [number, number]): [number, number] | undefined {
  const range: [number, number] = [Math.max(a[0], b[0]), Math.min(a[1], b[1])];
  return range[0] < range[1] ? range : undefined;
}

/**
 * Log-moneynesses of a grid at which a smile admits butterfly arbitrage.
 * @see Gatheral, J. & Jacquier, A. (2014). Arbitrage-free SVI volatility surfaces. Quantitative Finance 14(1), 59-71,
 *   lemma 2.2.
 */
export function butterflyArbitrage(smile: Smile, range: readonly [number, number]): number[] {
  const found: number[] = [];
  for (const k of gridOf(range)) {
    if (!(smile.totalVariance(k) > 0) || !(durrleman(smile, k) >= -BUTTERFLY_TOLERANCE)) found.push(k);
  }
  return found;
}

/** Log-moneynesses of a grid at which the farther smile's total variance lies below the nearer's (their lemma 2.1). */
export function calendarArbitrage(near: Smile, far: Smile, range: readonly [number, number]): number[] {
  const found: number[] = [];
  for (const k of gridOf(range)) {
    if (far.totalVariance(k) < near.totalVariance(k) * (1 - CALENDAR_TOLERANCE)) found.push(k);
  }
  return found;
}
