import type { CashDividend } from '../pricing/index.ts';

/** Cash dividends that go ex before expiry, `passed` years from now; their times count from then. */
export function dividendsWithin(
  dividends: readonly CashDividend[] | undefined,
  timeToExpiry: number,
  passed = 0,
): CashDividend[] {
  return (dividends ?? [])
    .map((d) => ({ ...d, time: d.time - passed }))
    .filter((d) => d.time > 0 && d.time < timeToExpiry);
}
