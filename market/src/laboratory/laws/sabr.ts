import type { Law } from './law.ts';

/**
 * The SABR law by its expansion, on a forward of 1.
 * @param o.alpha volatility of the forward, per year; beta its elasticity; rho correlation; nu volatility of volatility
 * @see Hagan, P. S., Kumar, D., Lesniewski, A. S. & Woodward, D. E. (2002). Managing smile risk. Wilmott Magazine,
 *   September, 84-108, equation 2.17.
 */
export function sabr({ alpha, beta, rho, nu }: { alpha: number; beta: number; rho: number; nu: number }): Law {
  return {
    volatility(logMoneyness, timeToExpiry) {
      const logFK = -logMoneyness;
      const middle = Math.exp(0.5 * (1 - beta) * logMoneyness);
      const c = (1 - beta) * (1 - beta);
      const z = (nu / alpha) * middle * logFK;
      const x = Math.log((Math.sqrt(1 - 2 * rho * z + z * z) + z - rho) / (1 - rho));
      const ratio = Math.abs(z) < 1e-7 ? 1 - 0.5 * rho * z : z / x;
      const wide = 1 + (c / 24) * logFK ** 2 + ((c * c) / 1920) * logFK ** 4;
      const inTime =
        (c * alpha * alpha) / (24 * middle * middle) +
        (rho * beta * nu * alpha) / (4 * middle) +
        ((2 - 3 * rho * rho) * nu * nu) / 24;
      return (alpha / (middle * wide)) * ratio * (1 + inTime * timeToExpiry);
    },
  };
}
