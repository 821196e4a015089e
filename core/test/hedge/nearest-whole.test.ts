import fc from 'fast-check';
import { expect, test } from 'vitest';
import { HEDGED_GREEKS, neutralize } from '../../src/hedge/index.ts';

const nothing = { delta: 0, gamma: 0, theta: 0, vega: 0, vanna: 0, volga: 0 };
const number = fc.double({ min: -50, max: 50, noNaN: true });

test('no whole contracts of a box leave less of the sums, each as a share of what it was', () => {
  const drawn = fc.integer({ min: 1, max: 3 }).chain((count) =>
    fc.record({
      position: fc.array(number, { minLength: count, maxLength: count }),
      table: fc.array(fc.array(number, { minLength: count, maxLength: count }), { minLength: count, maxLength: count }),
    }),
  );
  fc.assert(
    fc.property(drawn, ({ position, table }) => {
      const targets = HEDGED_GREEKS.slice(0, position.length);
      const of = (values: number[]) => ({ ...nothing, ...Object.fromEntries(targets.map((t, i) => [t, values[i]])) });
      const asked = { position: of(position), instruments: table.map((row) => ({ exposures: of(row) })), targets };
      const [exact, whole] = [neutralize(asked), neutralize({ ...asked, isWhole: true })];
      fc.pre(exact.ok && whole.ok && exact.quantities.every((q) => Math.abs(q) < 1e4 && q !== 0));
      if (!exact.ok || !whole.ok) return;
      const left = (quantities: readonly number[]) =>
        targets.reduce((sum, _, i) => {
          const rest = position[i] + table.reduce((total, row, j) => total + quantities[j] * row[i], 0);
          const size = Math.abs(position[i]) || Math.max(...table.map((row) => Math.abs(row[i]))) || 1;
          return sum + (rest / size) ** 2;
        }, 0);
      expect(whole.quantities.every(Number.isInteger)).toBe(true);
      // All of a smaller box, one by one.
      const around = (j: number) => Array.from({ length: 6 }, (_, i) => Math.floor(exact.quantities[j]) - 2 + i);
      let least = Infinity;
      const walk = (chosen: number[]): void => {
        if (chosen.length === table.length) least = Math.min(least, left(chosen));
        else for (const q of around(chosen.length)) walk([...chosen, q]);
      };
      walk([]);
      expect(left(whole.quantities)).toBeLessThanOrEqual(least * (1 + 1e-9) + 1e-12);
    }),
    { numRuns: 60 },
  );
});
