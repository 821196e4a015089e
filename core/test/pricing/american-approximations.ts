import { blackScholesMertonPrice, type Side } from '../../src/pricing/index.ts';
import { normalCdf } from '../../src/math/index.ts';

/** Inputs of a printed example. */
export interface AmericanExample {
  side: Side;
  spot: number;
  strike: number;
  timeToExpiry: number;
  rate: number;
  dividendYield: number;
  volatility: number;
}

/** Binomial price with exercise at `dates` equally spaced dates, 40 steps between two of them. */
export function bermudanPrice(o: AmericanExample, dates: number): number {
  const between = 40;
  const steps = dates * between;
  const step = o.timeToExpiry / steps;
  const up = Math.exp(o.volatility * Math.sqrt(step));
  const p = (Math.exp((o.rate - o.dividendYield) * step) - 1 / up) / (up - 1 / up);
  const discount = Math.exp(-o.rate * step);
  const sign = o.side === 'call' ? 1 : -1;
  const powers = Float64Array.from({ length: 2 * steps + 1 }, (_, i) => o.spot * up ** (i - steps));
  const exercise = (n: number, ups: number) => Math.max(sign * (powers[2 * ups - n + steps] - o.strike), 0);
  const values = Float64Array.from({ length: steps + 1 }, (_, ups) => exercise(steps, ups));
  for (let n = steps - 1; n >= 0; n--) {
    const isDate = n > 0 && n % between === 0;
    for (let ups = 0; ups <= n; ups++) {
      values[ups] = discount * (p * values[ups + 1] + (1 - p) * values[ups]);
      if (isDate) values[ups] = Math.max(values[ups], exercise(n, ups));
    }
  }
  return values[0];
}

/**
 * @see Barone-Adesi, G. & Whaley, R. E. (1987). Efficient analytic approximation of American option values. Journal of
 *   Finance 42(2), 301-320.
 */
export function baroneAdesiWhaleyPrice(o: AmericanExample): number {
  const sign = o.side === 'call' ? 1 : -1;
  const { strike: K, timeToExpiry: T, rate: r, dividendYield: q, volatility: v } = o;
  const n = (2 * (r - q)) / v ** 2;
  const k = (2 * r) / (v ** 2 * (1 - Math.exp(-r * T)));
  const exponent = (-(n - 1) + sign * Math.sqrt((n - 1) ** 2 + 4 * k)) / 2;
  const d1 = (S: number) => (Math.log(S / K) + (r - q + v ** 2 / 2) * T) / (v * Math.sqrt(T));
  const slopeLost = (S: number) => 1 - Math.exp(-q * T) * normalCdf(sign * d1(S));
  const gap = (S: number) =>
    sign * (S - K) - blackScholesMertonPrice({ ...o, spot: S }) - (sign * slopeLost(S) * S) / exponent;
  let [held, exercised] = sign > 0 ? [K, 20 * K] : [K, 1e-3 * K];
  for (let round = 0; round < 200; round++) {
    const middle = 0.5 * (held + exercised);
    if (gap(middle) > 0) exercised = middle;
    else held = middle;
  }
  if (sign * (o.spot - held) >= 0) return sign * (o.spot - K);
  const premium = (sign * held * slopeLost(held)) / exponent;
  return blackScholesMertonPrice(o) + premium * (o.spot / held) ** exponent;
}

/**
 * One flat boundary, for calls.
 * @see Bjerksund, P. & Stensland, G. (1993). Closed-form approximation of American options. Scandinavian Journal of
 *   Management 9, S87-S99.
 */
export function bjerksundStensland1993Price(o: AmericanExample): number {
  const { spot: S, strike: K, timeToExpiry: T, rate: r, dividendYield: q, volatility: v } = o;
  const b = r - q;
  const beta = 0.5 - b / v ** 2 + Math.sqrt((b / v ** 2 - 0.5) ** 2 + (2 * r) / v ** 2);
  const far = (beta / (beta - 1)) * K;
  const near = Math.max(K, (r / q) * K);
  const reach = -(b * T + 2 * v * Math.sqrt(T)) * (near / (far - near));
  const X = near + (far - near) * (1 - Math.exp(reach));
  if (S >= X) return S - K;
  const phi = (gamma: number, H: number) => {
    const lambda = -r + gamma * b + 0.5 * gamma * (gamma - 1) * v ** 2;
    const d = -(Math.log(S / H) + (b + (gamma - 0.5) * v ** 2) * T) / (v * Math.sqrt(T));
    const kappa = (2 * b) / v ** 2 + 2 * gamma - 1;
    const shifted = d - (2 * Math.log(X / S)) / (v * Math.sqrt(T));
    return Math.exp(lambda * T) * S ** gamma * (normalCdf(d) - (X / S) ** kappa * normalCdf(shifted));
  };
  const alpha = (X - K) * X ** -beta;
  return alpha * S ** beta - alpha * phi(beta, X) + phi(1, X) - phi(1, K) - K * phi(0, X) + K * phi(0, K);
}
