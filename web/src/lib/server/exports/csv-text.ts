import { escapeFormula } from '@umwelt/market/table-format';
import { stringify } from 'csv-stringify/sync';

/** Rows as CSV with their heads; a text that a spreadsheet would take for a formula has an apostrophe before it. */
export function csvText(rows: readonly object[]): string {
  const columns = rows.length > 0 ? Object.keys(rows[0]) : [];
  return stringify([...rows], { header: true, columns, cast: { string: escapeFormula } });
}
