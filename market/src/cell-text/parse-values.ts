import type { DecimalMark, VolatilityUnit } from '../chain-format/index.ts';

/** Marks that stand where there is no value. */
const MISSING = new Set([
  ...[
    '',
    '-',
    '--',
    '---',
    '\u2013',
    '\u2014',
    'n/a',
    '#n/a',
    'na',
    'n.a.',
    'nan',
    'null',
    'none',
    'nil',
    '.',
    '..',
    '*',
    '?',
  ],
]);

/** Whether a cell says that there is no value. */
export function isMissing(text: string): boolean {
  return MISSING.has(text.trim().toLowerCase());
}

const GROUPS: Record<DecimalMark, RegExp> = {
  '.': /^[+-]?(\d+|\d{1,3}([,\s'’]\d{3})+)?(\.\d*)?([eE][+-]?\d+)?$/,
  ',': /^[+-]?(\d+|\d{1,3}([.\s'’]\d{3})+)?(,\d*)?([eE][+-]?\d+)?$/,
};

/**
 * Number with the given decimal mark; the other mark, spaces and apostrophes may group digits by three.
 * @returns NaN for anything else
 */
export function parseNumber(text: string, decimal: DecimalMark): number {
  const trimmed = text.trim();
  if (!GROUPS[decimal].test(trimmed) || !/\d/.test(trimmed)) return NaN;
  const group = decimal === ',' ? '.' : ',';
  return Number(
    trimmed
      .replace(/[\s'’]/g, '')
      .replaceAll(group, '')
      .replace(decimal, '.'),
  );
}

const PLAIN = /^-?\d+(?:\.\d+)?$/;
const CURRENCY = /^(?:\p{Sc}|[A-Z]{3}(?![A-Za-z]))\s*|\s*(?:\p{Sc}|(?<![A-Za-z])[A-Z]{3})$/gu;
const SCALES: Record<string, number> = { k: 1e3, m: 1e6 };

/**
 * A price: a number, perhaps with a currency's sign or code, negative in brackets or after the minus sign of typesetters.
 * @returns NaN for anything else
 */
export function parsePrice(text: string, decimal: DecimalMark): number {
  const trimmed = text.trim();
  // Most cells are plain, and millions of them are read.
  if (decimal === '.' && PLAIN.test(trimmed)) return Number(trimmed);
  const bracketed = /^\((.*)\)$/s.exec(trimmed);
  const bare = (bracketed ? bracketed[1] : trimmed).replace('\u2212', '-').replace(/^([+-]?)\s*/, '$1');
  const sign = /^[+-]/.exec(bare)?.[0] ?? '';
  const value = parseNumber(sign + bare.slice(sign.length).replace(CURRENCY, '').trim(), decimal);
  return bracketed ? -value : value;
}

/** A count of contracts: a number, perhaps in thousands (K) or millions (M). @returns NaN for anything else */
export function parseCount(text: string, decimal: DecimalMark): number {
  const scaled = /^(.*\d)\s*([km])$/i.exec(text.trim());
  if (!scaled) return parsePrice(text, decimal);
  // Hundreds of a thousandth of a million are whole, but not as computed.
  return Math.round(1e6 * parsePrice(scaled[1], decimal) * SCALES[scaled[2].toLowerCase()]) / 1e6;
}

/** A volatility as a decimal. @returns NaN for anything else */
export function parseVolatility(text: string, o: { decimal: DecimalMark; unit: VolatilityUnit }): number {
  const percent = /^(.*?)\s*%$/.exec(text.trim());
  if (percent) return parseNumber(percent[1], o.decimal) / 100;
  return parseNumber(text, o.decimal) / (o.unit === 'percent' ? 100 : 1);
}

/** Side from c, call, calls, p, put, puts in any case. */
export function parseSide(text: string): 'call' | 'put' | undefined {
  const plain = text.trim().toLowerCase();
  if (plain === 'c' || plain === 'call' || plain === 'calls') return 'call';
  if (plain === 'p' || plain === 'put' || plain === 'puts') return 'put';
  return undefined;
}

/** Exercise from its name or first letter. */
export function parseExercise(text: string): 'european' | 'american' | undefined {
  const plain = text.trim().toLowerCase();
  if (/^(?:e|eu|euro|european)$/.test(plain)) return 'european';
  if (/^(?:a|am|american)$/.test(plain)) return 'american';
  return undefined;
}
