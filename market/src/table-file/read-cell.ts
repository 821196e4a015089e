import { isSymbol, SYMBOL_RULE } from '../symbol/index.ts';
import type { Cell, TableColumn } from '../table-format/index.ts';
import { INSTANT_RANGE, instantOf, isCivilDate, isInRange, isoInZone } from '../zone/index.ts';
import { unescapeFormula } from './formula-escape.ts';

export type CellResult = { ok: true; value: Cell } | { ok: false; remedy: string };

const DECIMAL = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$/;
// eslint-disable-next-line no-control-regex -- these are what is looked for
const CONTROL = /[\u0000-\u001f\u007f]/;
const LONGEST_TEXT = 200;

/** A cell of a table as its column wants it, or how to mend it. @param o.isText whether the file holds text alone, as CSV */
export function readCell(given: unknown, column: TableColumn, o: { zone: string; isText: boolean }): CellResult {
  if (given === null || given === undefined || given === '' || Number.isNaN(given)) {
    return column.isOptional ? { ok: true, value: null } : { ok: false, remedy: 'must not be empty' };
  }
  switch (column.type) {
    case 'number':
      return readNumber(given, column);
    case 'date': {
      const value = given instanceof Date && isInRange(+given) ? given.toISOString().slice(0, 10) : textOf(given);
      return isCivilDate(value)
        ? { ok: true, value }
        : { ok: false, remedy: `an existing date as YYYY-MM-DD, ${INSTANT_RANGE}` };
    }
    case 'instant': {
      const at = given instanceof Date ? given.getTime() : instantOf(textOf(given), o.zone);
      return at !== undefined && isInRange(at)
        ? { ok: true, value: isoInZone(at, o.zone) }
        : { ok: false, remedy: `an existing instant as 2031-03-14T17:30:00+01:00, ${INSTANT_RANGE}` };
    }
    case 'text':
      if (typeof given === 'object') return { ok: false, remedy: 'a plain value' };
      return readText(o.isText ? unescapeFormula(textOf(given)) : textOf(given), column);
  }
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
