import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { type Exposures, type HedgedGreek, HEDGED_GREEKS, neutralize } from '../../src/hedge/index.ts';
import { loadReference } from '../reference/load.ts';

type Three = Record<'delta' | 'gamma' | 'vega', number>;
interface HedgeCase {
  position: (Three & { quantity: number })[];
  targets: (keyof Three)[];
  instruments: Three[];
  positionSums: Three;
  status: 'unique' | 'inconsistent' | 'underdetermined';
  quantities: number[] | null;
  conditionNumber?: number;
}

const NOTHING: Exposures = { delta: 0, gamma: 0, theta: 0, vega: 0, vanna: 0, volga: 0 };
const exposures = (given: Partial<Exposures>): Exposures => ({ ...NOTHING, ...given });
const summed = (position: Exposures, all: readonly Exposures[], quantities: readonly number[], name: HedgedGreek) =>
  all.reduce((sum, e, i) => sum + quantities[i] * e[name], position[name]);

test('hedges.json: quantities of exact elimination, and which systems have none or many', () => {
  const { cases } = loadReference<HedgeCase>('hedges.json');
  expect(cases.length).toBeGreaterThan(30);
  for (const c of cases) {
    const found = neutralize({
      position: exposures(c.positionSums),
      instruments: c.instruments.map((i) => ({ exposures: exposures(i) })),
      targets: c.targets,
    });
    if (c.status !== 'unique') {
      expect(found).toEqual({ ok: false, reason: c.status });
      continue;
    }
    if (!found.ok) throw new Error(found.reason);
    const size = Math.max(...(c.quantities ?? []).map(Math.abs));
    for (const [i, q] of (c.quantities ?? []).entries())
      expect(Math.abs(found.quantities[i] - q)).toBeLessThanOrEqual(1e-14 * (c.conditionNumber ?? 1) * size);
  }
});

test('the published hedge of delta -300, gamma -100, vega -80 by two options and the underlying (Alexander 2008)', () => {
  // C. Alexander, Market Risk Analysis, vol. III: Pricing, Hedging and Trading Financial Instruments, Wiley 2008; from memory of
  // the publication: options of 0.2 / 0.1 / 0.1 and -0.8 / 0.3 / 0.2, of which 400 and 200, and 380 of the underlying. With those
  // signs a short position of vega -80 is met by x1 0.1 + x2 0.3 = 100 and x1 0.1 + x2 0.2 = 80: 400 and 200.
  const options = [
    exposures({ delta: 0.2, gamma: 0.1, vega: 0.1 }),
    exposures({ delta: -0.8, gamma: 0.3, vega: 0.2 }),
    exposures({ delta: 1 }),
  ];
  const position = exposures({ delta: -300, gamma: -100, vega: -80 });
  const found = neutralize({
    ...{ position, targets: ['delta', 'gamma', 'vega'] },
    instruments: options.map((e) => ({ exposures: e })),
  });
  if (!found.ok) throw new Error(found.reason);
  expect(found.quantities.map((q) => Number(q.toFixed(9)))).toEqual([400, 200, 380]);
});

const number = fc.double({ min: -1, max: 1, noNaN: true }).map((x) => Number(x.toFixed(3)));
const anyExposures = fc.record({
  ...{ delta: number, gamma: number, theta: number, vega: number, vanna: number, volga: number },
});
const anyTargets = fc.shuffledSubarray([...HEDGED_GREEKS], { minLength: 1, maxLength: 4 });

describe('any position', () => {
  test('has nothing left of the chosen sums, or is told why not; with choice never more trades than sums', () => {
    let solved = 0;
    fc.assert(
      fc.property(
        anyExposures,
        fc.array(anyExposures, { minLength: 1, maxLength: 9 }),
        anyTargets,
        (position, all, targets) => {
          const costs = all.map((_, i) => 1 + (i % 3));
          const found = neutralize({
            ...{ position, targets },
            instruments: all.map((e, i) => ({ exposures: e, cost: costs[i] })),
          });
          if (!found.ok) {
            expect(found.reason).toBe('inconsistent');
            return;
          }
          solved++;
          const size = Math.max(1, ...found.quantities.map(Math.abs));
          for (const name of targets)
            expect(Math.abs(summed(position, all, found.quantities, name))).toBeLessThan(1e-9 * size);
          expect(found.quantities.filter((q) => Math.abs(q) > 1e-12 * size).length).toBeLessThanOrEqual(
            Math.max(targets.length, all.length > targets.length ? 0 : all.length),
          );
        },
      ),
      { seed: 5, numRuns: 400 },
    );
    expect(solved).toBeGreaterThan(150);
  });

  test('with choice nothing is cheaper: no pair or triple of instruments that does it costs less', () => {
    const targets: HedgedGreek[] = ['gamma', 'vega'];
    fc.assert(
      fc.property(anyExposures, fc.array(anyExposures, { minLength: 3, maxLength: 7 }), (position, all) => {
        const costs = all.map((_, i) => 0.5 + ((i * 7) % 5));
        const instruments = all.map((e, i) => ({ exposures: e, cost: costs[i] }));
        const found = neutralize({ position, targets, instruments });
        if (!found.ok) return;
        const cost = (quantities: readonly number[]) =>
          quantities.reduce((sum, q, i) => sum + costs[i] * Math.abs(q), 0);
        for (let a = 0; a < all.length; a++)
          for (let b = a + 1; b < all.length; b++) {
            const pair = neutralize({
              ...{ position, targets },
              instruments: [{ exposures: all[a] }, { exposures: all[b] }],
            });
            if (!pair.ok) continue;
            const other = all.map((_, i) => (i === a ? pair.quantities[0] : i === b ? pair.quantities[1] : 0));
            expect(cost(found.quantities)).toBeLessThanOrEqual(cost(other) * (1 + 1e-7) + 1e-9);
          }
      }),
      { numRuns: 200 },
    );
  });

  test('in whole contracts leaves no more of the sums than rounding each would, and all are whole', () => {
    fc.assert(
      fc.property(fc.integer({ min: -900, max: 900 }), fc.integer({ min: -90, max: 90 }), (delta, gamma) => {
        const all = [exposures({ delta: 0.4, gamma: 0.03 }), exposures({ delta: 1 })];
        const position = exposures({ delta, gamma });
        const found = neutralize({
          ...{ position, targets: ['delta', 'gamma'], isWhole: true },
          instruments: all.map((e) => ({ exposures: e })),
        });
        if (!found.ok) throw new Error(found.reason);
        expect(found.quantities.every(Number.isInteger)).toBe(true);
        const options = Math.round(-gamma / 0.03);
        const rounded = [options, Math.round(-delta - 0.4 * options)];
        const left = (quantities: number[]) =>
          (summed(position, all, quantities, 'gamma') / (gamma || 0.03)) ** 2 +
          (summed(position, all, quantities, 'delta') / (delta || 1)) ** 2;
        expect(left(found.quantities)).toBeLessThanOrEqual(left(rounded) + 1e-12);
      }),
    );
  });

  test('without costs a choice is not made, and what nothing moves cannot be hedged', () => {
    const one = { exposures: exposures({ delta: 0.5, gamma: 0.02 }) };
    const position = exposures({ delta: 10, gamma: 1 });
    expect(neutralize({ position, targets: ['delta'], instruments: [one, one] })).toEqual({
      ...{ ok: false, reason: 'underdetermined' },
    });
    expect(
      neutralize({ position: { ...position, vega: 1 }, targets: ['vega', 'gamma'], instruments: [one] }),
    ).toMatchObject({
      ok: false,
      reason: 'inconsistent',
    });
    expect(neutralize({ position: exposures({ vega: 3 }), targets: ['vega'], instruments: [one] })).toEqual({
      ...{ ok: false, reason: 'inconsistent' },
    });
  });
});
