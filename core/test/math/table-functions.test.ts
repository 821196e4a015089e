import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { tableErfcx, tableErfcxDifference, tableExp, tableLog } from '../../src/math/index.ts';

/** Values by mpmath, 300 bits, correctly rounded; see the file's meta. */
const reference = JSON.parse(readFileSync(new URL('../reference/table-functions.json', import.meta.url), 'utf8')) as {
  exp: [number, number][];
  log: [number, number][];
  erfcx: [number, number][];
  erfcxDifference: [number, number, number][];
};

function worst<T extends number[]>(rows: T[], f: (row: T) => number, scaleOf = Math.abs): number {
  return Math.max(...rows.map((row) => Math.abs(f(row) - row[row.length - 1]) / scaleOf(row[row.length - 1])));
}

test('table functions agree with mpmath to a few roundings', () => {
  expect(worst(reference.exp, ([x]) => tableExp(x))).toBeLessThan(4e-16);
  expect(
    worst(
      reference.log,
      ([x]) => tableLog(x),
      (v) => Math.max(1, Math.abs(v)),
    ),
  ).toBeLessThan(3e-16);
  expect(worst(reference.erfcx, ([z]) => tableErfcx(z))).toBeLessThan(1e-15);
});

test('the difference of two tails keeps its digits where the tails agree to twelve', () => {
  expect(worst(reference.erfcxDifference, ([z, u]) => tableErfcxDifference(z, u))).toBeLessThan(2e-15);
});
