import { calendarYears } from '@umwelt/core/time';
import { describedSmile, type SmileDescription } from '@umwelt/core/surface';
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync, brotliDecompressSync, constants } from 'node:zlib';
import { z } from 'zod';
import { smileDescription } from '../../api/smile.ts';
import { DERIVATION_VERSION } from '../derive/measures-of.ts';
import type { StoredMeasures } from '../repositories/measures.ts';
import { DEMO_VERSION } from './demo-version.ts';

/*
 * The demo's past measures as they come with the code, a file an underlying: deriving two years of forty underlyings keeps two
 * cores busy for minutes, and gives the same on every machine. A file of another version than the code's is not used.
 */

/** Significant digits that are kept of a figure: a hundred times finer than any screen shows. */
const DIGITS = 6;
/** A kept smile lies no farther than this from the one that was fitted, in volatility, over the quotes that it was fitted to. */
const MOST_SMILE_ERROR = 1e-6;

/** What is stored of an underlying besides which one it is, as JSON. Unknown figures in lists are null; times follow from the dates. */
const shippedRow = z.object({
  instant: z.iso.datetime(),
  underlyingPrice: z.number(),
  atmByTenor: z.array(z.number().nullable()),
  index30: z.number().nullable(),
  riskReversal25: z.number().nullable(),
  butterfly25: z.number().nullable(),
  impliedFinancing: z.number().nullable(),
  impliedBorrow: z.number().nullable(),
  impliedDividends: z.array(z.object({ amount: z.number(), years: z.number() })).nullable(),
  smiles: z.array(
    z.object({
      expiry: z.iso.datetime(),
      forward: z.number(),
      smile: smileDescription,
      range: z.tuple([z.number(), z.number()]),
    }),
  ),
  exEvent30: z.number().nullable(),
  eventMoves: z.array(
    z.object({
      instant: z.iso.datetime(),
      kind: z.string(),
      move: z.number(),
      /** An end that the quotes do not tell is null */
      interval: z.tuple([z.number(), z.number().nullable()]),
    }),
  ),
  straddles: z.array(z.object({ expiry: z.iso.datetime(), forward: z.number(), straddle: z.number() })),
  quantiles: z.array(z.number().nullable()),
  quality: z.number().nullable(),
  realizedByWindow: z.array(z.number().nullable()),
  optionVolume: z.number(),
  openInterest: z.number(),
  quotes: z.number().int(),
  rejected: z.record(z.string(), z.number().int()),
});
type ShippedRow = z.infer<typeof shippedRow>;

const shippedFile = z.object({ version: z.number().int(), rows: z.array(shippedRow) });

/** The measures of an instant as a file keeps them. */
export function shippedMeasures(m: StoredMeasures): ShippedRow {
  const rest = {
    ...m,
    instant: m.instant.toISOString(),
    atmByTenor: m.atmByTenor.map(knownOrNull),
    quantiles: m.quantiles.map(knownOrNull),
    realizedByWindow: m.realizedByWindow.map(knownOrNull),
    smiles: m.smiles.map((s) => ({ ...s, smile: roundedSmile(s.smile, s) })),
    eventMoves: m.eventMoves.map(({ interval: [low, high], ...e }) => ({
      ...e,
      interval: [low, Number.isFinite(high) ? high : null],
    })),
  };
  return shippedRow.parse(rounded(rest));
}

const knownOrNull = (value: number): number | null => (Number.isNaN(value) ? null : value);
const numberOrNaN = (value: number | null): number => value ?? NaN;
const significant = (value: number, digits: number): number => Number(value.toPrecision(digits));

/** The same with fewer digits; smiles have had theirs counted. */
function rounded<T>(value: T, key = ''): T {
  if (typeof value === 'number') return significant(value, DIGITS) as T;
  if (key === 'smile' || value === null || typeof value !== 'object') return value;
  if (Array.isArray(value)) return value.map((item: unknown) => rounded(item)) as T;
  return Object.fromEntries(Object.entries(value).map(([name, item]) => [name, rounded(item as unknown, name)])) as T;
}

/** A smile with as few digits as leave it where it is: the parameters of a nearly straight one cancel each other. */
function roundedSmile(smile: SmileDescription, o: { years: number; range: [number, number] }): SmileDescription {
  const [low, high] = o.range;
  const places = [low, (2 * low + high) / 3, (low + 2 * high) / 3, high];
  const volatilities = (description: SmileDescription) => {
    const { totalVariance } = describedSmile(description, o.years);
    return places.map((k) => Math.sqrt(totalVariance(k) / o.years));
  };
  const exact = volatilities(smile);
  for (let digits = DIGITS - 2; digits < 17; digits++) {
    const tried = withDigits(smile, digits);
    if (volatilities(tried).every((v, i) => Math.abs(v - exact[i]) < MOST_SMILE_ERROR)) return tried;
  }
  return smile;
}

function withDigits(smile: SmileDescription, digits: number): SmileDescription {
  const parameters = Object.entries(smile.parameters).map(([name, value]: [string, number | number[]]) => [
    name,
    Array.isArray(value) ? value.map((v) => significant(v, digits)) : significant(value, digits),
  ]);
  return smileDescription.parse({ model: smile.model, parameters: Object.fromEntries(parameters) as unknown });
}

/** A file of these measures, which says what they come from. */
export function writeShipped(rows: readonly ShippedRow[]): Buffer {
  const text = JSON.stringify({ version: DEMO_VERSION, rows });
  const params = { [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY, [constants.BROTLI_PARAM_LGWIN]: 24 };
  return brotliCompressSync(text, { params });
}

/** Where an underlying's file is: beside the processes' folder when built, in the tree otherwise. */
export function shippedPath(symbol: string): string {
  const built = join(dirname(process.argv[1] ?? ''), '..', 'demo-measures');
  const folder = existsSync(built) ? built : fileURLToPath(new URL('../../../../demo-measures', import.meta.url));
  return join(folder, `${symbol}.json.br`);
}

/** What comes with the code of an underlying; undefined where it is of another version. */
export function shippedRows(symbol: string): readonly ShippedRow[] | undefined {
  const path = shippedPath(symbol);
  if (!existsSync(path)) return undefined;
  const { version, rows } = shippedFile.parse(JSON.parse(brotliDecompressSync(readFileSync(path)).toString()));
  return version === DEMO_VERSION ? rows : undefined;
}

/** The same as it is stored, by instant (milliseconds since 1970). */
export function readShipped(symbol: string, underlyingId: number): ReadonlyMap<number, StoredMeasures> | undefined {
  const rows = shippedRows(symbol);
  return rows && new Map(rows.map((row) => [Date.parse(row.instant), storedMeasures(row, underlyingId)]));
}

function storedMeasures(row: ShippedRow, underlyingId: number): StoredMeasures {
  const instant = new Date(row.instant);
  const dated = <T extends { expiry: string }>(each: T) => ({
    ...each,
    years: calendarYears(instant.getTime(), Date.parse(each.expiry)),
  });
  return {
    ...row,
    underlyingId,
    version: DERIVATION_VERSION,
    instant,
    atmByTenor: row.atmByTenor.map(numberOrNaN),
    quantiles: row.quantiles.map(numberOrNaN),
    realizedByWindow: row.realizedByWindow.map(numberOrNaN),
    smiles: row.smiles.map(dated),
    straddles: row.straddles.map(dated),
    eventMoves: row.eventMoves.map(({ interval: [low, high], ...e }) => ({ ...e, interval: [low, high ?? Infinity] })),
    source: 'demo',
  };
}
