import type { TradedLegText } from '../api/traded.ts';
import { spreadValue } from '../theory/index.ts';
import { subscript } from './formula.ts';
import { formula, type Measure, STORED, type WorkingsInput } from './measure.ts';

/** A listed spread with its quote, and what theory makes of its legs. */
export interface SpreadSubject {
  spread: { legs: readonly TradedLegText[]; bid: number; ask: number; bidSize: number; askSize: number };
  /** One unit of each leg, in their order; null of one that is not listed or has no volatility */
  legValues: readonly (number | null)[];
  /** In words, of the instant they were quoted at */
  quoted: string;
}
export type SpreadMeasure = Measure<SpreadSubject>;

const PRACTICE = 'Common practice, no source';

/** Identifier of a figure of a listed spread: by its legs, since its place among the others changes. */
export function spreadFigure(measure: string, legs: readonly TradedLegText[]): string {
  return ['spread', measure, legs.map((l) => `${l.ratio}.${l.expiry}.${l.side}.${l.strike}`).join('_')].join('~');
}

const theoryOf = ({ spread, legValues }: SpreadSubject) => spreadValue(spread.legs, legValues);

function gapOf(subject: SpreadSubject): number | null {
  const theory = theoryOf(subject);
  const { bid, ask } = subject.spread;
  return theory === null ? null : bid > theory ? bid - theory : ask < theory ? ask - theory : 0;
}

const stored = (id: 'bid' | 'ask' | 'bidSize' | 'askSize', label: string, definition: string): SpreadMeasure => ({
  id,
  label,
  unit: id === 'bid' || id === 'ask' ? 'quote' : 'count',
  definition,
  derivation: STORED,
  source: 'Stored with the spreads',
  value: ({ spread }) => spread[id],
  inputs: () => [],
});

/** Figures of a listed spread. */
export const SPREAD_MEASURES: readonly SpreadMeasure[] = [
  stored('bid', 'bid of the spread', 'What is bid for one unit, as stored.'),
  stored('ask', 'offer of the spread', 'What one unit is offered at, as stored.'),
  stored('bidSize', 'bid size', 'Units bid for, as stored.'),
  stored('askSize', 'offer size', 'Units on offer, as stored.'),
  {
    id: 'theory',
    label: 'theory of the spread',
    unit: 'premium',
    definition: 'The legs valued on the volatility in force, each times its ratio.',
    absence: 'where a leg has none',
    derivation: formula('Σ nⱼ Vⱼ'),
    source: PRACTICE,
    value: theoryOf,
    inputs: ({ spread, legValues }) =>
      spread.legs.flatMap((leg, i): WorkingsInput[] => [
        {
          symbol: `n${subscript(i + 1)}`,
          label: 'contracts bought with one unit',
          value: leg.ratio,
          unit: 'count',
          source: `${leg.expiry} ${leg.strike} ${leg.side}`,
        },
        {
          symbol: `V${subscript(i + 1)}`,
          label: 'theory of the leg',
          value: legValues[i],
          unit: 'premium',
          source: `${leg.expiry} ${leg.strike} ${leg.side}`,
        },
      ]),
  },
  {
    id: 'gap',
    label: 'spread against theory',
    unit: 'premium',
    definition:
      'Distance from theory to the nearer of bid and offer: above it the spread is dear, below it cheap, 0 inside.',
    absence: 'where theory has none',
    derivation: formula('max(bid − V, 0) + min(offer − V, 0)'),
    source: PRACTICE,
    value: gapOf,
    inputs: (subject) => [
      { symbol: 'bid', label: '', value: subject.spread.bid, unit: 'quote', source: subject.quoted },
      { symbol: 'offer', label: '', value: subject.spread.ask, unit: 'quote', source: subject.quoted },
      { symbol: 'V', label: 'theory', value: theoryOf(subject), unit: 'premium', source: 'its legs' },
    ],
  },
];
