import { logRatio, normalCdf, normalDensity } from '../math/index.ts';
import { blackPriceKernel } from './black-kernel.ts';
import type { EuropeanColumns } from './european-columns.ts';
import type { Greeks } from './greeks.ts';

/*
 * Price and Greeks that hold for every input in range: tiny and huge deviations, far wings, prices from 1e-300 to 1e300.
 * About ten times slower than the batch kernel, which comes here for the rows outside its limits. Unchecked.
 */

/** Price of row i. */
export function generalEuropeanPrice(c: EuropeanColumns, i: number): number {
  const time = c.timeToExpiry[i];
  return blackPriceKernel(
    c.isCall[i] !== 0 ? 1 : -1,
    c.spot[i] * Math.exp(-c.dividendYield[i] * time),
    c.strike[i] * Math.exp(-c.rate[i] * time),
    logRatio(c.spot[i], c.strike[i]) + (c.rate[i] - c.dividendYield[i]) * time,
    c.volatility[i] * Math.sqrt(time),
  );
}

/**
 * Price and all Greeks of row i; with zero time or volatility their limits: second derivatives are 0 away from the kink
 * at the forward and not finite on it.
 */
export function generalEuropeanGreeks(c: EuropeanColumns, i: number): Greeks {
  const S = c.spot[i];
  const K = c.strike[i];
  const T = c.timeToExpiry[i];
  const r = c.rate[i];
  const q = c.dividendYield[i];
  const v = c.volatility[i];
  const sign = c.isCall[i] !== 0 ? 1 : -1;
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
