import { describe, expect, test } from 'vitest';
import { normalCdf, solveLinear } from '../../src/math/index.ts';
import {
  black76Price,
  blackScholesMertonGreeks,
  blackScholesMertonPrice,
  earlyExercise,
  type Greeks,
  impliedVolatility,
  optionPrice,
  type Side,
} from '../../src/pricing/index.ts';
import { ewmaVarianceStep, garchVarianceStep } from '../../src/volatility/index.ts';
import { loadReference } from '../reference/load.ts';
import {
  type AmericanExample,
  baroneAdesiWhaleyPrice,
  bermudanPrice,
  bjerksundStensland1993Price,
} from './american-approximations.ts';
import { coxRossRubinsteinPrice } from './leisen-reimer-tree.ts';

interface Example {
  id: string;
  source: string;
  method: string;
  inputs: {
    side: Side;
    spot: number;
    forward: number;
    strike: number;
    years: number;
    rate: number;
    dividendYield?: number;
    volatility: number;
    price: number;
    x: number;
    steps: number;
    exercisesPerYear: number;
    dividends: { years: number; cash: number }[];
    lambda: number;
    omega: number;
    alpha: number;
    beta: number;
    return: number;
    matrix: number[][];
    position: number[];
    index: number;
  };
  output: keyof Greeks;
  printed: number;
  digits: number;
}
const { cases } = loadReference<Example>('textbook.json');

/** Examples whose printed value comes from the model that we price with. */
const METHODS = [
  'bsm',
  'black76',
  'impliedVolatility',
  'normalCdf',
  'escrowedEuropean',
  'americanPremiumSpectral',
  'binomialCRR',
  'ewmaStep',
  'garchStep',
  'hedge',
];
/** Examples of American prices that were printed by another method than ours. */
const OTHER_METHODS = ['bermudan', 'baroneAdesiWhaley', 'bjerksundStensland1993'];

test('no printed example is left out', () => {
  const known = [...METHODS, ...OTHER_METHODS];
  expect(cases.filter((c) => !known.includes(c.method)).map((c) => c.id)).toEqual([]);
});

/* Printed values of publications (inputs and values from memory of the publication, see the data's meta). */
describe('printed examples', () => {
  for (const c of cases.filter((e) => METHODS.includes(e.method))) {
    test(`${c.id} prints ${c.printed} (${c.source})`, () => {
      expect(Math.abs(computed(c) - c.printed)).toBeLessThanOrEqual(0.5 * 10 ** -c.digits * (1 + 1e-9));
    });
  }
});

/*
 * Printed by other methods: each is recomputed here by that method, on our European price, and our American price stands
 * where it must: above exercise at 50 dates a year and above the value of one flat boundary, which are worth less.
 */
describe('printed prices of American options by other methods', () => {
  const methods: Record<string, (o: AmericanExample, example: Example) => number> = {
    bermudan: (o, { inputs }) => bermudanPrice(o, Math.round(inputs.exercisesPerYear * inputs.years)),
    baroneAdesiWhaley: baroneAdesiWhaleyPrice,
    bjerksundStensland1993: bjerksundStensland1993Price,
  };
  for (const c of cases.filter((e) => e.method in methods)) {
    test(`${c.id} prints ${c.printed} (${c.source})`, () => {
      const { years: timeToExpiry, spot, strike, rate, volatility, side, dividendYield = 0 } = c.inputs;
      const o = { side, spot, strike, timeToExpiry, rate, dividendYield, volatility };
      expect(Math.abs(methods[c.method](o, c) - c.printed)).toBeLessThanOrEqual(0.5 * 10 ** -c.digits * (1 + 1e-9));
      const exact = optionPrice({ ...o, exercise: 'american', model: 'spot', underlying: spot }, 'exact');
      if (c.method !== 'baroneAdesiWhaley') expect(exact).toBeGreaterThan(c.printed - 0.5 * 10 ** -c.digits);
      expect(exact).toBeGreaterThanOrEqual(blackScholesMertonPrice(o));
    });
  }
});

function computed({ method, inputs, output }: Example): number {
  const { years: timeToExpiry, rate } = inputs;
  if (method === 'black76')
    return black76Price({ ...inputs, timeToExpiry, discountFactor: Math.exp(-rate * timeToExpiry) });
  if (method === 'ewmaStep' || method === 'garchStep') {
    const day = { variance: inputs.volatility ** 2, dailyReturn: inputs.return };
    return Math.sqrt(method === 'ewmaStep' ? ewmaVarianceStep(day, inputs.lambda) : garchVarianceStep(day, inputs));
  }
  if (method === 'hedge') {
    // Quantities whose Greeks make up for those of the position.
    const quantities = Float64Array.from(inputs.position, (greek) => -greek);
    return solveLinear(Float64Array.from(inputs.matrix.flat()), quantities) ? quantities[inputs.index] : NaN;
  }
  if (method === 'normalCdf') return normalCdf(inputs.x);
  const dividendYield = inputs.dividendYield ?? 0;
  if (method === 'escrowedEuropean') {
    // The textbook's convention: the spot less the present value of the dividends.
    const paid = inputs.dividends.reduce((sum, d) => sum + d.cash * Math.exp(-rate * d.years), 0);
    return blackScholesMertonGreeks({ ...inputs, spot: inputs.spot - paid, timeToExpiry, dividendYield }).price;
  }
  if (method === 'americanPremiumSpectral') {
    const { side, spot: underlying, strike, volatility } = inputs;
    const option = { side, underlying, strike, timeToExpiry, rate, dividendYield, volatility };
    return earlyExercise({ ...option, exercise: 'american', model: 'spot' }, 'exact').premium;
  }
  if (method === 'binomialCRR') {
    const tree = { ...inputs, isCall: inputs.side === 'call', isAmerican: true, timeToExpiry, dividendYield };
    return coxRossRubinsteinPrice(tree, inputs.steps);
  }
  if (method === 'bsm') return blackScholesMertonGreeks({ ...inputs, timeToExpiry, dividendYield })[output];
  const result = impliedVolatility({
    ...inputs,
    timeToExpiry,
    forward: inputs.spot * Math.exp((rate - dividendYield) * timeToExpiry),
    discountFactor: Math.exp(-rate * timeToExpiry),
  });
  return result.ok ? result.volatility : NaN;
}
