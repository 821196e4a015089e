import { isSymbol, SYMBOL_RULE } from '../symbol/index.ts';
import type { Cell, TableColumn } from '../table-format/index.ts';
import { isMissing, parseCount, parseInstant, parseVolatility } from '../cell-text/index.ts';
import type { DateOrder, DecimalMark } from '../chain-format/index.ts';
import { INSTANT_RANGE, instantOf, isCivilDate, isInRange, isoInZone } from '../zone/index.ts';
import { unescapeFormula } from '../table-format/index.ts';

export type CellResult = { ok: true; value: Cell } | { ok: false; remedy: string };

const DECIMAL = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$/;
// eslint-disable-next-line no-control-regex -- these are what is looked for
const CONTROL = /[\u0000-\u001f\u007f]/;
const LONGEST_TEXT = 200;

/** How texts of a file are written. */
export interface CellMarks {
  decimal: DecimalMark;
  dateOrder: DateOrder;
  /** Shares stand in percent */
  isPercent: boolean;
}

interface CellOptions {
  zone: string;
  /** Of a file that holds text alone, as CSV; undefined where values have types */
  marks?: CellMarks;
}

/** A cell of a table as its column wants it, or how to mend it. */
export function readCell(given: unknown, column: TableColumn, o: CellOptions): CellResult {
  const isNone = given === null || given === undefined || given === '' || Number.isNaN(given);
  if (isNone || (o.marks && column.isOptional && typeof given === 'string' && isMissing(given))) {
    return column.isOptional ? { ok: true, value: null } : { ok: false, remedy: 'must not be empty' };
  }
  switch (column.type) {
    case 'number':
      return readNumber(o.marks && typeof given === 'string' ? numberOfText(given, column, o.marks) : given, column);
    case 'date': {
      const value =
        given instanceof Date && isInRange(+given) ? given.toISOString().slice(0, 10) : civilText(textOf(given), o);
      return isCivilDate(value)
        ? { ok: true, value }
        : { ok: false, remedy: `an existing date as YYYY-MM-DD, ${INSTANT_RANGE}` };
    }
    case 'instant': {
      const at = given instanceof Date ? given.getTime() : instantOfText(textOf(given), o);
      return at !== undefined && isInRange(at)
        ? { ok: true, value: isoInZone(at, o.zone) }
        : { ok: false, remedy: `an existing instant as 2031-03-14T17:30:00+01:00, ${INSTANT_RANGE}` };
    }
    case 'text':
      if (typeof given === 'object') return { ok: false, remedy: 'a plain value' };
      return readText(o.marks ? unescapeFormula(textOf(given)) : textOf(given), column);
  }
}

/** A number as programs write it, or the text itself where it is none. */
function numberOfText(text: string, column: TableColumn, { decimal, isPercent }: CellMarks): number | string {
  if (DECIMAL.test(text.trim()) && decimal === '.' && !(column.isShare && isPercent)) return text;
  const value =
    column.isShare && (isPercent || text.includes('%'))
      ? parseVolatility(text, { decimal, unit: isPercent ? 'percent' : 'decimal' })
      : parseCount(text, decimal);
  return Number.isNaN(value) ? text : value;
}

/** A date as YYYY-MM-DD, where the text is one with or without a time. */
function civilText(text: string, { marks }: CellOptions): string {
  if (!marks || isCivilDate(text)) return text;
  const at = parseInstant(text, { order: marks.dateOrder, zone: 'UTC', defaultTime: '12:00' });
  return at === undefined ? text : new Date(at).toISOString().slice(0, 10);
}

function instantOfText(text: string, { zone, marks }: CellOptions): number | undefined {
  const iso = instantOf(text, zone);
  return iso ?? (marks && parseInstant(text, { order: marks.dateOrder, zone, defaultTime: '00:00' }));
}

function readNumber(given: unknown, { above, least, most }: TableColumn): CellResult {
  const isPlain =
    typeof given === 'number' || typeof given === 'bigint' || (typeof given === 'string' && DECIMAL.test(given.trim()));
  const value = isPlain ? Number(given) : NaN;
  if (!Number.isFinite(value)) return { ok: false, remedy: 'a number with a decimal point' };
  if (above !== undefined && value <= above) return { ok: false, remedy: `must be above ${above}` };
  if (least !== undefined && value < least) return { ok: false, remedy: `must be ${least} or more` };
  if (most !== undefined && value > most) return { ok: false, remedy: `must be ${most} or less` };
  return { ok: true, value };
}

function readText(text: string, column: TableColumn): CellResult {
  if (CONTROL.test(text)) return { ok: false, remedy: 'must not hold control characters' };
  if (column.isSymbol && !isSymbol(text)) return { ok: false, remedy: SYMBOL_RULE };
  if (text.length > LONGEST_TEXT) return { ok: false, remedy: `at most ${LONGEST_TEXT} characters` };
  return { ok: true, value: text };
}

/** A cell in words, for messages. */
export function textOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  // Not what is in it: that may be nested deeper than the stack.
  return typeof value === 'object' ? '(a list or object)' : String(value as string | number | bigint | boolean);
}
