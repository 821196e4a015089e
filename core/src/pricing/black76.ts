import { logRatio, normalCdf, normalDensity } from '../math/index.ts';
import { blackPriceKernel } from './black-kernel.ts';
import type { Greeks } from './greeks.ts';
import { requireRange } from './require-range.ts';
import { blackScholesMertonGreeks } from './black-scholes-merton.ts';
import { type Side, sideSign } from './side.ts';

export interface Black76Input {
  side: Side;
  /** Forward or futures price, > 0 */
  forward: number;
  /** Same currency as forward, > 0 */
  strike: number;
  /** Years, >= 0 */
  timeToExpiry: number;
  /** Per year, decimal, >= 0 */
  volatility: number;
  /** Value today of 1 paid at expiry, > 0 */
  discountFactor: number;
}

function check(o: Black76Input): void {
  requireRange('forward', o.forward, { above: 0 });
  requireRange('strike', o.strike, { above: 0 });
  requireRange('timeToExpiry', o.timeToExpiry, { minimum: 0 });
  requireRange('volatility', o.volatility, { minimum: 0 });
  requireRange('discountFactor', o.discountFactor, { above: 0 });
}

/**
 * Price today of a European option on a forward.
 * @param o see {@link Black76Input} for units and ranges
 * @throws RangeError outside the ranges, or for a number that is not finite
 * @see Black, F. (1976). The pricing of commodity contracts. Journal of Financial Economics 3(1-2), 167-179.
 * @example black76Price({ side: 'call', forward: 100, strike: 100, timeToExpiry: 1, volatility: 0.2, discountFactor: 1 }) // 7.9656
 */
export function black76Price(o: Black76Input): number {
  check(o);
  return (
    o.discountFactor *
    blackPriceKernel(
      sideSign(o.side),
      o.forward,
      o.strike,
      logRatio(o.forward, o.strike),
      o.volatility * Math.sqrt(o.timeToExpiry),
    )
  );
}

/**
 * dPrice / d volatility (per 1.00) of an option on a forward; the same for call and put.
 * @throws RangeError outside the ranges of {@link Black76Input}
 */
export function black76Vega(o: Omit<Black76Input, 'side'>): number {
  check({ ...o, side: 'call' });
  const s = o.volatility * Math.sqrt(o.timeToExpiry);
  const d1 = logRatio(o.forward, o.strike) / s + 0.5 * s;
  return s > 0 ? o.discountFactor * o.forward * normalDensity(d1) * Math.sqrt(o.timeToExpiry) : 0;
}

/**
 * Delta on the forward, undiscounted: N(d1) of a call, N(d1) - 1 of a put. The delta of the smile's delta axis.
 * @throws RangeError outside the ranges of {@link Black76Input}
 */
export function forwardDelta(o: Omit<Black76Input, 'discountFactor'>): number {
  check({ ...o, discountFactor: 1 });
  const s = o.volatility * Math.sqrt(o.timeToExpiry);
  const sign = sideSign(o.side);
  const x = logRatio(o.forward, o.strike);
  const d1 = s > 0 ? x / s + 0.5 * s : x === 0 ? 0 : Infinity * Math.sign(x);
  return sign * normalCdf(sign * d1);
}

/**
 * Price and Greeks of a European option on a futures price, which stays fixed when the rate moves (rho = -T V); theta
 * and charm include the discounting.
 * @param o.rate per year, continuously compounded; the other fields as in {@link Black76Input}
 * @throws RangeError outside the ranges, or for a number that is not finite
 */
export function black76Greeks(o: Omit<Black76Input, 'discountFactor'> & { rate: number }): Greeks {
  // A futures price behaves as a spot whose yield equals the rate; only the rate sensitivity differs.
  const greeks = blackScholesMertonGreeks({
    side: o.side,
    spot: o.forward,
    strike: o.strike,
    timeToExpiry: o.timeToExpiry,
    rate: o.rate,
    dividendYield: o.rate,
    volatility: o.volatility,
  });
  return { ...greeks, rho: -o.timeToExpiry * greeks.price, dividendRho: 0 };
}
