import { chainRows } from '../figures/chain-rows.ts';
import { volatilityInForce } from '../figures/volatility-in-force.ts';
import type { Picture, Side } from '../schema/picture.ts';
import { EXPIRY_MEASURES } from './expiry-measures.ts';
import { LEVEL_MEASURES } from './level-measures.ts';
import type { ExpirySubject, LevelSubject, Measure, QuoteSubject, Unit, WorkingsInput } from './measure.ts';
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
  formula: string;
  source: string;
  inputs: WorkingsInput[];
  note?: string;
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

export function explain<Subject>(measure: Measure<Subject>, subject: Subject, id: string, of: string): Workings {
  const { label, unit, definition, formula, source } = measure;
  return {
    id,
    label,
    subject: of,
    value: measure.value(subject),
    unit,
    definition,
    formula,
    source,
    inputs: measure.inputs(subject),
    note: measure.note?.(subject),
  };
}

/** Workings of the figure with an identifier, undefined when the picture has no such figure. */
export function workingsOf(picture: Picture, context: LevelSubject['context'], id: string): Workings | undefined {
  const { measure: name, expiry: date, strike, side } = figureParts(id);
  const { symbol } = picture.underlying;
  const level: LevelSubject = { picture, context };
  if (date === undefined) {
    const measure = LEVEL_MEASURES.find((m) => m.id === name);
    return measure && explain(measure, level, id, symbol);
  }
  const expiry = picture.expiries.find((e) => e.date === date);
  if (!expiry) return undefined;
  const ofExpiry: ExpirySubject = { ...level, expiry };
  if (strike === undefined) {
    const measure = EXPIRY_MEASURES.find((m) => m.id === name);
    return measure && explain(measure, ofExpiry, id, `${symbol} ${date}`);
  }
  const measure = QUOTE_MEASURES.find((m) => m.id === name);
  const row = chainRows(expiry, { inForce: volatilityInForce(picture, context), sides: 'both' }).find(
    (r) => r.strike === strike && r.side === side,
  );
  if (!measure || !row) return undefined;
  const ofQuote: QuoteSubject = { ...ofExpiry, row };
  return explain(measure, ofQuote, id, `${symbol} ${date} ${strike} ${side}`);
}
