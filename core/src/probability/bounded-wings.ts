import { durrleman, type Smile } from '../surface/index.ts';

/** Steepest wing of total variance: Lee's bound is 2, where the moments of the price of order one are lost. */
export const STEEPEST_TAIL = 1.9;
/** A wing is looked at as far as this many deviations of d2 from the forward ... */
const FARTHEST = 8;
/** ... or this far in log-moneyness, where a steep one never gets there, in steps that grow by this factor. */
const FARTHEST_MONEYNESS = 60;
const GROWTH = 1.05;
/** First step beyond the quotes, deviations at the money. */
const FIRST_STEP = 0.02;
/** Below zero only by rounding. */
const ROUNDING = 1e-9;
/** Slopes that a wing settles to, shares of that at the quotes' end, and lengths over which it does, deviations at the money. */
const SETTLED = [1, 0.75, 0.5, 0.25, 0];
const LENGTHS = [2, 1, 0.5, 0.25, 0.1];

/** How a smile goes on beyond its quotes. */
export type WingRule =
  /** As its own formula says: free of arbitrage, and no steeper than 1.9 */
  | 'own'
  /** From the last quote on, its slope settling to one that allows no arbitrage */
  | 'settling'
  /** No rule leaves it free of arbitrage: its slope settles to 0 */
  | 'arbitrage';

export interface BoundedSmile {
  smile: Smile;
  /** Below and above the quotes */
  wings: readonly [WingRule, WingRule];
}

/**
 * A smile whose wings allow no arbitrage: between its quotes as it is; beyond them its own formula where that is free of
 * arbitrage and no steeper than 1.9, else from the last quote on with its value and slope there, the slope settling to a share of
 * it (from all of it down to none; to none where it points down) as fast as it must for the density not to be negative.
 * @param range log-moneyness of the lowest and the highest quote
 * @see Lee, R. W. (2004). The moment formula for implied volatility at extreme strikes. Mathematical Finance 14(3), 469-480.
 */
export function boundedWings(smile: Smile, range: readonly [number, number]): BoundedSmile {
  const [low, high] = [Math.min(range[0], 0), Math.max(range[1], 0)];
  const [left, leftRule] = wing(smile, low, -1);
  const [right, rightRule] = wing(smile, high, 1);
  if (leftRule === 'own' && rightRule === 'own') return { smile, wings: ['own', 'own'] };
  const at = (k: number) => (k < low ? left : k > high ? right : smile);
  return {
    smile: {
      timeToExpiry: smile.timeToExpiry,
      totalVariance: (k) => at(k).totalVariance(k),
      slope: (k) => at(k).slope(k),
      curvature: (k) => at(k).curvature(k),
    },
    wings: [leftRule, rightRule],
  };
}

function wing(smile: Smile, end: number, side: 1 | -1): [Smile, WingRule] {
  const deviation = Math.sqrt(smile.totalVariance(0));
  if (isSound(smile, end, side)) return [smile, 'own'];
  const slope = side * smile.slope(end);
  const steepest = Math.min(slope, STEEPEST_TAIL);
  for (const share of slope > 0 ? SETTLED : [0]) {
    for (const length of LENGTHS) {
      const settled = settling(smile, { end, side, to: share * steepest, length: length * deviation });
      if (isSound(settled, end, side)) return [settled, 'settling'];
      // A straight line has no length.
      if (share * steepest === slope) break;
    }
  }
  return [settling(smile, { end, side, to: 0, length: LENGTHS[0] * deviation }), 'arbitrage'];
}

interface Settling {
  end: number;
  side: 1 | -1;
  /** Slope outward that it settles to, per unit of log-moneyness */
  to: number;
  /** Log-moneyness over which the difference falls to 1/e */
  length: number;
}

/** A wing with a smile's value and slope at its end: the slope goes exponentially to another. */
function settling(smile: Smile, { end, side, to, length }: Settling): Smile {
  const start = smile.totalVariance(end);
  const excess = side * smile.slope(end) - to;
  // A wing that falls keeps half of what it starts from.
  const reach = excess < 0 ? Math.min(length, start / (2 * -excess)) : length;
  const out = (k: number) => side * (k - end);
  return {
    timeToExpiry: smile.timeToExpiry,
    totalVariance: (k) => start + to * out(k) + excess * reach * -Math.expm1(-out(k) / reach),
    slope: (k) => side * (to + excess * Math.exp(-out(k) / reach)),
    curvature: (k) => (-excess / reach) * Math.exp(-out(k) / reach),
  };
}

/** Whether a wing gives no negative density, and grows no faster than it may. */
function isSound(smile: Smile, end: number, side: 1 | -1): boolean {
  const far = side * FARTHEST_MONEYNESS;
  // Nor does one count that falls to nothing farther out than any mass.
  if (!(smile.totalVariance(far) > 0) || side * smile.slope(far) > STEEPEST_TAIL + ROUNDING) return false;
  let step = FIRST_STEP * Math.sqrt(smile.totalVariance(0));
  for (let k = end + 1e-9 * side; Math.abs(k) < FARTHEST_MONEYNESS; k += side * step, step *= GROWTH) {
    const w = smile.totalVariance(k);
    if (!(w > 0) || durrleman(smile, k) < -ROUNDING) return false;
    const deviation = Math.sqrt(w);
    if (Math.abs(-k / deviation - 0.5 * deviation) > FARTHEST) return true;
  }
  return true;
}
