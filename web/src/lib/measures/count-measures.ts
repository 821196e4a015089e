import { isFault } from '@umwelt/core/surface';
import type { ChainRow } from '../api/chain-row.ts';
import { type ExpiryOverview, isQuoted } from '../api/picture.ts';
import { reasonWords, shownExpiries } from '../market/index.ts';
import {
  CHAIN_SIDES,
  chainOptions,
  chainRows,
  type ChainSides,
  listedValues,
  volatilityInForce,
} from '../theory/index.ts';
import { dateText } from '../ui/format.ts';
import { subscript } from './formula.ts';
import {
  type Derivation,
  type ExpiryMeasure,
  type ExpirySubject,
  formula,
  type InputSeries,
  type LevelMeasure,
  type LevelSubject,
  type WorkingsInput,
} from './measure.ts';

const PRACTICE = 'Common practice, no source';

type Standing = 'inside' | 'dear' | 'cheap' | 'unjudged';
type KeptOut = 'faulty' | 'unfit';

/** Identifier of how many of an expiry's quotes stand so to theory; of both sides of every strike or the one out of the money. */
export function standingCount(standing: Standing, sides: ChainSides): string {
  return `quotes-${standing}-${sides}`;
}
/** Identifier of how many quotes are kept out of the fit: of an expiry, or without one of all that are shown. */
export function keptOutCount(kind: KeptOut): string {
  return `quotes-${kind}`;
}

/** What theory makes of an expiry's quotes is the most of the work, and the same for all counts of a subject. */
const rowsBySubject = new WeakMap<ExpirySubject, Partial<Record<ChainSides, ChainRow[]>>>();

function rowsOf(subject: ExpirySubject, sides: ChainSides): ChainRow[] | undefined {
  const { picture, context, expiry } = subject;
  if (!isQuoted(expiry)) return undefined;
  const known = rowsBySubject.get(subject) ?? {};
  rowsBySubject.set(subject, known);
  const options = chainOptions(expiry, sides);
  known[sides] ??= chainRows(expiry, options, listedValues(expiry, options, volatilityInForce(picture, context)));
  return known[sides];
}

/** Quotes of an expiry with what theory makes of them, those that are judged; the others without their theory. */
function judgedSeries(rows: readonly ChainRow[] | undefined): InputSeries[] | undefined {
  return (
    rows && [
      {
        label: 'quotes and theory',
        source: 'no V where bid or offer is missing or faulty, or the source in force has no volatility',
        columns: [
          { symbol: 'K', label: 'strike', unit: 'price' },
          { symbol: 'put', label: '1 of a put, 0 of a call', unit: 'count' },
          { symbol: 'bid', label: 'bid', unit: 'quote' },
          { symbol: 'V', label: 'theory', unit: 'premium' },
          { symbol: 'offer', label: 'offer', unit: 'quote' },
        ],
        rows: rows.map((row) => [
          row.strike,
          row.side === 'put' ? 1 : 0,
          row.bid,
          row.standing === null ? null : row.theory,
          row.ask,
        ]),
      },
    ]
  );
}

const STANDINGS: Record<
  Standing,
  { label: string; definition: string; text: string; holds(bid: number, theory: number, ask: number): boolean }
> = {
  inside: {
    label: 'quotes that hold theory inside',
    definition: 'How many quotes have theory between bid and offer, or on either.',
    text: 'count(bid ≤ V ≤ offer)',
    holds: (bid, theory, ask) => bid <= theory && theory <= ask,
  },
  dear: {
    label: 'dear quotes',
    definition: 'How many quotes have a bid above theory.',
    text: 'count(bid > V)',
    holds: (bid, theory) => bid > theory,
  },
  cheap: {
    label: 'cheap quotes',
    definition: 'How many quotes have an offer below theory.',
    text: 'count(offer < V)',
    holds: (_bid, theory, ask) => ask < theory,
  },
  unjudged: {
    label: 'quotes that cannot be judged',
    definition: 'How many quotes are not held against theory: without bid or offer, faulty, or without a volatility.',
    text: 'count(no V)',
    holds: (_bid, theory) => Number.isNaN(theory),
  },
};

function standingMeasure(standing: Standing, sides: ChainSides): ExpiryMeasure {
  const { label, definition, text, holds } = STANDINGS[standing];
  const count = (bid: ArrayLike<number>, theory: ArrayLike<number>, ask: ArrayLike<number>) =>
    Array.from(bid).filter((b, i) => holds(b, theory[i], ask[i])).length;
  return {
    id: standingCount(standing, sides),
    label,
    unit: 'count',
    definition: `${definition} ${sides === 'out' ? 'Of each strike the side out of the money.' : 'Of both sides of every strike.'}`,
    derivation: {
      kind: 'procedure',
      text,
      settings: { sides },
      run: (inputs) => count(inputs.column('bid'), inputs.column('V'), inputs.column('offer')),
    },
    source: PRACTICE,
    value: (subject) =>
      rowsOf(subject, sides)?.filter((row) => (standing === 'unjudged' ? null : standing) === row.standing).length ??
      null,
    inputs: () => [],
    series: (subject) => judgedSeries(rowsOf(subject, sides)),
    needsQuotes: true,
  };
}

/** Quotes kept out by reason, those of a kind. */
function reasons(expiries: readonly ExpiryOverview[], kind: KeptOut, asOf: string): WorkingsInput[] {
  return expiries
    .flatMap((e) => e.keptOut.map((k) => ({ ...k, date: e.date })))
    .filter(({ reason }) => isFault(reason) === (kind === 'faulty'))
    .map(({ reason, count, date }, i) => ({
      symbol: `n${subscript(i + 1)}`,
      label: reasonWords(reason),
      value: count,
      unit: 'count',
      source: dateText(date, asOf),
    }));
}

const KEPT_OUT: Record<KeptOut, { label: string; definition: string }> = {
  faulty: {
    label: 'faulty quotes',
    definition: 'How many quotes contradict themselves or their neighbors, and are excluded from the fit.',
  },
  unfit: {
    label: 'quotes that are not fitted',
    definition: 'How many quotes are no fault, but of no use to the fit.',
  },
};

const sumOf = (inputs: readonly WorkingsInput[]) => inputs.reduce((sum, { value }) => sum + (value ?? 0), 0);
const total = (inputs: readonly WorkingsInput[]): Derivation => formula(inputs.length > 0 ? 'Σ nⱼ' : '0');

const shown = ({ picture, context }: LevelSubject) => shownExpiries(picture, context);

/** Counts of quotes over the expiries that are shown. */
export const LEVEL_COUNTS: readonly LevelMeasure[] = (['faulty', 'unfit'] as const).map((kind) => {
  const inputs = (subject: LevelSubject) => reasons(shown(subject), kind, subject.picture.asOf);
  return {
    ...{ id: keptOutCount(kind), unit: 'count', source: PRACTICE, ...KEPT_OUT[kind] },
    derivation: (subject) => total(inputs(subject)),
    value: (subject) => sumOf(inputs(subject)),
    inputs,
  };
});

/** Counts of an expiry's quotes; those against theory take long, and are worth asking for one by one. */
export const EXPIRY_COUNTS: readonly ExpiryMeasure[] = [
  ...CHAIN_SIDES.flatMap((sides) =>
    (Object.keys(STANDINGS) as Standing[]).map((standing) => standingMeasure(standing, sides)),
  ),
  ...(['faulty', 'unfit'] as const).map((kind): ExpiryMeasure => {
    const inputs = ({ picture, expiry }: ExpirySubject) => reasons([expiry], kind, picture.asOf);
    return {
      ...{ id: keptOutCount(kind), unit: 'count', source: PRACTICE, ...KEPT_OUT[kind] },
      derivation: (subject) => total(inputs(subject)),
      value: (subject) => sumOf(inputs(subject)),
      inputs,
    };
  }),
];
