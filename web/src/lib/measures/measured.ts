import type { MeasuredResponse } from '../api/measured.ts';
import { EXPIRY_MEASURES } from './expiry-measures.ts';
import { LEVEL_MEASURES } from './level-measures.ts';
import type { ExpiryMeasure, LevelMeasure, LevelSubject, Measure } from './measure.ts';

/** Measures of an underlying and of its expiries. */
export interface Catalogue {
  level: readonly LevelMeasure[];
  expiry: readonly ExpiryMeasure[];
}
export const CATALOGUE: Catalogue = { level: LEVEL_MEASURES, expiry: EXPIRY_MEASURES };

const valuesOf = <Subject>(measures: readonly Measure<Subject>[], subject: Subject) =>
  Object.fromEntries(measures.map((measure) => [measure.id, measure.value(subject)]));

/** Everything that a catalogue measures of an underlying and its expiries, all of them, by the identifiers of the measures. */
export function measuredOf(
  { picture, context }: LevelSubject,
  catalogue: Catalogue = CATALOGUE,
): Pick<MeasuredResponse, 'level' | 'expiries'> {
  const subject: LevelSubject = { picture, context: { ...context, expiries: 'all' } };
  return {
    level: valuesOf(catalogue.level, subject),
    expiries: subject.picture.expiries.map((expiry) => ({
      expiry: expiry.date,
      days: expiry.days,
      values: valuesOf(catalogue.expiry, { ...subject, expiry }),
    })),
  };
}
