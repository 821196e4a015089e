import type { Snippet } from 'svelte';
import type { ShownCell, ShownTable } from '../shown-table.ts';

/** One column of a table: what its cells are worth, how they are written, and how wide they stand. */
export interface TableColumn<Row> {
  /** Also the head of its column in files */
  id: string;
  head: string;
  /** In full, where the head is short */
  label?: string;
  /** What it is, in a sentence */
  definition?: string;
  /** Pixels; fixed, so that the browser need not measure every cell to place one. Without it the column takes what is left */
  width?: number;
  /** Of one that takes what is left: pixels that it has at least */
  least?: number;
  align?: 'left';
  /** Always there, before those that can be chosen: what tells the rows apart */
  isFixed?: boolean;
  /** Not shown until it is asked for */
  isExtra?: boolean;
  /** What it is sorted by and leaves as, to the last digit; a column without it neither sorts nor leaves */
  value?(row: Row): ShownCell | undefined;
  /** What stands in the cell, and is copied */
  text(row: Row): string;
  /** The figure whose Workings the cell opens */
  figure?(row: Row): string | undefined;
  /** What a pointer on the cell reads */
  title?(row: Row): string | undefined;
  /** Classes of the cell */
  tone?(row: Row): string;
  /** Drawn in place of the text */
  cell?: Snippet<[Row]>;
  /** Drawn in place of the head */
  headCell?: Snippet<[TableColumn<Row>]>;
}

/** The columns as they stand: those that are always there, then the chosen ones in their order. */
export function columnsShown<Row>(columns: readonly TableColumn<Row>[], chosen: readonly string[]): TableColumn<Row>[] {
  const byId = new Map(columns.map((c) => [c.id, c]));
  return [...columns.filter((c) => c.isFixed), ...chosen.flatMap((id) => byId.get(id) ?? [])];
}

/** What is wide enough for a figure. */
export const LEAST_WIDTH = 32;
export const MOST_WIDTH = 800;

/** Whole pixels within what can be read and fits a screen. */
export function limitedWidth(width: number): number {
  return Math.round(Math.min(MOST_WIDTH, Math.max(LEAST_WIDTH, width)));
}

/** Rows as values under the names of their columns, after what is the same of all rows of the file. */
export function columnsFile<Row>(
  columns: readonly TableColumn<Row>[],
  rows: readonly Row[],
  context: Readonly<Record<string, ShownCell>> = {},
): ShownTable {
  const worth = columns.filter((c) => c.value !== undefined);
  return {
    header: [...Object.keys(context), ...worth.map((c) => c.id)],
    rows: rows.map((row) => [...Object.values(context), ...worth.map((c) => c.value?.(row) ?? null)]),
  };
}

/** A shown text as other programs read it: blanks between digits go, signs are plain. */
export function plainText(text: string): string {
  return text
    .replace(/(?<=\d)[\u2009\u202f](?=\d)/gu, '')
    .replace(/\u2212/gu, '-')
    .replace(/\s+/gu, ' ')
    .trim();
}

/** Rows of texts as a spreadsheet takes them in from the clipboard. */
export function clipText(rows: readonly (readonly string[])[]): string {
  return rows.map((cells) => cells.map(plainText).join('\t')).join('\n');
}
