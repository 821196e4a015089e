import { stringify } from 'csv-stringify/browser/esm/sync';
import type { ShownTable } from './shown-table.ts';

/** A table as CSV (RFC 4180) that a spreadsheet does not take for formulas. */
export function csvText({ header, rows }: ShownTable): string {
  return stringify([header, ...rows], { escape_formulas: true });
}
