import { CHANGE_CAUSES } from '@umwelt/core/whatif';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
  changeDerivation,
  changeFigureId,
  derivedValue,
  explainChangeFigure,
  explainSolveFigure,
  solveDerivation,
  solveFigureId,
} from '../src/lib/measures/index.ts';
import { pricerFigures, pricerSolutions } from '../src/lib/theory/index.ts';

const state = fc.record({
  side: fc.constantFrom('call' as const, 'put' as const),
  exercise: fc.constantFrom('european' as const, 'american' as const),
  underlying: fc.double({ min: 60, max: 150, noNaN: true }),
  strike: fc.constantFrom(80, 100, 120),
  days: fc.double({ min: 5, max: 400, noNaN: true }),
  volatility: fc.double({ min: 0.08, max: 0.9, noNaN: true }),
  rate: fc.double({ min: -0.01, max: 0.08, noNaN: true }),
  dividendYield: fc.double({ min: 0, max: 0.05, noNaN: true }),
  contracts: fc.integer({ min: -5, max: 5 }),
});
const SHARED = { model: 'spot' as const, dividends: [], multiplier: 10 };

test('every figure of a change since the pin comes from the inputs of its Workings, and the parts add up', () => {
  const basis = fc.constantFrom('share' as const, 'contract' as const, 'position' as const);
  fc.assert(
    fc.property(state, state, basis, (first, second, counted) => {
      const [pinned, now] = [first, second].map((o) => ({ ...SHARED, ...o }));
      const priced = pricerFigures({ inputs: now, pinned });
      if (!priced.ok || !priced.answer.change) throw new Error('not priced');
      const states = { pinned, now, change: priced.answer.change, basis: counted };
      let sum = 0;
      for (const figure of [...CHANGE_CAUSES, 'size', 'from', 'change', 'to'] as const) {
        const workings = explainChangeFigure(states, changeFigureId(figure));
        if (!workings) throw new Error(figure);
        const derivation = changeDerivation(figure);
        const derived = derivedValue(derivation, workings.inputs);
        expect(derived === undefined, figure).toBe(derivation.kind === 'fit');
        if (derived) expect(Math.abs((derived.value ?? NaN) - (workings.value ?? NaN)), figure).toBeLessThan(1e-9);
        if (figure === 'change') expect(sum).toBeCloseTo(workings.value ?? NaN, 8);
        if (figure !== 'from') sum += workings.value ?? NaN;
      }
    }),
    { numRuns: 60 },
  );
});

test('what a search found comes again from the inputs of its Workings', () => {
  let found = 0;
  fc.assert(
    fc.property(state, fc.double({ min: 0.05, max: 0.95, noNaN: true }), (typed, share) => {
      const inputs = { ...SHARED, ...typed };
      const priced = pricerFigures({ inputs });
      if (!priced.ok) throw new Error('not priced');
      const { price } = priced.answer[inputs.side].greeks;
      const targets = {
        targetPrice: price * (0.5 + share),
        targetDelta: (inputs.side === 'call' ? 1 : -1) * share,
        targetValue: price * share,
        decayDays: 1,
      };
      const solved = pricerSolutions({ inputs, ...targets });
      if (!solved.ok) throw new Error('not solved');
      for (const search of ['volatility', 'underlying', 'strike', 'days', 'rise'] as const) {
        const of = { inputs, own: {}, targets, found: solved.answer };
        const workings = explainSolveFigure(of, solveFigureId(search));
        if (!workings) throw new Error(search);
        const derived = derivedValue(solveDerivation(search, inputs), workings.inputs)?.value ?? null;
        expect(derived, search).toBe(workings.value);
        if (derived === null) expect(workings.absence, search).toMatch(/^within reach/);
        else found++;
      }
    }),
    { numRuns: 25 },
  );
  expect(found).toBeGreaterThan(50);
});
