import { type Complex, lawOfCharacteristic } from './characteristic.ts';
import { jumpCharacteristic, type Jumps, jumpVariance } from './jumps.ts';
import type { Law } from './law.ts';

/** Variance that reverts to its mean, with its own noise. */
export interface Heston {
  /** Variance now and in the long run, per year */
  now: number;
  mean: number;
  /** Speed of reversion, per year */
  reversion: number;
  /** Volatility of variance */
  noise: number;
  /** Of the noise with that of the price */
  correlation: number;
}

/**
 * Stochastic variance, with jumps where given (Bates).
 * @see Heston, S. L. (1993). A closed-form solution for options with stochastic volatility. Review of Financial Studies 6(2),
 *   327-343. In the form without branch cuts of Albrecher, H., Mayer, P., Schoutens, W. & Tistaert, J. (2007). The little
 *   Heston trap. Wilmott Magazine, January, 83-92.
 * @see Bates, D. S. (1996). Jumps and stochastic volatility. Review of Financial Studies 9(1), 69-107.
 */
export function heston(o: Heston, jumps?: Jumps): Law {
  const log = (z: Complex, time: number): Complex => {
    const plain = hestonCharacteristic(o, z, time);
    if (!jumps) return plain;
    const jump = jumpCharacteristic(jumps, z, time);
    return [plain[0] + jump[0], plain[1] + jump[1]];
  };
  const meanVariance = (time: number) =>
    o.mean * time + (o.now - o.mean) * (-Math.expm1(-o.reversion * time) / o.reversion);
  return lawOfCharacteristic(log, {
    variance: (time) => meanVariance(time) + (jumps ? jumpVariance(jumps) * time : 0),
    decay: (time) => ((o.now + o.reversion * o.mean * time) / o.noise) * Math.sqrt(1 - o.correlation * o.correlation),
  });
}

// Symbols of Albrecher et al.: kappa reversion, theta mean, sigma noise, rho correlation, d and g as there.
function hestonCharacteristic(o: Heston, z: Complex, T: number): Complex {
  const { reversion: kappa, mean: theta, noise: sigma, correlation: rho, now: v0 } = o;
  const iz: Complex = [-z[1], z[0]];
  const beta: Complex = [kappa - rho * sigma * iz[0], -rho * sigma * iz[1]];
  const zz = times(z, z);
  // d = sqrt(beta^2 + sigma^2 (i z + z^2))
  const d = root(plus(times(beta, beta), scaled(plus(iz, zz), sigma * sigma)));
  const minus = less(beta, d);
  const g = over(minus, plus(beta, d));
  const e = exp(scaled(d, -T));
  const ge = times(g, e);
  const one: Complex = [1, 0];
  const logTerm = ln(over(less(one, ge), less(one, g)));
  const a = scaled(less(scaled(minus, T), scaled(logTerm, 2)), (kappa * theta) / (sigma * sigma));
  const b = scaled(times(minus, over(less(one, e), less(one, ge))), v0 / (sigma * sigma));
  return plus(a, b);
}

const plus = (a: Complex, b: Complex): Complex => [a[0] + b[0], a[1] + b[1]];
const less = (a: Complex, b: Complex): Complex => [a[0] - b[0], a[1] - b[1]];
const scaled = (a: Complex, s: number): Complex => [a[0] * s, a[1] * s];
const times = (a: Complex, b: Complex): Complex => [a[0] * b[0] - a[1] * b[1], a[0] * b[1] + a[1] * b[0]];
function over(a: Complex, b: Complex): Complex {
  const size = b[0] * b[0] + b[1] * b[1];
  return [(a[0] * b[0] + a[1] * b[1]) / size, (a[1] * b[0] - a[0] * b[1]) / size];
}
function root([x, y]: Complex): Complex {
  const size = Math.hypot(x, y);
  const re = Math.sqrt(0.5 * (size + x));
  return [re, Math.sign(y || 1) * Math.sqrt(0.5 * (size - x))];
}
function exp([x, y]: Complex): Complex {
  const size = Math.exp(x);
  return [size * Math.cos(y), size * Math.sin(y)];
}
function ln([x, y]: Complex): Complex {
  return [Math.log(Math.hypot(x, y)), Math.atan2(y, x)];
}
