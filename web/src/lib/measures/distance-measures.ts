import { normalQuantile } from '@umwelt/core/math';
import type { ExpiryPicture } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';
import {
  chainRow,
  type DistanceCount,
  DISTANCES,
  type DistantOption,
  listedContract,
  listedValues,
  ON_SMILE,
  sameDistance,
  type SameDistanceRow,
} from '../theory/index.ts';
import {
  type Derivation,
  type ExpirySubject,
  formula,
  type Measure,
  type QuoteMeasure,
  type QuoteSubject,
  STORED,
  type WorkingsInput,
} from './measure.ts';
import { QUOTE_MEASURES } from './quote-measures.ts';

/** A put and a call of one expiry the same distance from its forward, on the fitted smile. */
export interface DistanceSubject extends ExpirySubject {
  expiry: ExpiryPicture;
  by: DistanceCount;
  row: SameDistanceRow;
}
export type DistanceMeasure = Measure<DistanceSubject>;

const PRACTICE = 'Common practice, no source';

/** Identifier of a figure of a put and a call the same distance away. */
export function distanceFigure(measure: string, date: string, by: DistanceCount, distance: number): string {
  return ['distance', measure, date, by, distance].join('~');
}

/** What an identifier of such a figure says; undefined of any other. */
export function distanceParts(
  id: string,
): { measure: string; date: string; by: DistanceCount; distance: number } | undefined {
  const [kind, measure, date, count, distance] = id.split('~');
  const by = DISTANCES.find((name) => name === count);
  return kind === 'distance' && by ? { measure, date, by, distance: Number(distance) } : undefined;
}

/** The put and the call that an identifier means, where the smile has them. */
export function distanceRow(expiry: ExpiryPicture, by: DistanceCount, distance: number): SameDistanceRow | undefined {
  return sameDistance(expiry, by).find((r) => r.distance === distance);
}

/** All figures of an option come from one valuation. */
const quotesBySubject = new WeakMap<DistanceSubject, Map<DistantOption, QuoteSubject>>();

/** One of the two as a quote that nobody makes: valued on the smile, whatever source is in force elsewhere. */
function quoteOf(subject: DistanceSubject, option: DistantOption): QuoteSubject {
  const known = quotesBySubject.get(subject) ?? new Map<DistantOption, QuoteSubject>();
  quotesBySubject.set(subject, known);
  const quote = known.get(option) ?? valuedQuote(subject, option);
  known.set(option, quote);
  return quote;
}

function valuedQuote({ picture, context, expiry }: DistanceSubject, option: DistantOption): QuoteSubject {
  const [value] = listedValues(expiry, [option], ON_SMILE);
  return {
    picture,
    context: { ...context, volatilitySource: 'smile' },
    expiry,
    row: chainRow(expiry, option, value),
    contract: value && listedContract(expiry, option, value.volatility),
  };
}

const priceOf = (subject: DistanceSubject, side: Side): number | null => {
  const option = subject.row[side];
  return option ? quoteOf(subject, option).row.theory : null;
};

/** A figure of a quote, taken of one of the two. */
function asQuote(id: string, side: Side, label: string, of: QuoteMeasure): DistanceMeasure {
  const told = <T>(subject: DistanceSubject, tell: (quote: QuoteSubject) => T, otherwise: T): T => {
    const option = subject.row[side];
    return option ? tell(quoteOf(subject, option)) : otherwise;
  };
  const { definition, derivation, source } = of;
  return {
    id,
    label: `${label} of the ${side}`,
    unit: of.unit,
    definition: typeof definition === 'string' ? definition : (s) => told(s, definition, ''),
    absence: 'beyond the quotes that were fitted',
    derivation: typeof derivation === 'function' ? (s) => told(s, derivation, STORED) : derivation,
    source: typeof source === 'string' ? source : (s) => told(s, source, ''),
    value: (s) => told(s, of.value, null),
    inputs: (s) => told(s, of.inputs, []),
    note: (s) => told(s, (q) => of.note?.(q), undefined),
    request: (s) => told(s, (q) => of.request?.(q), undefined),
  };
}

/** Where a distance is reached. */
const STRIKES: Record<DistanceCount, Record<Side, Derivation>> = {
  percent: { put: formula('F (1 − d / 100)'), call: formula('F (1 + d / 100)') },
  strikes: {
    put: { kind: 'stored', text: 'the listed strike so many below the forward' },
    call: { kind: 'stored', text: 'the listed strike so many above the forward' },
  },
  delta: { put: formula('F e^(σ² T / 2 + z σ √T)'), call: formula('F e^(σ² T / 2 − z σ √T)') },
};
const COUNTED: Record<DistanceCount, string> = {
  percent: 'percent of the forward',
  strikes: 'strikes',
  delta: 'hundredths of forward delta',
};

const strikeOf = (side: Side): DistanceMeasure => ({
  id: `${side}Strike`,
  label: `strike of the ${side}`,
  unit: 'price',
  definition: 'Where this distance from the forward is reached.',
  absence: 'beyond the quotes that were fitted',
  derivation: ({ by }) => STRIKES[by][side],
  source: PRACTICE,
  value: ({ row }) => row[side]?.strike ?? null,
  inputs: ({ expiry, by, row }): WorkingsInput[] => [
    { symbol: 'F', label: 'forward', value: expiry.forward, unit: 'price', source: expiry.forwardSource },
    { symbol: 'd', label: COUNTED[by], value: row.distance, unit: 'count', source: 'of the table' },
    ...(by === 'delta'
      ? ([
          {
            symbol: 'z',
            label: 'normal quantile of the delta',
            value: normalQuantile(row.distance / 100),
            unit: 'factor',
            source: 'N(z) = d / 100',
          },
          {
            symbol: 'σ',
            label: 'volatility at the strike',
            value: row[side]?.volatility ?? null,
            unit: 'volatility',
            source: 'fitted smile',
          },
          { symbol: 'T', label: 'time to expiry', value: expiry.years, unit: 'years', source: 'calendar, ACT/365' },
        ] as const)
      : []),
  ],
});

const bothPrices = (subject: DistanceSubject): WorkingsInput[] =>
  (['put', 'call'] as const).map((side) => ({
    symbol: side === 'put' ? 'P' : 'C',
    label: `value of the ${side}`,
    value: priceOf(subject, side),
    unit: 'premium',
    source: 'theory on the fitted smile',
  }));

const ofBoth = (subject: DistanceSubject, join: (put: number, call: number) => number | null): number | null => {
  const [put, call] = [priceOf(subject, 'put'), priceOf(subject, 'call')];
  return put === null || call === null ? null : join(put, call);
};

const named = (id: string): QuoteMeasure => {
  const found = QUOTE_MEASURES.find((m) => m.id === id);
  if (!found) throw new Error(`no figure of a quote is called ${id}`);
  return found;
};

/** What a put and a call the same distance away are, and cost, side by side. */
export const DISTANCE_MEASURES: readonly DistanceMeasure[] = [
  ...(['put', 'call'] as const).flatMap((side) => [
    strikeOf(side),
    asQuote(`${side}Volatility`, side, 'fitted volatility', named('fitVolatility')),
    asQuote(`${side}Value`, side, 'value', named('theory')),
  ]),
  {
    id: 'ratio',
    label: 'put over call',
    unit: 'factor',
    definition: 'Value of the put over that of the call.',
    absence: 'unless both have a value',
    derivation: formula('P / C'),
    source: PRACTICE,
    value: (subject) => ofBoth(subject, (put, call) => (call > 0 ? put / call : null)),
    inputs: bothPrices,
  },
  {
    id: 'difference',
    label: 'put less call',
    unit: 'premium',
    definition: 'Value of the put less that of the call.',
    absence: 'unless both have a value',
    derivation: formula('P − C'),
    source: PRACTICE,
    value: (subject) => ofBoth(subject, (put, call) => put - call),
    inputs: bothPrices,
  },
  {
    id: 'points',
    label: 'volatility of the put less that of the call',
    unit: 'points',
    definition: 'How much dearer the smile has the put, in volatility.',
    absence: 'unless both have one',
    derivation: formula('σP − σC'),
    source: PRACTICE,
    value: ({ row }) => (row.put && row.call ? row.put.volatility - row.call.volatility : null),
    inputs: ({ row }) =>
      (['put', 'call'] as const).map((side) => ({
        symbol: side === 'put' ? 'σP' : 'σC',
        label: `volatility of the ${side}`,
        value: row[side]?.volatility ?? null,
        unit: 'volatility',
        source: 'fitted smile',
      })),
  },
];
