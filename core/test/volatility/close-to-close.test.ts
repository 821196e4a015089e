import { expect, test } from 'vitest';
import { closeToCloseVolatility } from '../../src/volatility/index.ts';
import { loadReference } from '../reference/load.ts';

interface Case {
  name: string;
  rows: [open: number, high: number, low: number, close: number][];
  results: { lastRow: number; window: number; closeToClose: number }[];
}

test('close-to-close volatility of real and synthetic bars to 1e-12, all windows', () => {
  const { cases } = loadReference<Case>('realized-volatility.json');
  let checked = 0;
  for (const c of cases) {
    for (const { lastRow, window, closeToClose } of c.results) {
      const closes = c.rows.slice(0, lastRow + 1).map((row) => row[3]);
      expect(Math.abs(closeToCloseVolatility(closes, window) / closeToClose - 1), `${c.name} ${window}`).toBeLessThan(
        1e-12,
      );
      checked++;
    }
  }
  expect(checked).toBeGreaterThanOrEqual(15);
});

test('too few closes have no volatility; a window of one is refused', () => {
  expect(closeToCloseVolatility([1, 2, 3], 3)).toBeNaN();
  expect(() => closeToCloseVolatility([1, 2, 3], 1)).toThrow(RangeError);
});
