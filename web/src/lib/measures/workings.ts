import { chainRow, DISTANCE_WORDS, listedContract, listedValues, volatilityInForce } from '../theory/index.ts';
import { dateText, strikeText } from '../ui/format.ts';
import { isQuoted, type Overview } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';
import type { PriceRequestText } from '../api/price.ts';
import { EXPIRY_COUNTS, LEVEL_COUNTS } from './count-measures.ts';
import { DISTANCE_MEASURES, distanceParts, distanceRow } from './distance-measures.ts';
import { EXPIRY_MEASURES } from './expiry-measures.ts';
import { fixedMeasure, LEVEL_MEASURES } from './level-measures.ts';
import { derivedValue } from './derived-value.ts';
import { type Intermediate, resultOf } from './formula.ts';
import type {
  Derivation,
  ExpirySubject,
  InputSeries,
  LevelSubject,
  Measure,
  QuoteSubject,
  Settings,
  Unit,
  WorkingsInput,
} from './measure.ts';
import { QUOTE_MEASURES } from './quote-measures.ts';

/** How one figure on the screen comes about. */
export interface Workings {
  /** Identifier of the figure, as in the URL */
  id: string;
  label: string;
  /** What it is the figure of: underlying, expiry, quote */
  subject: string;
  value: number | null;
  unit: Unit;
  definition: string;
  /** What is done with the inputs; of a closed form the very text that is evaluated, without its definitions */
  formula: string;
  /** Values on the way of a closed form, as its definitions name them */
  intermediate: Intermediate[];
  /** Function of core that does it, and what it is set to beside the inputs; none for a closed form */
  core?: { name: string; settings: Settings };
  source: string;
  inputs: WorkingsInput[];
  /** Inputs in rows, where there are any */
  series?: InputSeries[];
  /** Whether those rows are quotes that are not at hand */
  lacksQuotes?: boolean;
  note?: string;
  /** When there is no such figure, where there is none */
  absence?: string;
  /** What POST /api/v1/price answers the same figure to, where it values a contract */
  request?: PriceRequestText;
}

/** Identifier of a figure: measure, then expiry, then strike and side. */
export function figureId(measure: string, expiry?: string, strike?: number, side?: Side): string {
  return [measure, expiry, strike, side].filter((part) => part !== undefined).join('~');
}

/** Parts of an identifier. */
export function figureParts(id: string): { measure: string; expiry?: string; strike?: number; side?: Side } {
  const [measure, expiry, strike, side] = id.split('~');
  return {
    measure,
    expiry,
    strike: strike === undefined ? undefined : Number(strike),
    side: side === 'call' || side === 'put' ? side : undefined,
  };
}

/** How a figure of this subject comes about. */
export function derivationOf<Subject>({ derivation }: Measure<Subject>, subject: Subject): Derivation {
  return typeof derivation === 'function' ? derivation(subject) : derivation;
}

/** A derivation as Workings tell it. */
export function told(
  derivation: Derivation,
  inputs: readonly WorkingsInput[],
): Pick<Workings, 'formula' | 'intermediate' | 'core'> {
  const intermediate = derivation.kind === 'formula' ? (derivedValue(derivation, inputs)?.intermediate ?? []) : [];
  const settings = derivation.kind === 'procedure' ? derivation.settings : {};
  return {
    formula: derivation.kind === 'formula' ? resultOf(derivation.text) : derivation.text,
    intermediate,
    ...('core' in derivation && derivation.core !== undefined ? { core: { name: derivation.core, settings } } : {}),
  };
}

export function explain<Subject>(measure: Measure<Subject>, subject: Subject, id: string, of: string): Workings {
  const { label, unit } = measure;
  const words = (text: Measure<Subject>['definition']) => (typeof text === 'string' ? text : text(subject));
  const inputs = measure.inputs(subject);
  const series = measure.series?.(subject);
  return {
    id,
    label,
    subject: of,
    value: measure.value(subject),
    unit,
    definition: words(measure.definition),
    ...told(derivationOf(measure, subject), inputs),
    source: words(measure.source),
    inputs,
    ...(series && { series }),
    ...(measure.needsQuotes && !series && { lacksQuotes: true }),
    note: measure.note?.(subject),
    absence: measure.absence,
    request: measure.request?.(subject),
  };
}

/** All figures of an underlying and of an expiry, those that are asked for one by one among them. */
const OF_LEVEL = [...LEVEL_MEASURES, ...LEVEL_COUNTS];
const OF_EXPIRY = [...EXPIRY_MEASURES, ...EXPIRY_COUNTS];

/** Workings of the figure with an identifier, undefined when the picture has no such figure. */
export function workingsOf(picture: Overview, context: LevelSubject['context'], id: string): Workings | undefined {
  const { symbol } = picture.underlying;
  const level: LevelSubject = { picture, context };
  const distant = distanceParts(id);
  if (distant) return workingsOfDistance(level, distant, id);
  const { measure: name, expiry: date, strike, side } = figureParts(id);
  if (date === undefined) {
    const measure = OF_LEVEL.find((m) => m.id === name) ?? fixedMeasure(name);
    return measure && explain(measure, level, id, symbol);
  }
  const expiry = picture.expiries.find((e) => e.date === date);
  if (!expiry) return undefined;
  const ofExpiry: ExpirySubject = { ...level, expiry };
  if (strike === undefined) {
    const measure = OF_EXPIRY.find((m) => m.id === name);
    return measure && explain(measure, ofExpiry, id, `${symbol} ${dateText(date, picture.asOf)}`);
  }
  const measure = QUOTE_MEASURES.find((m) => m.id === name);
  if (!measure || side === undefined || !isQuoted(expiry) || !expiry.strikes.includes(strike)) return undefined;
  const option = { side, strike };
  const [value] = listedValues(expiry, [option], volatilityInForce(picture, context));
  const contract = value && listedContract(expiry, option, value.volatility);
  const ofQuote: QuoteSubject = { ...ofExpiry, expiry, row: chainRow(expiry, option, value), contract };
  return explain(measure, ofQuote, id, `${symbol} ${dateText(date, picture.asOf)} ${strikeText(strike)} ${side}`);
}

function workingsOfDistance(
  level: LevelSubject,
  { measure: name, date, by, distance }: NonNullable<ReturnType<typeof distanceParts>>,
  id: string,
): Workings | undefined {
  const { picture } = level;
  const measure = DISTANCE_MEASURES.find((m) => m.id === name);
  const expiry = picture.expiries.find((e) => e.date === date);
  if (!measure || !expiry || !isQuoted(expiry)) return undefined;
  const row = distanceRow(expiry, by, distance);
  const of = `${picture.underlying.symbol} ${dateText(date, picture.asOf)}, ${distance} ${DISTANCE_WORDS[by]}`;
  return row && explain(measure, { ...level, expiry, by, row }, id, of);
}

/** Whether a figure's Workings rest on quotes. */
export function needsQuotes(id: string): boolean {
  const { measure, strike } = figureParts(id);
  return strike !== undefined || OF_EXPIRY.some((m) => m.id === measure && m.needsQuotes === true);
}
