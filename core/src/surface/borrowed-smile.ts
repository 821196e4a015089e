import { type Smile, smileVolatility } from './smile.ts';

/** How a smile is taken over from another expiry. */
export interface Borrowing {
  /**
   * `shape`: the donor's volatility over its own at the money, by standardized distance ln(K / F) / (at the money x
   * root of time), on the borrower's at the money; `total`: the donor's volatility itself, by ln(K / F)
   */
  kind: 'shape' | 'total';
  /** The borrower's at-the-money volatility; read only for `shape` */
  atm: number;
  /** Added to the volatility */
  shift: number;
  /** ln of a ratio of the underlyings: the borrower's strike is sought that much higher in the donor's smile */
  logRatio: number;
}

/** Lowest volatility that a shift may leave: a tenth of a point. */
const LEAST_VOLATILITY = 0.001;

/** The smile of another expiry, of the same or another underlying, as the borrower's. */
export function borrowedSmile(donor: Smile, timeToExpiry: number, o: Borrowing): Smile {
  const donorAtm = smileVolatility(donor, 0);
  const isShape = o.kind === 'shape';
  const factor = isShape ? o.atm / donorAtm : 1;
  // From the borrower's log-moneyness to the donor's.
  const stretch = isShape ? (donorAtm * Math.sqrt(donor.timeToExpiry)) / (o.atm * Math.sqrt(timeToExpiry)) : 1;
  const at = (k: number) => {
    const x = stretch * (k + o.logRatio);
    const v = smileVolatility(donor, x);
    const slope = donor.slope(x) / (2 * donor.timeToExpiry * v);
    const curvature = donor.curvature(x) / (2 * donor.timeToExpiry * v) - (slope * slope) / v;
    return {
      volatility: Math.max(LEAST_VOLATILITY, factor * v + o.shift),
      slope: factor * stretch * slope,
      curvature: factor * stretch * stretch * curvature,
    };
  };
  return {
    timeToExpiry,
    totalVariance: (k) => at(k).volatility ** 2 * timeToExpiry,
    slope: (k) => {
      const { volatility, slope } = at(k);
      return 2 * timeToExpiry * volatility * slope;
    },
    curvature: (k) => {
      const { volatility, slope, curvature } = at(k);
      return 2 * timeToExpiry * (slope * slope + volatility * curvature);
    },
  };
}

/** Shift that brings a smile nearest to some quotes, weighted with the inverse square of their half width; 0 without any. */
export function fittedShift(
  smile: Smile,
  quotes: { logMoneyness: number; volatility: number; halfWidth: number }[],
): number {
  let sum = 0;
  let total = 0;
  for (const { logMoneyness, volatility, halfWidth } of quotes) {
    const weight = halfWidth ** -2;
    sum += weight * (volatility - smileVolatility(smile, logMoneyness));
    total += weight;
  }
  return total > 0 ? sum / total : 0;
}
