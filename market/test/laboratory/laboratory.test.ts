import { deriveSurface, exercisePremiums, type Smile } from '@umwelt/core/surface';
import { describe, expect, test } from 'vitest';
import { exactChain, judgeMarket, LABORATORY_MARKETS, type LaboratoryMarket } from '../../src/laboratory/index.ts';

/* A subset of what `npm run accuracy` holds the derivation against, with its limits: laws and carry that the simulator does not know. */

const SEEDS = process.env.SOAK ? Array.from({ length: 20 }, (_, i) => i + 1) : [1, 2, 3];

function market(name: string): LaboratoryMarket {
  const found = LABORATORY_MARKETS.find((m) => m.name === name);
  if (!found) throw new RangeError(`the laboratory has no market ${name}`);
  return found;
}

const worst = (values: readonly number[]) => Math.max(...values);
function most(values: readonly number[], share: number): number {
  return [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))];
}

test.each([
  'one unknown dividend of 0.5 %',
  'two unknown dividends of 1.5 %',
  'financing 3 % over the curve',
  'no curve, yield 2 %',
  'borrow 40 %, SABR',
  'borrow 30 %, known dividends',
  'rate -1 %, dividend unknown',
])('%s: the quotes tell what nobody does', (name) => {
  const e = judgeMarket(market(name), SEEDS, deriveSurface);
  expect(e.missing).toBe(0);
  expect(worst(e.forward)).toBeLessThan(0.15);
  expect(most(e.atm, 0.95)).toBeLessThan(0.3);
  expect(worst(e.atm)).toBeLessThan(0.5);
  expect(most(e.riskReversal25, 0.95)).toBeLessThan(0.6);
  expect(worst(e.riskReversal25)).toBeLessThan(0.8);
  expect(e.faulty.called).toBeLessThanOrEqual(e.faulty.clean / 2000);
});

test.each(['SABR', 'Bates', 'currency, no curve', 'known quarterly dividends', 'future, SABR', 'rate -1 %'])(
  '%s: nothing is to be inferred, and forward, level and tilt are closer still',
  (name) => {
    const e = judgeMarket(market(name), SEEDS, deriveSurface);
    expect(worst(e.forward)).toBeLessThan(0.05);
    expect(worst(e.atm)).toBeLessThan(0.25);
    expect(worst(e.riskReversal25)).toBeLessThan(0.35);
    expect(e.faulty.called).toBeLessThanOrEqual(e.faulty.clean / 2000);
  },
);

test('four times the width: intervals of the forward still hold the true one, errors shown grow and quality falls', () => {
  const names = ['wide quotes, financing 1.5 % over', 'wide quotes, borrow 30 %', 'wide quotes, no curve'];
  const wide = names.map((name) => judgeMarket(market(name), SEEDS, deriveSurface));
  const held = wide.reduce((sum, e) => sum + e.covered, 0) / wide.length;
  expect(held).toBeGreaterThan(0.85);
  const narrow = judgeMarket(market('borrow 30 %'), SEEDS, deriveSurface);
  expect(most(wide[1].errorShown, 0.5)).toBeGreaterThan(1.5 * most(narrow.errorShown, 0.5));
  expect(most(wide[1].quality, 0.5)).toBeLessThan(most(narrow.quality, 0.5) - 5);
});

describe('premiums of early exercise on the true carry and smile', () => {
  test.each([
    ['known half-yearly dividends', 0.02],
    ['known quarterly dividends', 0.03],
    ['borrow 30 %, known dividends', 0.02],
    ['rate -1 %', 0.02],
    ['plain share', 0.02],
  ])('%s: every strike within %f of a spot of 80, and none below its exercise', (name, limit) => {
    const { spot, rate, dividendYield, dividends: all, ...m } = market(name);
    for (const e of exactChain(market(name))) {
      const { strikes, forward, timeToExpiry } = e;
      const places = Array.from(strikes, (strike) => Math.log(strike / forward));
      const ends = [places[0], places[places.length - 1]] as const;
      const smile: Smile = {
        timeToExpiry,
        // Through the true volatilities, straight between strikes.
        totalVariance(k) {
          const j = Math.max(
            1,
            Math.min(
              places.length - 1,
              places.findIndex((p) => p >= k),
            ),
          );
          const share = (k - places[j - 1]) / (places[j] - places[j - 1]);
          return (e.volatility[j - 1] + share * (e.volatility[j] - e.volatility[j - 1])) ** 2 * timeToExpiry;
        },
        slope: () => NaN,
        curvature: () => NaN,
      };
      const dividends = all.filter((d) => d.time < timeToExpiry);
      const terms = {
        timeToExpiry,
        forward,
        rate,
        underlying: { kind: 'spot', spot, dividendYield, dividends },
      } as const;
      const premium = exercisePremiums(terms, smile, strikes, ends, 'final');
      expect(m.exercise).toBe('american');
      strikes.forEach((strike, i) => {
        for (const side of ['call', 'put'] as const) {
          const value = e.european[side][i] + premium[side][i];
          const exercise = side === 'call' ? spot - strike : strike - spot;
          expect(Math.abs(value - e.value[side][i]), `${side} ${strike}, ${e.days} days`).toBeLessThan(limit);
          expect(value).toBeGreaterThan(exercise - 2e-3);
        }
      });
    }
  });
});

test('where two dozen quotes are spoilt they are found, and the forward is still the one the others tell', () => {
  const e = judgeMarket(market('planted faults'), SEEDS, deriveSurface);
  expect(e.faults.found).toBeGreaterThan(0.9 * e.faults.planted);
  expect(most(e.forward, 0.95)).toBeLessThan(0.15);
});
