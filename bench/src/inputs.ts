import { type EuropeanColumns, europeanColumns, type QuoteColumns } from '@umwelt/core/pricing';

/*
 * The same inputs as the baseline's, equal to the bit: they take only + - * / on draws of one generator. The order of
 * draws matters. See baseline/README.md.
 */

/** Uniform on (0, 1): x <- 1664525 x + 1013904223 mod 2^32, u = (x + 0.5) / 2^32. */
function generator(seed: number): () => number {
  let x = seed >>> 0;
  return () => {
    x = (Math.imul(x, 1664525) + 1013904223) >>> 0;
    return (x + 0.5) / 2 ** 32;
  };
}

export function europeanContracts(count = 100_000): EuropeanColumns {
  const u = generator(12345);
  const c = europeanColumns(count);
  for (let i = 0; i < count; i++) {
    c.spot[i] = 50 + 100 * u();
    c.strike[i] = c.spot[i] * (0.6 + 0.8 * u());
    c.timeToExpiry[i] = 0.02 + 2.98 * u();
    c.rate[i] = 0.08 * u() - 0.01;
    c.dividendYield[i] = 0.05 * u();
    c.volatility[i] = 0.05 + 0.75 * u();
    c.isCall[i] = u() < 0.5 ? 1 : 0;
  }
  return c;
}

/** Log-moneyness and deviation of the quotes to be inverted. */
export function quoteScores(count = 100_000): { logMoneyness: Float64Array; deviation: Float64Array } {
  const u = generator(4242);
  const logMoneyness = new Float64Array(count);
  const deviation = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    do {
      deviation[i] = 0.02 + 1.48 * u();
      logMoneyness[i] = -1 + 2 * u();
    } while (Math.abs(logMoneyness[i]) > 6 * deviation[i]);
  }
  return { logMoneyness, deviation };
}

/** Quotes on forward 1, one year, undiscounted, without prices yet. */
export function quoteColumns(logMoneyness: Float64Array): QuoteColumns {
  const count = logMoneyness.length;
  return {
    isCall: Uint8Array.from(logMoneyness, (x) => (x >= 0 ? 1 : 0)),
    forward: new Float64Array(count).fill(1),
    strike: logMoneyness.map(Math.exp),
    timeToExpiry: new Float64Array(count).fill(1),
    discountFactor: new Float64Array(count).fill(1),
    price: new Float64Array(count),
  };
}

export function americanContracts(count = 500): EuropeanColumns {
  const u = generator(9001);
  const c = europeanColumns(count);
  for (let i = 0; i < count; i++) {
    c.spot[i] = 100;
    c.strike[i] = 60 + 80 * u();
    c.timeToExpiry[i] = Math.floor(7 + 1088 * u()) / 365;
    c.rate[i] = 0.1 * u();
    c.dividendYield[i] = 0.1 * u();
    c.volatility[i] = 0.05 + 0.75 * u();
    c.isCall[i] = u() < 0.5 ? 0 : 1;
  }
  return c;
}

export const SVI_YEARS = 182 / 365;

export interface SviQuotes {
  logMoneyness: Float64Array;
  volatility: Float64Array;
}

/** Slices of raw SVI quotes; one draw a quote even without noise. */
export function sviSlices(noise: number, slices = 64, quotes = 40): SviQuotes[] {
  const u = generator(31337);
  return Array.from({ length: slices }, () => {
    const a = 0.005 + 0.015 * u();
    const b = 0.05 + 0.15 * u();
    const sigma = 0.05 + 0.25 * u();
    const rho = -0.8 + 0.9 * u();
    const m = -0.1 + 0.2 * u();
    const logMoneyness = Float64Array.from({ length: quotes }, (_, j) => -0.6 + j / 39);
    const volatility = logMoneyness.map((k) => {
      const w = a + b * (rho * (k - m) + Math.sqrt((k - m) * (k - m) + sigma * sigma));
      return Math.sqrt(w / SVI_YEARS) + noise * (2 * u() - 1);
    });
    return { logMoneyness, volatility };
  });
}
