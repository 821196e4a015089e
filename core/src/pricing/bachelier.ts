import { normalCdf, normalCdfOverDensity, normalDensity, normalMomentRatio } from '../math/index.ts';
import type { Greeks } from './greeks.ts';
import { requireRange } from './require-range.ts';
import { type Side, sideSign } from './side.ts';

export interface BachelierInput {
  side: Side;
  /** Forward or futures price, any sign */
  forward: number;
  /** Any sign */
  strike: number;
  /** Years, >= 0 */
  timeToExpiry: number;
  /** Per year, continuously compounded, for discounting */
  rate: number;
  /** Price units per square root of a year, >= 0 */
  normalVolatility: number;
}

function check(o: BachelierInput): void {
  requireRange('forward', o.forward);
  requireRange('strike', o.strike);
  requireRange('timeToExpiry', o.timeToExpiry, { minimum: 0 });
  requireRange('rate', o.rate);
  requireRange('normalVolatility', o.normalVolatility, { minimum: 0 });
}

/** Distance in deviations beyond which nothing is left of the density, while its square is still a number. */
const FARTHEST = 1e10;

/** Undiscounted out-of-the-money value s n(d) (1 + d Y(d)) for d <= 0, d = -|forward - strike| / s. */
function timeValue(d: number, s: number): number {
  return s * normalDensity(d) * normalSlope(d);
}

/** 1 + d Y(d), Y = N / n, for d <= 0: the first derivative of Y, by its ratio to Y where the sum would cancel. */
function normalSlope(d: number): number {
  const y = normalCdfOverDensity(d);
  return d > -2 ? 1 + d * y : y * normalMomentRatio(d, 1);
}

/**
 * Price today of a European option under the normal model.
 * @throws RangeError outside the ranges of {@link BachelierInput}
 * @see Bachelier, L. (1900). Théorie de la spéculation. Annales scientifiques de l'É.N.S. 17, 21-86.
 */
export function bachelierPrice(o: BachelierInput): number {
  check(o);
  const s = o.normalVolatility * Math.sqrt(o.timeToExpiry);
  const moneyness = sideSign(o.side) * (o.forward - o.strike);
  const value = s > 0 ? timeValue(-Math.min(Math.abs(moneyness) / s, FARTHEST), s) : 0;
  return Math.exp(-o.rate * o.timeToExpiry) * (Math.max(moneyness, 0) + value);
}

/**
 * Price and Greeks under the normal model, the forward held fixed. Vega and its kin are per 1.00 of normal volatility.
 * With zero time or volatility the limits of the discounted intrinsic value.
 * @throws RangeError outside the ranges of {@link BachelierInput}
 */
export function bachelierGreeks(o: BachelierInput): Greeks {
  const price = bachelierPrice(o);
  const { timeToExpiry: T, rate: r, normalVolatility: v } = o;
  const sign = sideSign(o.side);
  const discount = Math.exp(-r * T);
  const s = v * Math.sqrt(T);
  const moneyness = o.forward - o.strike;
  const d =
    s > 0
      ? Math.max(-FARTHEST, Math.min(FARTHEST, moneyness / s))
      : moneyness === 0
        ? 0
        : Math.sign(moneyness) * Infinity;
  const probabilityItm = normalCdf(sign * d);
  const density = discount * normalDensity(d);
  const delta = sign * discount * probabilityItm;
  const certain = !(s > 0);
  const gamma = certain ? (d === 0 ? Infinity : 0) : density / s;
  const dPerTime = certain ? 0 : -d / (2 * T);
  return {
    price,
    delta,
    gamma,
    vega: density * Math.sqrt(T),
    theta: r * price - (T > 0 ? (density * v) / (2 * Math.sqrt(T)) : d === 0 && v > 0 ? Infinity : 0),
    rho: -T * price,
    dividendRho: 0,
    dualDelta: -delta,
    vanna: certain ? 0 : (-density * d) / v,
    volga: certain ? 0 : (density * Math.sqrt(T) * d * d) / v,
    charm: r * delta - density * dPerTime,
    speed: certain ? 0 : (-gamma * d) / s,
    zomma: certain ? 0 : (gamma * (d * d - 1)) / v,
    color: certain ? gamma : gamma * (r + 1 / (2 * T) + d * dPerTime),
    probabilityItm,
  };
}
