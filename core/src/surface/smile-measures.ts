import { findRoot, normalCdf } from '../math/index.ts';
import type { Side } from '../pricing/index.ts';
import { type Smile, smileVolatility } from './smile.ts';

/** Absolute, on log-moneyness: a strike at 100 moves by 1e-10. */
const LOG_MONEYNESS_TOLERANCE = 1e-12;
/** From the money outward one looks for a delta after this many deviations at the money, then in steps growing by so much ... */
const FIRST_STEP = 0.5;
const STEP_GROWTH = 1.3;
/** ... up to this log-moneyness, beyond any strike: steep wings over a low level take a delta far out. */
const FARTHEST = 20;

/**
 * Log-moneyness at which an option of the given side has the given undiscounted forward delta in absolute value.
 * @param delta 0 to 1 exclusive, e.g. 0.25 for the 25-delta put
 * @returns NaN when the smile never reaches that delta
 */
export function logMoneynessAtDelta(smile: Smile, side: Side, delta: number): number {
  // No strike has a delta of 0 or 1, but for rounding.
  if (!(delta > 0 && delta < 1)) return NaN;
  // N(d1) = delta for the call, 1 - delta for the put, with d1 = -k / s + s / 2.
  const target = side === 'call' ? delta : 1 - delta;
  const miss = (k: number) => {
    const s = Math.sqrt(Math.max(smile.totalVariance(k), 1e-16));
    return normalCdf(-k / s + 0.5 * s) - target;
  };
  // A wing that rises steeply far out may come back to a delta: the strike nearest to the money is meant.
  const atMoney = miss(0);
  let step = Math.sign(atMoney) * FIRST_STEP * Math.sqrt(Math.max(smile.totalVariance(0), 1e-16));
  for (let near = 0; step !== 0 && Math.abs(near) < FARTHEST;) {
    const far = near + step;
    if (atMoney * miss(far) <= 0) {
      const [low, high] = [Math.min(near, far), Math.max(near, far)];
      const result = findRoot(miss, { low, high, tolerance: LOG_MONEYNESS_TOLERANCE });
      return result.ok ? result.root : NaN;
    }
    near = far;
    step *= STEP_GROWTH;
  }
  return atMoney === 0 ? 0 : NaN;
}

/** Volatility of the option with the given undiscounted forward delta (absolute value). */
export function volatilityAtDelta(smile: Smile, side: Side, delta: number): number {
  const k = logMoneynessAtDelta(smile, side, delta);
  return Number.isNaN(k) ? NaN : smileVolatility(smile, k);
}

export interface SmileMeasures {
  /** Volatility at strike = forward */
  atm: number;
  /** 25-delta call minus 25-delta put volatility */
  riskReversal25: number;
  /** Mean of the 25-delta volatilities minus at the money */
  butterfly25: number;
  riskReversal10: number;
  butterfly10: number;
  /** d volatility / d ln(strike / forward) at the money */
  slope: number;
  /** The second derivative there */
  curvature: number;
}

/** Level, tilt and bend of a smile in volatility, on undiscounted forward deltas. */
export function smileMeasures(smile: Smile): SmileMeasures {
  const atm = smileVolatility(smile, 0);
  const call25 = volatilityAtDelta(smile, 'call', 0.25);
  const put25 = volatilityAtDelta(smile, 'put', 0.25);
  const call10 = volatilityAtDelta(smile, 'call', 0.1);
  const put10 = volatilityAtDelta(smile, 'put', 0.1);
  return {
    atm,
    riskReversal25: call25 - put25,
    butterfly25: 0.5 * (call25 + put25) - atm,
    riskReversal10: call10 - put10,
    butterfly10: 0.5 * (call10 + put10) - atm,
    ...bendAtTheMoney(smile),
  };
}

/** Measures of a level without shape, as fewer than five quotes give: all but the level are not known. */
export function levelMeasures(atm: number): SmileMeasures {
  const unknown = NaN;
  return {
    atm,
    riskReversal25: unknown,
    butterfly25: unknown,
    riskReversal10: unknown,
    butterfly10: unknown,
    slope: unknown,
    curvature: unknown,
  };
}

/** Derivatives of volatility at the money, from those of total variance: sigma = sqrt(w / T). */
function bendAtTheMoney(smile: Smile): Pick<SmileMeasures, 'slope' | 'curvature'> {
  const w = smile.totalVariance(0);
  const first = smile.slope(0);
  const root = 2 * Math.sqrt(w * smile.timeToExpiry);
  return { slope: first / root, curvature: (smile.curvature(0) - (first * first) / (2 * w)) / root };
}
