export type ShownCell = string | number | null;
export interface ShownTable {
  header: string[];
  rows: ShownCell[][];
}

const NUMBER = /^([+−-]?)(\d[\d\s\u2009\u202f]*)(\.\d+)?\s*(%|k)?$/u;

/**
 * What a cell shows as a value: numbers without the blanks between their thousands, minus signs as such, percent as a share
 * of one, thousands ("8.2 k") in full; a dash is nothing; everything else is text.
 */
export function shownValue(text: string): ShownCell {
  const trimmed = text.replace(/\s+/gu, ' ').trim();
  if (trimmed === '' || trimmed === '—') return null;
  const match = NUMBER.exec(trimmed);
  if (!match) return trimmed;
  const [, sign, whole, fraction = '', unit] = match;
  const value = Number(whole.replace(/\s/gu, '') + fraction) * (sign === '−' || sign === '-' ? -1 : 1);
  if (unit === '%') return Number((value / 100).toPrecision(12));
  return unit === 'k' ? value * 1000 : value;
}

/** Header and cells of a table as it stands on the screen. */
export function shownTable(table: HTMLTableElement): ShownTable {
  const textsOf = (row: HTMLTableRowElement) =>
    Array.from(row.cells).flatMap((cell) => [
      cell.textContent ?? '',
      ...Array<string>(Math.max(0, cell.colSpan - 1)).fill(''),
    ]);
  const header = Array.from(table.tHead?.rows ?? []).at(-1);
  return {
    header: header ? textsOf(header).map((text) => text.replace(/\s+/gu, ' ').trim()) : [],
    rows: Array.from(table.tBodies).flatMap((body) => Array.from(body.rows).map((row) => textsOf(row).map(shownValue))),
  };
}
