import { type GridRow, namesTable } from '../table-file/index.ts';
import type { TableKind } from '../table-format/index.ts';
import { isQuoted, mapColumns } from './header-words.ts';

/** A header stands among the first lines, or there is none. */
const HEADER_WITHIN = 60;
/** The more columns a kind must have, the surer it is. */
const KINDS = ['intraday-bars', 'bars', 'splits', 'dividends', 'rates', 'events'] as const;

/** The kind of table whose columns the first lines of a file name; a chain where none is. */
export function recogniseTable(rows: readonly GridRow[]): TableKind {
  const top = rows.slice(0, HEADER_WITHIN).map((row) => row.cells);
  if (top.some((cells) => isQuoted(mapColumns(cells).mapping))) return 'chains';
  return KINDS.find((kind) => top.some((cells) => namesTable(kind, cells))) ?? 'chains';
}
