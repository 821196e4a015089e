import { type Accuracy, schemeOf } from './american-levels.ts';
import { exerciseKindOfPut, type SolvedPut, spectralValue } from './american-spectral.ts';
import { solvePutBoundary } from './american-boundary.ts';
import { putBoundary } from './american-scheme.ts';
import { type EuropeanColumns, isEuropeanRowInRange, requireOneLength } from './european-columns.ts';
import type { Option } from './option.ts';
import { optionPrice } from './option-price.ts';
import { isPlainPrice } from './option-scale.ts';
import { isFarLognormal, LARGEST_DEVIATION, LEAST_DEVIATION } from './pricing-method.ts';

/**
 * Prices of American options with a continuous yield, row by row; bit-identical to `optionPrice`. The exercise boundary
 * is that of a strike of 1, so rows in a sequence that share expiry, rates, volatility and side share its solution, and
 * only the premium is computed anew.
 * @param out receives one price a row; NaN where a row is outside the ranges of `BlackScholesMertonInput`
 * @param c an option on a futures price has that price as spot and the rate as yield
 * @returns how many rows were outside the ranges
 * @throws RangeError when the columns differ in length
 */
export function americanPriceInto(out: Float64Array, c: EuropeanColumns, accuracy: Accuracy = 'default'): number {
  const rows = requireOneLength({ ...c, out });
  const scheme = schemeOf(accuracy);
  const shared: SolvedPut = {
    market: { rate: NaN, dividendYield: NaN, volatility: NaN, timeToExpiry: NaN },
    scheme,
    boundary: putBoundary(scheme.boundaryNodes),
  };
  const { market } = shared;
  let bad = 0;
  for (let i = 0; i < rows; i++) {
    if (!isEuropeanRowInRange(c, i)) {
      out[i] = NaN;
      bad++;
      continue;
    }
    if (!isSolvable(c, i)) {
      out[i] = scalarPrice(c, i, accuracy);
      if (Number.isNaN(out[i])) bad++;
      continue;
    }
    const isPut = c.isCall[i] === 0;
    const rate = isPut ? c.rate[i] : c.dividendYield[i];
    const dividendYield = isPut ? c.dividendYield[i] : c.rate[i];
    const isSame =
      market.rate === rate &&
      market.dividendYield === dividendYield &&
      market.volatility === c.volatility[i] &&
      market.timeToExpiry === c.timeToExpiry[i];
    if (!isSame) {
      const isSolved =
        exerciseKindOfPut(rate, dividendYield) === 'below-one-boundary' &&
        solvePutBoundary(shared.boundary, scheme, rate, dividendYield, c.volatility[i], c.timeToExpiry[i]);
      if (!isSolved) {
        market.rate = NaN;
        out[i] = scalarPrice(c, i, accuracy);
        continue;
      }
      market.rate = rate;
      market.dividendYield = dividendYield;
      market.volatility = c.volatility[i];
      market.timeToExpiry = c.timeToExpiry[i];
    }
    out[i] = spectralValue(shared, isPut, c.spot[i], c.strike[i]);
  }
  return bad;
}

/** Whether a row is one of those that share boundaries; the others go by the scalar function. */
function isSolvable(c: EuropeanColumns, i: number): boolean {
  const deviation = c.volatility[i] * Math.sqrt(c.timeToExpiry[i]);
  return (
    deviation > LEAST_DEVIATION &&
    deviation <= LARGEST_DEVIATION &&
    isPlainPrice(c.spot[i]) &&
    isPlainPrice(c.strike[i]) &&
    !isFarLognormal(c.spot[i], c.strike[i], deviation, (c.rate[i] - c.dividendYield[i]) * c.timeToExpiry[i])
  );
}

/** NaN where the scalar function throws. */
function scalarPrice(c: EuropeanColumns, i: number, accuracy: Accuracy): number {
  try {
    return optionPrice(optionOf(c, i), accuracy);
  } catch (error) {
    if (error instanceof RangeError) return NaN;
    throw error;
  }
}

function optionOf(c: EuropeanColumns, i: number): Option {
  return {
    side: c.isCall[i] === 0 ? 'put' : 'call',
    exercise: 'american',
    model: 'spot',
    underlying: c.spot[i],
    strike: c.strike[i],
    timeToExpiry: c.timeToExpiry[i],
    rate: c.rate[i],
    dividendYield: c.dividendYield[i],
    volatility: c.volatility[i],
  };
}
