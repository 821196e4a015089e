import { EXPIRY_MEASURES } from './expiry-measures.ts';
import { fixedMeasure, LEVEL_MEASURES } from './level-measures.ts';
import type { LevelMeasure, Measure, Unit } from './measure.ts';
import { QUOTE_MEASURES } from './quote-measures.ts';

/** What a number of a unit counts, where it is given as it is stored. */
const UNIT_WORDS: Record<Unit, string> = {
  volatility: 'per year, decimal',
  points: 'decimal',
  price: 'in price',
  width: 'in price',
  quote: 'in price, per unit of underlying',
  money: 'of a whole position',
  premium: 'in price, per unit of underlying',
  rate: 'per year, continuous, decimal',
  share: 'share of one',
  factor: 'a plain number',
  delta: 'per unit of underlying',
  gamma: 'per unit of underlying',
  sensitivity: 'per unit of underlying',
  greek: 'per unit of underlying',
  probability: 'from 0 to 1',
  years: 'years',
  days: 'days',
  count: 'a count',
  percentile: 'from 0 to 1',
};

/** What the catalogue says of the measure that a field of the API is called after; undefined where it has none. */
export function measureWords(field: string): string | undefined {
  const catalogue = [...LEVEL_MEASURES, ...EXPIRY_MEASURES, ...QUOTE_MEASURES];
  const measure = catalogue.find((m) => m.id === field);
  return measure && wordsOf(measure);
}

/** The measure of an underlying that is called so, at any number of days where its name ends in one. */
export function levelMeasure(id: string): LevelMeasure | undefined {
  return LEVEL_MEASURES.find((m) => m.id === id) ?? fixedMeasure(id);
}

/** What a measure is, what its values count, and when there is none; undefined where that is not the same of every subject. */
export function wordsOf({
  definition,
  unit,
  absence,
}: Pick<Measure<never>, 'definition' | 'unit' | 'absence'>): string | undefined {
  if (typeof definition !== 'string') return undefined;
  return `${definition.replace(/\.$/, '')}; ${UNIT_WORDS[unit]}${absence === undefined ? '' : `; null ${absence}`}`;
}
