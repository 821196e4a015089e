import { describe, expect, test } from 'vitest';
import {
  black76Price,
  blackScholesMertonGreeks,
  type Greeks,
  impliedVolatility,
  type Side,
} from '../../src/pricing/index.ts';
import { loadReference } from '../reference/load.ts';

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
  };
  output: keyof Greeks;
  printed: number;
  digits: number;
}
const { cases } = loadReference<Example>('textbook.json');

/* Printed values of publications (inputs and values from memory of the publication, see the data's meta). */
describe('printed examples', () => {
  for (const c of cases.filter((e) => ['bsm', 'black76', 'impliedVolatility'].includes(e.method))) {
    test(`${c.id} prints ${c.printed} (${c.source})`, () => {
      expect(Math.abs(computed(c) - c.printed)).toBeLessThanOrEqual(0.5 * 10 ** -c.digits * (1 + 1e-9));
    });
  }
});

function computed({ method, inputs, output }: Example): number {
  const { years: timeToExpiry, rate } = inputs;
  if (method === 'black76')
    return black76Price({ ...inputs, timeToExpiry, discountFactor: Math.exp(-rate * timeToExpiry) });
  const dividendYield = inputs.dividendYield ?? 0;
  if (method === 'bsm') return blackScholesMertonGreeks({ ...inputs, timeToExpiry, dividendYield })[output];
  const result = impliedVolatility({
    ...inputs,
    timeToExpiry,
    forward: inputs.spot * Math.exp((rate - dividendYield) * timeToExpiry),
    discountFactor: Math.exp(-rate * timeToExpiry),
  });
  return result.ok ? result.volatility : NaN;
}
