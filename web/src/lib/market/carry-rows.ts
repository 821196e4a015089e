import type { CarryRow } from '../api/carry.ts';
import type { Overview } from '../api/picture.ts';

/** Forward, rate, borrow and dividends of a picture's expiries, nearest first. */
export function carryRows({ carry, expiries }: Overview): CarryRow[] {
  return expiries.map((e) => ({
    expiry: e.date,
    days: e.days,
    source: carry.source,
    forward: e.forward,
    forwardError: e.forwardError,
    rate: e.impliedRate,
    rateError: e.rateError,
    borrow:
      e.exercisedInto?.kind === 'spot' ? e.exercisedInto.dividendYield : (e.yieldBesideDividends ?? e.impliedYield),
    dividends: e.exercisedInto?.kind === 'spot' ? e.exercisedInto.dividends.reduce((sum, d) => sum + d.amount, 0) : 0,
  }));
}
