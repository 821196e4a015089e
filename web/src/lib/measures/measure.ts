import type { ChainRow } from '../schema/chain-row.ts';
import type { AsOfContext } from '../schema/as-of-context.ts';
import type { ExpiryPicture, Picture } from '../schema/picture.ts';

/** How a value is written and what stands behind it. */
export type Unit =
  | 'volatility'
  | 'points'
  | 'price'
  | 'premium'
  | 'rate'
  | 'share'
  | 'factor'
  | 'delta'
  | 'greek'
  | 'probability'
  | 'years'
  | 'days'
  | 'count'
  | 'percentile';

/** One line of Workings: an input of the formula, its value, and where it comes from. */
export interface WorkingsInput {
  symbol: string;
  label: string;
  value: number | null;
  unit: Unit;
  source: string;
}

/** What a measure is taken of. */
export interface LevelSubject {
  picture: Picture;
  context: Pick<AsOfContext, 'volatilitySource' | 'typedVolatility' | 'forwardSource'>;
}
export interface ExpirySubject extends LevelSubject {
  expiry: ExpiryPicture;
}
export interface QuoteSubject extends ExpirySubject {
  row: ChainRow;
}

/** One figure that the application can show: the only place that says what it is and how it comes about. */
export interface Measure<Subject> {
  id: string;
  label: string;
  unit: Unit;
  /** One sentence in plain words */
  definition: string;
  formula: string;
  /** Published reference, or "common practice, no source" */
  source: string;
  value(subject: Subject): number | null;
  inputs(subject: Subject): WorkingsInput[];
  /** What must be known to read this value right, when there is anything */
  note?(subject: Subject): string | undefined;
}

export type LevelMeasure = Measure<LevelSubject>;
export type ExpiryMeasure = Measure<ExpirySubject>;
export type QuoteMeasure = Measure<QuoteSubject>;
