/** Inputs of the tree; `exercisesPerStep` 0 prices a European option, 1 an American one. */
export interface TreeInput {
  isCall: boolean;
  isAmerican: boolean;
  spot: number;
  strike: number;
  timeToExpiry: number;
  rate: number;
  dividendYield: number;
  volatility: number;
}

/**
 * Binomial price with an odd number of steps, as a check that shares nothing with the methods under test.
 * @see Leisen, D. & Reimer, M. (1996). Binomial models for option valuation: examining and improving convergence. Applied
 *   Mathematical Finance 3(4), 319-346 (Peizer-Pratt inversion 2).
 */
export function leisenReimerPrice(o: TreeInput, steps: number): number {
  const s = o.volatility * Math.sqrt(o.timeToExpiry);
  const d1 = (Math.log(o.spot / o.strike) + (o.rate - o.dividendYield) * o.timeToExpiry) / s + s / 2;
  const growth = Math.exp(((o.rate - o.dividendYield) * o.timeToExpiry) / steps);
  const p = peizerPratt(d1 - s, steps);
  const up = (growth * peizerPratt(d1, steps)) / p;
  const down = (growth - p * up) / (1 - p);
  return binomialPrice(o, steps, up, down, p);
}

/**
 * The tree of Cox, J. C., Ross, S. A. & Rubinstein, M. (1979). Option pricing: a simplified approach. Journal of
 * Financial Economics 7(3), 229-263, for printed examples made with it.
 */
export function coxRossRubinsteinPrice(o: TreeInput, steps: number): number {
  const up = Math.exp(o.volatility * Math.sqrt(o.timeToExpiry / steps));
  const growth = Math.exp(((o.rate - o.dividendYield) * o.timeToExpiry) / steps);
  return binomialPrice(o, steps, up, 1 / up, (growth - 1 / up) / (up - 1 / up));
}

function binomialPrice(o: TreeInput, steps: number, up: number, down: number, p: number): number {
  const discount = Math.exp((-o.rate * o.timeToExpiry) / steps);
  const sign = o.isCall ? 1 : -1;
  const exercise = (step: number, ups: number) => sign * (o.spot * up ** ups * down ** (step - ups) - o.strike);
  const values = Array.from({ length: steps + 1 }, (_, ups) => Math.max(exercise(steps, ups), 0));
  for (let step = steps - 1; step >= 0; step--) {
    for (let ups = 0; ups <= step; ups++) {
      const held = discount * (p * values[ups + 1] + (1 - p) * values[ups]);
      values[ups] = o.isAmerican ? Math.max(held, exercise(step, ups)) : held;
    }
  }
  return values[0];
}

function peizerPratt(z: number, steps: number): number {
  const t = z / (steps + 1 / 3 + 0.1 / (steps + 1));
  return 0.5 + Math.sign(z) * Math.sqrt(0.25 - 0.25 * Math.exp(-t * t * (steps + 1 / 6)));
}
