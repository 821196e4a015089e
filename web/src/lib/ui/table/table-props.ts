import type { Snippet } from 'svelte';
import type { TableColumn } from './table-column.ts';

/** What a table is drawn from. */
export interface TableProps<Row> {
  columns: readonly TableColumn<Row>[];
  rows: readonly Row[];
  rowKey: (row: Row) => string;
  /** The order of the rows is their meaning: they cannot be sorted */
  isOrdered?: boolean;
  rowTone?: (row: Row, isSorted: boolean) => string;
  /** What stands under a row that has it */
  under?: { of: (row: Row) => boolean; draw: Snippet<[Row]> };
  testid?: string;
  class?: string;
  isBusy?: boolean;
  /** Rows that are drawn at once when a page comes after another; those that are out of sight can wait */
  firstRows?: number;
  /** What the rows are of, while their changes are shown by a tint that fades; absent while they are not */
  changesOf?: string;
}
