import { logRatio, normalCdf, normalDensity } from '../math/index.ts';
import { blackPriceKernel } from './black-kernel.ts';
import type { Greeks } from './greeks.ts';
import { requireRange } from './require-range.ts';
import { type Side, sideSign } from './side.ts';

export interface BlackScholesMertonInput {
  side: Side;
  /** Price of the underlying today, > 0 */
  spot: number;
  /** Same currency as spot, > 0 */
  strike: number;
  /** Years, >= 0 */
  timeToExpiry: number;
  /** Per year, continuously compounded, decimal */
  rate: number;
  /** Per year, continuously compounded, decimal: dividend yield, or the foreign rate of a currency pair */
  dividendYield: number;
  /** Per year, decimal (0.2 is 20 %), >= 0 */
  volatility: number;
}

function check(o: BlackScholesMertonInput): void {
  requireRange('spot', o.spot, { above: 0 });
  requireRange('strike', o.strike, { above: 0 });
  requireRange('timeToExpiry', o.timeToExpiry, { minimum: 0 });
  requireRange('rate', o.rate);
  requireRange('dividendYield', o.dividendYield);
  requireRange('volatility', o.volatility, { minimum: 0 });
}

/**
 * Price today of a European option on an underlying that pays a continuous yield.
 * Relative error max(1e-12, 2e-15 (1 + d1^2)); with zero time or volatility the discounted intrinsic value.
 * @param o see {@link BlackScholesMertonInput} for units and ranges
 * @throws RangeError outside the ranges, or for a number that is not finite
 * @see Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183.
 * @example blackScholesMertonPrice({ side: 'call', spot: 42, strike: 40, timeToExpiry: 0.5, rate: 0.1, dividendYield: 0, volatility: 0.2 }) // 4.7594
 */
export function blackScholesMertonPrice(o: BlackScholesMertonInput): number {
  check(o);
  const time = o.timeToExpiry;
  const x = logRatio(o.spot, o.strike) + (o.rate - o.dividendYield) * time;
  return blackPriceKernel(
    sideSign(o.side),
    o.spot * Math.exp(-o.dividendYield * time),
    o.strike * Math.exp(-o.rate * time),
    x,
    o.volatility * Math.sqrt(time),
  );
}

/**
 * Price and Greeks of a European option on an underlying that pays a continuous yield.
 * With zero time or volatility the limits are returned: second derivatives are 0 away from the forward-strike kink and
 * not finite on it.
 * @throws RangeError outside the ranges of {@link BlackScholesMertonInput}, or for a number that is not finite
 * @see Haug, E. G. (2007). The Complete Guide to Option Pricing Formulas, 2nd ed., chapter 2 (definitions and formulas;
 *   theta, charm and color here are changes as calendar time passes, the negative of d/dT).
 */
export function blackScholesMertonGreeks(o: BlackScholesMertonInput): Greeks {
  check(o);
  const { spot: S, strike: K, timeToExpiry: T, rate: r, dividendYield: q, volatility: v } = o;
  const sign = sideSign(o.side);
  const forwardFactor = Math.exp(-q * T);
  const discount = Math.exp(-r * T);
  const x = logRatio(S, K) + (r - q) * T;
  const s = v * Math.sqrt(T);
  const price = blackPriceKernel(sign, S * forwardFactor, K * discount, x, s);
  if (!(s > 0)) return certainGreeks({ sign, S, K, T, r, q, x, price, forwardFactor, discount });
  const d1 = x / s + 0.5 * s;
  const d2 = x / s - 0.5 * s;
  const spotProbability = normalCdf(sign * d1);
  const probabilityItm = normalCdf(sign * d2);
  const density = forwardFactor * normalDensity(d1);
  // d d1 / dT, the drift of moneyness in charm and color.
  const d1PerTime = (2 * (r - q) * T - d2 * s) / (2 * T * s);
  const gamma = density / (S * s);
  const vega = S * density * Math.sqrt(T);
  return {
    price,
    delta: sign * forwardFactor * spotProbability,
    gamma,
    vega,
    theta:
      (-S * density * v) / (2 * Math.sqrt(T)) +
      sign * (q * S * forwardFactor * spotProbability - r * K * discount * probabilityItm),
    rho: sign * K * T * discount * probabilityItm,
    dividendRho: -sign * S * T * forwardFactor * spotProbability,
    dualDelta: -sign * discount * probabilityItm,
    vanna: (-density * d2) / v,
    volga: (vega * d1 * d2) / v,
    charm: sign * q * forwardFactor * spotProbability - density * d1PerTime,
    speed: (-gamma / S) * (d1 / s + 1),
    zomma: (gamma * (d1 * d2 - 1)) / v,
    color: gamma * (q + 1 / (2 * T) + d1 * d1PerTime),
    probabilityItm,
  };
}

/** Limits as volatility x sqrt(time) goes to 0: the option is its discounted intrinsic value. */
function certainGreeks(o: {
  sign: number;
  S: number;
  K: number;
  T: number;
  r: number;
  q: number;
  x: number;
  price: number;
  forwardFactor: number;
  discount: number;
}): Greeks {
  const { sign, S, K, T, r, q, forwardFactor, discount } = o;
  const moneyness = sign * o.x;
  // On the kink itself the one-sided limits are 0 and 1; their mean is the limit from positive volatility.
  const exercised = moneyness > 0 ? 1 : moneyness < 0 ? 0 : 0.5;
  const kink = moneyness === 0 ? Infinity : 0;
  return {
    price: o.price,
    delta: sign * forwardFactor * exercised,
    gamma: kink,
    vega: moneyness === 0 ? S * forwardFactor * normalDensity(0) * Math.sqrt(T) : 0,
    theta: moneyness === 0 && T === 0 ? -Infinity : sign * exercised * (q * S * forwardFactor - r * K * discount),
    rho: sign * K * T * discount * exercised,
    dividendRho: -sign * S * T * forwardFactor * exercised,
    dualDelta: -sign * discount * exercised,
    vanna: 0,
    volga: 0,
    charm: sign * q * forwardFactor * exercised,
    speed: 0,
    zomma: moneyness === 0 ? -Infinity : 0,
    color: kink,
    probabilityItm: exercised,
  };
}
