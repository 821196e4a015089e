import { gaussLegendre } from '@umwelt/core/math';
import { black76Price } from '@umwelt/core/pricing';
import type { Law } from './law.ts';
import { lawOfPrices } from './law-of-prices.ts';

/** Complex number as real and imaginary part. */
export type Complex = readonly [number, number];

/** Logarithm of E[exp(i u ln(price / forward))] for complex u; u = v - i/2 is what is asked for. */
export type LogCharacteristic = (u: Complex, timeToExpiry: number) => Complex;

const RULE = gaussLegendre(32);
const PANELS = 24;
/** Deviations of the damped integrand beyond which nothing is left. */
const REACH = 14;

interface Transform {
  /** Points u with their weight, and Re and Im of the damped function there less those of a lognormal's */
  points: { u: number; weight: number; difference: Complex }[];
  volatility: number;
}

/**
 * The law of a characteristic function. Prices by one integral along the line of imaginary part -1/2; what a lognormal of the
 * same variance has there is taken off and its closed form added, so that little is left to integrate.
 * @param o.variance of ln(price / forward) to a time, roughly
 * @param o.decay the function falls at least as exp(-decay u) far out
 * @see Lewis, A. L. (2001). A simple option formula for general jump-diffusion and other exponential Levy processes. Envision
 *   Financial Systems, equation 3.11.
 */
export function lawOfCharacteristic(
  log: LogCharacteristic,
  o: { variance: (timeToExpiry: number) => number; decay: (timeToExpiry: number) => number },
): Law {
  const transforms = new Map<number, Transform>();
  const transformAt = (time: number) => {
    let known = transforms.get(time);
    if (!known) transforms.set(time, (known = transformOf(log, time, o.variance(time), o.decay(time))));
    return known;
  };
  return lawOfPrices((side, strike, time) => {
    const { points, volatility } = transformAt(time);
    const k = Math.log(strike);
    let sum = 0;
    // Re of exp(-i u k) times the difference, over u^2 + 1/4.
    for (const { u, weight, difference } of points) {
      sum += (weight * (Math.cos(u * k) * difference[0] + Math.sin(u * k) * difference[1])) / (u * u + 0.25);
    }
    // Calls and puts differ from the lognormal's by the same.
    const lognormal = { side, forward: 1, strike, timeToExpiry: time, volatility, discountFactor: 1 };
    return black76Price(lognormal) - (Math.sqrt(strike) / Math.PI) * sum;
  });
}

function transformOf(log: LogCharacteristic, time: number, variance: number, decay: number): Transform {
  const end = Math.max(REACH / Math.sqrt(variance), 36 / Math.max(decay, 1e-3));
  const points: Transform['points'] = [];
  // Panels that widen outward: the function varies most near the origin.
  let from = 0;
  for (let panel = 1; panel <= PANELS; panel++) {
    const to = end * (panel / PANELS) ** 2;
    RULE.nodes.forEach((x, i) => {
      const u = 0.5 * (from + to) + 0.5 * (to - from) * x;
      const [re, im] = log([u, -0.5], time);
      const size = Math.exp(re);
      const lognormal = Math.exp(-0.5 * variance * (u * u + 0.25));
      points.push({
        u,
        weight: 0.5 * (to - from) * RULE.weights[i],
        difference: [size * Math.cos(im) - lognormal, size * Math.sin(im)],
      });
    });
    from = to;
  }
  return { points, volatility: Math.sqrt(variance / time) };
}
