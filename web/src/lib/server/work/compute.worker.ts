import { dailyBars, realizedSeries } from '@umwelt/core/volatility';
import { encodeQuotes } from '@umwelt/market/chain-file';
import { encodeRows } from '@umwelt/market/table-file';
import { guessTerms, implyPrice } from '@umwelt/market/terms';
import type { z } from 'zod';
import {
  chainRows,
  evaluateByNumbers,
  evaluateBySymbol,
  listedValues,
  ON_SMILE,
  rangeBetween,
  rangeOf,
  solveHedge,
} from '../../theory/index.ts';
import { impliedVolatilityRequest, priceRequest } from '../../api/price.ts';
import { surfaceFitRequest } from '../../api/surface-fit.ts';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import { hedgeRequest } from '../../api/structure.ts';
import { realizedVolatilityRequest } from '../../api/realized-volatility.ts';
import { shelfFile } from '../../api/kept-structure.ts';
import { shownTableRequest } from '../../api/shown-table.ts';
import { type JsonBody, readJsonBody } from '../derive/json-body.ts';
import { shelfOf } from '../derive/shelf-of.ts';
import { joinPicture } from '../../api/picture.ts';
import { madeQuotes as quotesAtVolatilities } from '../derive/made-quotes.ts';
import { previewSmile as smileOfSlices } from '../derive/preview-smile.ts';
import { fitSurface } from '../derive/fit-surface.ts';
import { forecastRecordOf } from '../derive/forecast-record-of.ts';
import { instantMeasures } from '../derive/instant-measures.ts';
import { levelOf } from '../derive/level-of.ts';
import { oddsRows, oddsStrikes as strikesOf } from '../derive/odds-answers.ts';
import { oddsWindows as windowsOf } from '../derive/odds-windows.ts';
import { oddsBasis as basisOf } from '../derive/odds-basis.ts';
import { resourcesOf } from '../derive/resources-of.ts';
import { impliedVolatilityRow, priceRow } from '../derive/price-contracts.ts';
import { quotesOf } from '../derive/quotes-of.ts';
import { workbookOf } from '../exports/workbook.ts';
import type { ComputeTask, ComputeTasks } from '../derive/tasks.ts';

/*
 * What a worker thread can be asked, one function a task. The thread takes one task at a time; who comes next is decided by
 * `fair-turns`.
 */

type Task<N extends ComputeTask> = (o: ComputeTasks[N][0]) => ComputeTasks[N][1] | Promise<ComputeTasks[N][1]>;

/** Rows that are cut off and sent as one text. */
const ROWS_PER_PART = 256;
/** Time after which a turn ends, milliseconds: a waiting page notices nothing, and passing a turn on costs a fraction. */
const TURN = 40;

/** What is made of a body that holds together. */
async function ofBody<T extends z.ZodType, R>(
  body: Uint8Array,
  schema: T,
  make: (data: z.output<T>) => R | Promise<R>,
): Promise<JsonBody<R>> {
  const read = readJsonBody(body, schema);
  return read.type === 'body' ? { type: 'body', data: await make(read.data) } : read;
}

export const rowsPlan: Task<'rowsPlan'> = ({ kind, body }) =>
  ofBody(body, kind === 'price' ? priceRequest : impliedVolatilityRequest, ({ contracts, accuracy }) => {
    const parts: string[] = [];
    for (let i = 0; i < contracts.length; i += ROWS_PER_PART)
      parts.push(JSON.stringify(contracts.slice(i, i + ROWS_PER_PART)));
    return { accuracy, parts };
  });

export const rowsPiece: Task<'rowsPiece'> = ({ kind, part, from, accuracy }) => {
  const rows = JSON.parse(part) as unknown[];
  const answer = kind === 'price' ? priceRow : impliedVolatilityRow;
  const end = performance.now() + TURN;
  const texts: string[] = [];
  let i = from;
  while (i < rows.length && (i === from || performance.now() < end))
    texts.push(JSON.stringify(answer(rows[i++], accuracy)));
  return { text: texts.join(','), next: i < rows.length ? i : null };
};

export const surfaceFit: Task<'surfaceFit'> = ({ body }) =>
  ofBody(body, surfaceFitRequest, (asked) => JSON.stringify(fitSurface(asked)));

export const resources: Task<'resources'> = ({ input, isWhole }) => {
  const { surface, market, past } = resourcesOf(input);
  return {
    surface: JSON.stringify(surface),
    market: JSON.stringify(market),
    past: JSON.stringify(past),
    picture: isWhole ? JSON.stringify(joinPicture(surface, past, market)) : null,
  };
};

export const chain: Task<'chain'> = ({ expiry, inForce, options }) =>
  chainRows(expiry, options, listedValues(expiry, options, inForce));

export const measures: Task<'measures'> = (input) => instantMeasures(input);

export const range: Task<'range'> = ({ picture, dates, coverages, days }) => ({
  expiries: picture.expiries.filter((e) => dates.includes(e.date)).map((e) => rangeOf(picture, e, coverages)),
  between: days.map((day) => rangeBetween(picture, day, coverages)),
});
export const structure: Task<'structure'> = evaluateByNumbers;
export const listedStructure: Task<'listedStructure'> = ({ picture, request, ...o }) =>
  evaluateBySymbol(picture, request, { ...o, inForce: ON_SMILE });
export const hedge: Task<'hedge'> = ({ body }) => ofBody(body, hedgeRequest, solveHedge);
export const shelf: Task<'shelf'> = ({ body }) => ofBody(body, shelfFile, ({ text }) => shelfOf(text));
export const oddsBasis: Task<'oddsBasis'> = basisOf;
export const oddsWindows: Task<'oddsWindows'> = windowsOf;
export const odds: Task<'odds'> = ({ input, choice }) => oddsRows(input, choice);
export const oddsStrikes: Task<'oddsStrikes'> = ({ input, choice }) => strikesOf(input, choice);

export const level: Task<'level'> = (input) => JSON.stringify(levelOf(input));

export const forecastRecord: Task<'forecastRecord'> = (input) => JSON.stringify(forecastRecordOf(input));

export const realizedVolatility: Task<'realizedVolatility'> = ({ body }) =>
  ofBody(body, realizedVolatilityRequest, ({ bars, estimator, window }) =>
    Array.from(realizedSeries(dailyBars(bars), { estimator, window }), finiteOrNull),
  );

export const workbook: Task<'workbook'> = ({ body }) => ofBody(body, shownTableRequest, workbookOf);

export const tableGroup: Task<'tableGroup'> = ({ kind, records, start }) => encodeRows(kind, records, start);

export const chainGroup: Task<'chainGroup'> = ({ symbol, slices, ...o }) =>
  encodeQuotes(
    slices.flatMap((slice) => [...quotesOf(symbol, slice)]),
    o,
  );

export const terms: Task<'terms'> = (evidence) => guessTerms(evidence);
export const impliedPrices: Task<'impliedPrices'> = ({ slices, isFuture }) => implyPrice(slices, { isFuture });
export const madeQuotes: Task<'madeQuotes'> = (o) => quotesAtVolatilities(o);
export const previewSmile: Task<'previewSmile'> = (o) => smileOfSlices(o);
