import type { Smile } from './smile.ts';

/** How a smile goes along when the underlying moves. */
export type SmileMovement =
  | { kind: 'sticky-strike' }
  | { kind: 'sticky-moneyness' }
  | { kind: 'sticky-local-volatility' }
  /** Skew-stickiness ratio measured from history */
  | { kind: 'empirical'; ratio: number };

/**
 * Skew-stickiness ratio: by how many times the skew at the money the at-the-money volatility moves when ln(forward)
 * does. 0 keeps volatility by moneyness, 1 by strike; local volatility gives about 2 for short expiries.
 * @see Bergomi, L. (2016). Stochastic Volatility Modeling, chapter 9 (the ratio and its values).
 */
export function skewStickinessRatio(movement: SmileMovement): number {
  switch (movement.kind) {
    case 'sticky-moneyness':
      return 0;
    case 'sticky-strike':
      return 1;
    case 'sticky-local-volatility':
      return 2;
    case 'empirical':
      return movement.ratio;
  }
}

/**
 * The smile after a move of the underlying: w'(k) = w(k + R h), exact for sticky strike and moneyness, first order in
 * the move for the others.
 * @param logMove ln(forward after / forward before)
 */
export function movedSmile(smile: Smile, movement: SmileMovement, logMove: number): Smile {
  const shift = skewStickinessRatio(movement) * logMove;
  return {
    timeToExpiry: smile.timeToExpiry,
    totalVariance: (k) => smile.totalVariance(k + shift),
    slope: (k) => smile.slope(k + shift),
    curvature: (k) => smile.curvature(k + shift),
  };
}

/**
 * Skew-stickiness ratio of a history: slope of daily changes of at-the-money volatility on skew times log return,
 * through the origin.
 * @param days ascending; skew is d volatility / d ln(strike) at the money
 * @returns NaN with fewer than ten changes or without any skew
 */
export function empiricalStickiness(days: { price: number; atm: number; skew: number }[]): number {
  let product = 0;
  let square = 0;
  let count = 0;
  for (let i = 1; i < days.length; i++) {
    const x = days[i - 1].skew * Math.log(days[i].price / days[i - 1].price);
    const y = days[i].atm - days[i - 1].atm;
    if (!Number.isFinite(x) || !Number.isFinite(y)) continue;
    product += x * y;
    square += x * x;
    count++;
  }
  return count >= 10 && square > 0 ? product / square : NaN;
}
