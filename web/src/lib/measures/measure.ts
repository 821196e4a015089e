import type { Option } from '@umwelt/core/pricing';
import type { ChainRow } from '../api/chain-row.ts';
import type { AsOfContext } from '../api/as-of-context.ts';
import type { ExpiryOverview, ExpiryPicture, Overview } from '../api/picture.ts';
import type { PriceRequestText } from '../api/price.ts';

/** How a value is written and what stands behind it. */
export type Unit =
  | 'volatility'
  | 'points'
  | 'price'
  /** Of an interval of prices */
  | 'width'
  /** A premium that somebody quotes, beside those that are computed */
  | 'quote'
  | 'premium'
  /** Currency of a whole position */
  | 'money'
  | 'rate'
  | 'share'
  | 'factor'
  | 'delta'
  | 'gamma'
  /** Change of the value by a point, a day or the like */
  | 'sensitivity'
  /** Any other Greek */
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

/** Inputs that come in rows: the quotes of a strip, the pairs of a fit, the expiries of a term structure. */
export interface InputSeries {
  /** What the rows are */
  label: string;
  source: string;
  columns: readonly { symbol: string; label: string; unit: Unit }[];
  /** A value a column; null where it is unknown or not used */
  rows: readonly (readonly (number | null)[])[];
}

/** The inputs that Workings hold, as a procedure reads them. */
export interface InputValues {
  /** @throws Error when no input has the symbol, or its value is unknown */
  number(symbol: string): number;
  has(symbol: string): boolean;
  /** Column of a series, NaN for what is unknown. @throws Error when no column has the symbol, or the rows are not at hand */
  column(symbol: string): Float64Array;
}

/** How a value comes from the inputs that Workings hold. */
export type Derivation =
  /** A closed form: the text that is shown is what is computed */
  | { kind: 'formula'; text: string }
  /** By a function of core, or a count that needs none, with what it is set to beside the inputs */
  | { kind: 'procedure'; text: string; core?: string; settings: Settings; run(inputs: InputValues): number | null }
  /** Found together with others, from more than Workings hold */
  | { kind: 'fit'; text: string; core: string }
  /** Taken as it is */
  | { kind: 'stored'; text: string }
  /** There is nothing that it could come from, and why */
  | { kind: 'none'; text: string };
export type Settings = Readonly<Record<string, string | number | boolean>>;

/** A closed form. */
export const formula = (text: string): Derivation => ({ kind: 'formula', text });
/** What cannot be there. */
export const none = (text: string): Derivation => ({ kind: 'none', text });
/** What nobody computes. */
export const STORED: Derivation = { kind: 'stored', text: 'as stored' };

/** What a measure is taken of. */
export interface LevelSubject {
  picture: Overview;
  context: Pick<AsOfContext, 'volatilitySource' | 'typedVolatility' | 'forwardSource' | 'expiries'>;
}
export interface ExpirySubject extends LevelSubject {
  expiry: ExpiryOverview;
}
export interface QuoteSubject extends ExpirySubject {
  expiry: ExpiryPicture;
  row: ChainRow;
  /** What theory values; undefined where the source in force has no volatility for it */
  contract: Option | undefined;
}

/** One figure that the application can show: the only place that says what it is and how it comes about. */
export interface Measure<Subject> {
  id: string;
  label: string;
  /** Head of its column, where that is shorter */
  shortLabel?: string;
  unit: Unit;
  /** One sentence in plain words; the document of the API says it, too, where it is the same of every subject */
  definition: string | ((subject: Subject) => string);
  /** When it is unknown, as a clause: "of a level" */
  absence?: string;
  derivation: Derivation | ((subject: Subject) => Derivation);
  /** Published reference, or "common practice, no source" */
  source: string | ((subject: Subject) => string);
  value(subject: Subject): number | null;
  inputs(subject: Subject): WorkingsInput[];
  /** Inputs in rows, where it rests on any; undefined while their quotes are not at hand */
  series?(subject: Subject): InputSeries[] | undefined;
  /** Whether those rows are quotes, which not every view asks for */
  needsQuotes?: boolean;
  /** What must be known to read this value right, when there is anything */
  note?(subject: Subject): string | undefined;
  /** The contract that the figure is a value or Greek of, as the API takes it */
  request?(subject: Subject): PriceRequestText | undefined;
}

export type LevelMeasure = Measure<LevelSubject>;
export type ExpiryMeasure = Measure<ExpirySubject>;
export type QuoteMeasure = Measure<QuoteSubject>;
