import {
  type ChainFormat,
  type ColumnMapping,
  type DateOrder,
  type DecimalMark,
  type Delimiter,
  type Encoding,
  isWide,
  type VolatilityUnit,
} from '../chain-format/index.ts';
import { civilInZone, VELDMAR_ZONE } from '../zone/index.ts';
import { detectText, type GridRow, headerIndex } from '../table-file/index.ts';
import { currencyOf, type Fact, factsAbove, kindOfText } from './find-facts.ts';
import { fitColumns } from './fit-columns.ts';
import { headerScore, mapColumns, sideOfText } from './header-words.ts';
import { clockNamed, detectDateOrder, parseInstant, zoneNamed } from '../cell-text/index.ts';
import { isMissing, parseExercise } from '../cell-text/index.ts';

export interface DetectedFormat {
  ok: true;
  format: ChainFormat;
  headers: string[];
  /** First lines under the header, as text */
  rows: GridRow[];
  /** First lines of the file as they stand, to choose the header from */
  top: GridRow[];
  mapping: ColumnMapping;
  /** What stands once outside the columns, the surest first */
  facts: Fact[];
  /** Day and month could be either way round in what was seen */
  isDateOrderAmbiguous: boolean;
  /** Which half of the columns belongs to calls was told by their order alone */
  areSidesAssumed: boolean;
  /** Zone that all instants of quotes name, and time of day that expiries have, where they do */
  zone?: string;
  sessionClose?: string;
}
export type DetectResult = DetectedFormat | { ok: false; reason: 'empty' | 'binary' | 'no-table' };

/** What is known or chosen already. */
export type ChosenFormat = Partial<Pick<ChainFormat, 'encoding' | 'delimiter' | 'headerLine' | 'sheet'>>;

const SHOWN_TOP = 20;

/** Recognises encoding and delimiter from the first bytes of a text, unfolded already, and all else from its first lines. */
export async function detectFormat(
  sample: Uint8Array,
  o: { isWhole: boolean; chosen?: ChosenFormat },
): Promise<DetectResult> {
  const text = await detectText(sample, { ...o, score: headerScore });
  if (!text.ok) return text;
  return detectColumns(text.rows, { ...text, headerLine: o.chosen?.headerLine });
}

/**
 * Recognises header, columns, marks and order of dates from the first lines of a file.
 * @param o.headerLine as the user chose it
 */
export function detectColumns(
  given: readonly GridRow[],
  o: { encoding: Encoding; delimiter: Delimiter; headerLine?: number; sheet?: string },
): DetectResult {
  const all = given.map(({ line, cells }) => ({ line, cells: cells.map((cell) => cell.trim()) }));
  if (all.length === 0) return { ok: false, reason: 'empty' };
  const chosen = all.findIndex((row) => row.line === o.headerLine);
  const at = chosen >= 0 ? chosen : headerPlace(all);
  const headers = all[at].cells;
  const groups = groupLine(all[at - 1]);
  const below = all.slice(at + 1);
  const cells = below.map((row) => row.cells);
  const byHeader = mapColumns(headers, groups);
  const mapping = fitColumns(byHeader.mapping, headers, cells);
  const facts = [...factsOfHeader(headers, groups, cells, mapping), ...factsAbove(all.slice(0, groups ? at - 1 : at))];
  const textsOf = (field: 'expiry' | 'asOf') => {
    const column = mapping[field];
    const once = facts.filter((f) => f.field === field).map((f) => f.value);
    return column === undefined ? once : [...once, ...cells.map((row) => row[column] ?? '')];
  };
  const zone = agreed(textsOf('asOf'), zoneNamed);
  const { order, isAmbiguous } = detectDateOrder([...textsOf('expiry'), ...textsOf('asOf')]);
  return {
    ok: true,
    format: {
      encoding: o.encoding,
      delimiter: o.delimiter,
      decimal: detectDecimal(cells, mapping),
      dateOrder: order,
      volatilityUnit: detectVolatilityUnit(cells, mapping),
      headerLine: all[at].line,
      ...(o.sheet === undefined ? {} : { sheet: o.sheet }),
    },
    headers,
    rows: below,
    top: all.slice(0, SHOWN_TOP),
    mapping,
    facts,
    isDateOrderAmbiguous: isAmbiguous,
    areSidesAssumed: byHeader.areSidesAssumed && isWide(mapping),
    zone,
    sessionClose: agreed(textsOf('expiry'), (text) => closeNamed(text, order, zone ?? VELDMAR_ZONE)),
  };
}

/** Time of day, HH:MM in a zone, of an expiry that is written with one. */
function closeNamed(text: string, order: DateOrder, zone: string): string | undefined {
  if (clockNamed(text) === undefined) return undefined;
  const at = parseInstant(text, { order, zone, defaultTime: '00:00' });
  if (at === undefined) return undefined;
  const { hour, minute } = civilInZone(at, zone);
  return [hour, minute].map((n) => String(n).padStart(2, '0')).join(':');
}

/** What all texts that are not missing agree in. */
function agreed(texts: readonly string[], read: (text: string) => string | undefined): string | undefined {
  const found = new Set(texts.filter((text) => !isMissing(text)).map(read));
  return found.size === 1 ? [...found][0] : undefined;
}

/** The line that names most fields; the first one where none names two. */
function headerPlace(rows: readonly GridRow[]): number {
  const named = headerIndex(rows, headerScore);
  if (named !== undefined) return named;
  // Words unknown here: the first line that is as wide as the table under it.
  const widest = Math.max(...rows.map((row) => row.cells.length));
  return Math.max(
    0,
    rows.findIndex((row) => row.cells.length === widest),
  );
}

/** The line above a header if it groups columns by side. */
function groupLine(above: GridRow | undefined): readonly string[] | undefined {
  if (!above) return undefined;
  const labels = above.cells.filter((cell) => cell !== '').map(sideOfText);
  const isGroup = labels.length > 0 && labels.length <= 4 && labels.includes('call') && labels.includes('put');
  return isGroup ? above.cells : undefined;
}

/** Currency by codes or signs in headers and prices, and the side where one label or none of the columns tells it. */
function factsOfHeader(
  headers: readonly string[],
  groups: readonly string[] | undefined,
  rows: readonly string[][],
  mapping: ColumnMapping,
): Fact[] {
  const facts: Fact[] = [];
  const priced = (['bid', 'ask', 'callBid', 'putBid', 'last', 'underlyingPrice', 'strike'] as const)
    .map((field) => mapping[field])
    .filter((column) => column !== undefined);
  const named = headers.map((h) => currencyOf(h)).find((c) => c !== undefined);
  if (named) facts.push({ field: 'currency', value: named, from: 'header' });
  const inCells = priced.flatMap((column) => currencyOf(rows[0]?.[column] ?? '') ?? [])[0];
  if (inCells) facts.push({ field: 'currency', value: inCells, from: 'prices' });
  const size = headers.map((h) => /\bx\s?(\d{2,6})\b/i.exec(h)?.[1]).find((s) => s !== undefined);
  if (size) facts.push({ field: 'multiplier', value: size, from: 'header' });
  const kind = mapping.underlyingPrice === undefined ? undefined : kindOfText(headers[mapping.underlyingPrice]);
  if (kind) facts.push({ field: 'kind', value: kind, from: 'header' });
  for (const field of ['multiplier', 'currency', 'exercise', 'kind'] as const) {
    const column = mapping[field];
    const cell = column === undefined ? undefined : rows.map((row) => row[column] ?? '').find((c) => !isMissing(c));
    const value = cell && termOf(field, cell);
    // A column goes before what a title says.
    if (value && (field !== 'multiplier' || Number(value) > 0))
      facts.unshift({ field, value, from: `column ${headers[column ?? 0]}` });
  }
  const sides = new Set((groups ?? []).map(sideOfText).filter((side) => side !== undefined));
  if (sides.size === 1) facts.push({ field: 'side', value: [...sides][0], from: 'header' });
  return facts;
}

function termOf(field: 'multiplier' | 'currency' | 'exercise' | 'kind', cell: string): string | undefined {
  switch (field) {
    case 'exercise':
      return parseExercise(cell);
    case 'currency':
      return currencyOf(cell);
    case 'kind':
      return kindOfText(cell);
    case 'multiplier':
      return cell;
  }
}

const PRICED = ['bid', 'ask', 'callBid', 'callAsk', 'putBid', 'putAsk', 'strike', 'underlyingPrice', 'last'] as const;
const VOLATILE = [
  ...(['volatility', 'callVolatility', 'putVolatility', 'bidVolatility', 'askVolatility'] as const),
  ...(['callBidVolatility', 'putBidVolatility'] as const),
];

function detectDecimal(rows: readonly string[][], mapping: ColumnMapping): DecimalMark {
  for (const field of [...PRICED, ...VOLATILE]) {
    const column = mapping[field];
    if (column === undefined) continue;
    for (const row of rows) {
      // The last mark of a number is its decimal mark, unless exactly three digits follow (then it may group).
      const match = /([.,])(\d+)\D*$/.exec(row[column] ?? '');
      if (match && match[2].length !== 3) return match[1] as DecimalMark;
    }
  }
  return '.';
}

/** A volatility above 300 % is rarer than a column in percent. */
const HIGHEST_DECIMAL = 3;

function detectVolatilityUnit(rows: readonly string[][], mapping: ColumnMapping): VolatilityUnit {
  const values = VOLATILE.flatMap((field) => {
    const column = mapping[field];
    return column === undefined ? [] : rows.map((row) => Number((row[column] ?? '').replace(',', '.')));
  }).filter((v) => v > 0);
  values.sort((a, b) => a - b);
  return values.length > 0 && values[values.length >> 1] > HIGHEST_DECIMAL ? 'percent' : 'decimal';
}
