import type { Overview } from '../../api/picture.ts';

/** Something that is not stored of an underlying, and what its lack costs. */
export interface MissingHistory {
  table: 'bars' | 'rates' | 'dividends' | 'chains';
  text: string;
}

/** Sessions of a year that make a rank. */
const FULL_YEAR = 250;

/** What is not stored of a user's underlying, and what that costs. The demo has all of it. */
export function missingHistory(picture: Overview): MissingHistory[] {
  const { underlying, expiries, history, waiting } = picture;
  if (underlying.source === 'demo' || expiries.length === 0) return [];
  const missing: MissingHistory[] = [];
  if (expiries.every((e) => e.realized === null) && picture.previousPrice === null)
    missing.push({ table: 'bars', text: 'daily bars: no realized volatility to compare with' });
  if (expiries.every((e) => e.curveRate === null)) {
    const currency = underlying.currency === 'XXX' ? 'its currency, which is not known' : underlying.currency;
    missing.push({ table: 'rates', text: `rates of ${currency}: discounting is implied by parity alone` });
  }
  const paid = expiries.some((e) => e.exercisedInto?.kind === 'spot' && e.exercisedInto.dividends.length > 0);
  if (!paid && (underlying.kind === 'share' || underlying.kind === 'fund'))
    missing.push({
      table: 'dividends',
      text: 'dividends: what is paid shows up as a yield, and exercise before it is missed',
    });
  // What waits to be derived is stored.
  if (history.length + waiting < FULL_YEAR) {
    const count = history.length + waiting;
    const stored = count === 0 ? 'no session' : count === 1 ? 'one session' : `${count} sessions`;
    missing.push({
      table: 'chains',
      text: `chains of the past year (${stored} before this one): no rank, or one of few`,
    });
  }
  return missing;
}
