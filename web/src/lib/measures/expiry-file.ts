import type { ExpiryOverview } from '../api/picture.ts';
import type { ShownTable } from '../ui/shown-table.ts';
import { EXPIRY_MEASURES } from './expiry-measures.ts';
import type { ExpiryMeasure, LevelSubject } from './measure.ts';

/**
 * Every measure of expiries as values, to the last digit: under its identifier, with what tells the rows of one file from those
 * of another.
 */
export function expiryFile(
  subject: LevelSubject,
  expiries: readonly ExpiryOverview[],
  measures: readonly ExpiryMeasure[] = EXPIRY_MEASURES,
): ShownTable {
  const { underlying, asOf } = subject.picture;
  return {
    header: ['symbol', 'currency', 'asOf', 'expiry', 'days', ...measures.map((m) => m.id)],
    rows: expiries.map((expiry) => [
      ...[underlying.symbol, underlying.currency, asOf, expiry.date, expiry.days],
      ...measures.map((m) => m.value({ ...subject, expiry })),
    ]),
  };
}
