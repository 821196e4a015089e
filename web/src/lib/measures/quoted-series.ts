import {
  freedPairs,
  freedSlice,
  type PremiumColumns,
  type Slice,
  smilePoints,
  smileVolatility,
  varianceStrip,
  type Verdicts,
} from '@umwelt/core/surface';
import { finiteOrNull } from '../api/finite-or-null.ts';
import { type ExpiryOverview, type ExpiryPicture, isQuoted } from '../api/picture.ts';
import { expirySmile } from '../theory/index.ts';
import type { InputSeries, Unit } from './measure.ts';

/* The quotes of an expiry as what is fitted to them reads them: without what they hold for early exercise, those judged out apart. */

interface FreedExpiry {
  slice: Slice;
  verdicts: Verdicts;
  premium: PremiumColumns | undefined;
}

function freed(expiry: ExpiryPicture): FreedExpiry {
  const column = (values: readonly (number | null)[]) => Float64Array.from(values, (v) => v ?? NaN);
  const verdictsOf = ({ verdict }: ExpiryPicture['call']) => verdict.map((v) => v ?? undefined);
  const { call, put, exercisedInto } = expiry;
  const quoted: Slice = {
    timeToExpiry: expiry.years,
    strikes: Float64Array.from(expiry.strikes),
    callBid: column(call.bid),
    callAsk: column(call.ask),
    putBid: column(put.bid),
    putAsk: column(put.ask),
  };
  const premium = exercisedInto
    ? { call: Float64Array.from(call.earlyExercise), put: Float64Array.from(put.earlyExercise) }
    : undefined;
  return {
    slice: premium ? freedSlice(quoted, premium) : quoted,
    verdicts: { call: verdictsOf(call), put: verdictsOf(put) },
    premium,
  };
}

const sourceOf = ({ exercisedInto }: ExpiryOverview) =>
  exercisedInto ? 'quotes, less what early exercise is worth' : 'quotes';

type Column = readonly [symbol: string, label: string, unit: Unit, values: ArrayLike<number>];

function seriesOf(label: string, source: string, columns: readonly Column[]): InputSeries {
  const [[, , , first]] = columns;
  return {
    label,
    source,
    columns: columns.map(([symbol, name, unit]) => ({ symbol, label: name, unit })),
    rows: Array.from(first, (_, i) => columns.map(([, , , values]) => finiteOrNull(values[i]))),
  };
}

/** Pairs of call and put that the forward is implied by; undefined without the quotes. */
export function pairSeries(expiry: ExpiryOverview): InputSeries[] | undefined {
  if (!isQuoted(expiry)) return undefined;
  const { slice, verdicts, premium } = freed(expiry);
  const { strike, gap, width } = freedPairs(slice, verdicts, premium);
  return [
    seriesOf('pairs of call and put', sourceOf(expiry), [
      ['K', 'strike', 'price', strike],
      ['g', 'call less put', 'premium', gap],
      ['u', premium ? 'half width, with what the premiums may err by' : 'half width', 'premium', width],
    ]),
  ];
}

/** Quotes of both sides that model-free variance is taken of; undefined without the quotes. */
export function stripSeries(expiry: ExpiryOverview): InputSeries[] | undefined {
  if (!isQuoted(expiry)) return undefined;
  const { slice, verdicts } = freed(expiry);
  const { strikes, call, put } = varianceStrip(slice, verdicts);
  return [
    seriesOf('strip of quotes', `${sourceOf(expiry)}; no mid where they are excluded`, [
      ['K', 'strike', 'price', strikes],
      ['C bid', 'call bid', 'premium', call.bid],
      ['C', 'call mid', 'premium', call.mid],
      ['P bid', 'put bid', 'premium', put.bid],
      ['P', 'put mid', 'premium', put.mid],
    ]),
  ];
}

/** The fitted smile and the quotes that it was fitted to, in volatility; undefined without the quotes. */
export function fittedSeries(expiry: ExpiryOverview): InputSeries[] | undefined {
  const smile = expirySmile(expiry);
  if (!isQuoted(expiry) || !smile) return undefined;
  const { slice, verdicts, premium } = freed(expiry);
  const { forward, discountFactor } = expiry;
  const points = smilePoints({ slice, verdicts, forward: { forward, discountFactor }, ...(premium && { premium }) });
  return [
    seriesOf('fitted quotes', `${sourceOf(expiry)}, one a strike`, [
      ['K', 'strike', 'price', points.map((p) => expiry.strikes[p.index])],
      ['σ bid', 'of the bid', 'volatility', points.map((p) => p.bid)],
      ['σ mid', 'of the mid', 'volatility', points.map((p) => p.volatility)],
      ['σ offer', 'of the offer', 'volatility', points.map((p) => p.ask)],
      ['σ fit', 'of the smile', 'volatility', points.map((p) => smileVolatility(smile, p.k))],
    ]),
  ];
}
