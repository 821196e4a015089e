import { type ColumnMapping, missingFields, TYPEABLE_FIELDS, type TypedCells } from '../chain-format/index.ts';
import { isSymbol } from '../symbol/index.ts';
import { fieldOfWord, sideOfText, squashed } from './header-words.ts';
import { findDate } from '../cell-text/index.ts';
import { parseExercise, parsePrice } from '../cell-text/index.ts';

/** Something that a file says once, outside its columns. */
export interface Fact {
  field: keyof TypedCells | 'currency' | 'multiplier' | 'exercise' | 'kind';
  /** As it stands there */
  value: string;
  /** Where: `line 2`, `file name`, `header` */
  from: string;
}

/** Words of titles and file names that are no symbols. */
const PLAIN_WORDS = new Set(
  (
    'option options chain chains quote quotes call calls put puts export data file table list eod snapshot price prices ' +
    'delayed realtime report iv vol volatility volatilities implied surface expiry expiries expiration strike strikes sheet ' +
    'bid ask offer last close open high low volume market mkt the of for and at as in on by to from new all copy final ' +
    'daily weekly bars history dividend dividends distributions rate rates curve curves events calendar usd eur gbp chf jpy xts csv xlsx txt json am pm utc gmt mon tue wed thu fri sat sun index fund share stock future futures'
  ).split(' '),
);
const KINDS: Record<string, string> = {
  index: 'index',
  fund: 'fund',
  etf: 'fund',
  share: 'share',
  shares: 'share',
  equity: 'share',
  stock: 'share',
  future: 'future',
  futures: 'future',
  currency: 'currency',
  fx: 'currency',
};
/** Kind of underlying that a text names. */
export function kindOfText(text: string): string | undefined {
  return text
    .toLowerCase()
    .split(/[^a-z]+/)
    .map((word) => KINDS[word])
    .find((kind) => kind !== undefined);
}

const SIGNS: Record<string, string> = {
  '€': 'EUR',
  '£': 'GBP',
  '¥': 'JPY',
  '¤': 'XTS',
  '₹': 'INR',
  '₩': 'KRW',
  $: 'USD',
};
const CODES: ReadonlySet<string> = new Set([...Intl.supportedValuesOf('currency'), 'XTS']);

/** Currency that a text names by its code, or by a sign of one. */
export function currencyOf(text: string): string | undefined {
  const code = text.match(/(?<![A-Za-z])[A-Z]{3}(?![A-Za-z])/g)?.find((word) => CODES.has(word));
  return code ?? Object.entries(SIGNS).find(([sign]) => text.includes(sign))?.[1];
}

/** Labels of prices that are the underlying's where they stand outside the table. */
const PRICE_LABELS = new Set([
  'price',
  'last',
  'lastprice',
  'level',
  'close',
  'mid',
  'underlying',
  'value',
  'future',
  'forward',
]);

/**
 * What the lines above a header say: label and value in one cell or in two, and dates, sides, currencies in running text.
 * @param rows those above the header and the line that groups its columns
 */
export function factsAbove(rows: readonly { line: number; cells: readonly string[] }[]): Fact[] {
  const facts: Fact[] = [];
  for (const { line, cells } of rows) {
    const from = `line ${line}`;
    const filled = cells.map((cell) => cell.trim()).filter((cell) => cell !== '');
    const pairs = pairsOf(filled);
    for (const [label, value] of pairs) facts.push(...factsOfPair(label, value, from));
    if (pairs.length === 0) facts.push(...factsOfText(filled.join(' '), from));
    else facts.push(...datesAndSides(filled.join(' '), from));
  }
  return facts;
}

/** Labels with their values: `Spot: 81.2` in one cell, or `Spot` and `81.2` in neighbors. */
function pairsOf(cells: readonly string[]): [string, string][] {
  const pairs: [string, string][] = [];
  for (let i = 0; i < cells.length; i++) {
    const within = [
      ...cells[i].matchAll(
        /([A-Za-z][A-Za-z .]*?)\s*[:=]\s*([^;|]*?)(?=(?:[,;|]?\s+[A-Za-z][A-Za-z .]*?\s*[:=]\s)|$)/g,
      ),
    ];
    const labelled = within.filter(([, label, value]) => isLabel(label) && value !== '');
    if (labelled.length > 0)
      pairs.push(...labelled.map(([, label, value]): [string, string] => [label, value.replace(/[,;]$/, '')]));
    else if (i + 1 < cells.length && isLabel(cells[i].replace(/:$/, '')))
      pairs.push([cells[i].replace(/:$/, ''), cells[++i]]);
  }
  return pairs;
}

const isLabel = (text: string) =>
  fieldOfWord(text) !== undefined ||
  PRICE_LABELS.has(squashed(text)) ||
  /^(?:as of|expires?|style)$/i.test(text.trim());

function factsOfPair(label: string, value: string, from: string): Fact[] {
  const field = fieldOfWord(label);
  const date = findDate(value);
  const price = parsePrice(value.split(/\s+/)[0], /,\d{1,2}$/.test(value) && !value.includes('.') ? ',' : '.');
  const currency = currencyOf(value);
  const money: Fact[] = currency ? [{ field: 'currency', value: currency, from }] : [];
  if (field === 'underlying' && !Number.isFinite(price)) {
    const symbol = value.split(/\s+[-\u2013(]|\s*\(/)[0].trim();
    return isSymbol(symbol) ? [{ field: 'underlying', value: symbol.split(/\s{2,}/)[0], from }] : [];
  }
  if ((field === 'underlyingPrice' || PRICE_LABELS.has(squashed(label))) && price > 0)
    return [{ field: 'underlyingPrice', value: value.split(/\s+/)[0], from }, ...money];
  if ((field === 'expiry' || /^expir/i.test(label)) && date) return [{ field: 'expiry', value: date, from }];
  if ((field === 'asOf' || field === 'time' || /^as of$/i.test(label)) && date)
    return [{ field: 'asOf', value: date, from }];
  if (field === 'currency' && currency) return money;
  if (field === 'multiplier' && price > 0) return [{ field: 'multiplier', value: String(price), from }];
  const exercise = parseExercise(value.split(/\s+/)[0]);
  if ((field === 'exercise' || field === 'strike') && exercise) return [{ field: 'exercise', value: exercise, from }];
  const kind = KINDS[squashed(value)];
  if (field === 'side' && kind) return [{ field: 'kind', value: kind, from }];
  return [];
}

function factsOfText(text: string, from: string): Fact[] {
  const facts = datesAndSides(text, from);
  const date = findDate(text);
  const symbol = symbolIn(date ? text.replace(date, ' ') : text, { upperOnly: true });
  if (symbol) facts.push({ field: 'underlying', value: symbol, from });
  const currency = currencyOf(text);
  if (currency) facts.push({ field: 'currency', value: currency, from });
  return facts;
}

function datesAndSides(text: string, from: string): Fact[] {
  const facts: Fact[] = [];
  // A line may name the expiry and the instant: what follows "expir..." is the former.
  const [before, after] = splitOnce(text, /\bexp(?:ir|\b)/i);
  const expiry = after === undefined ? undefined : findDate(after);
  const asOf = findDate(before) ?? (expiry && after ? findDate(after.replace(expiry, ' ')) : undefined);
  if (expiry) facts.push({ field: 'expiry', value: expiry, from });
  if (asOf) facts.push({ field: 'asOf', value: asOf, from });
  const side = sideOfText(text);
  if (side) facts.push({ field: 'side', value: side, from });
  const exercise = /\b(american|european)\b/i.exec(text)?.[1].toLowerCase();
  if (exercise) facts.push({ field: 'exercise', value: exercise, from });
  const kind = kindOfText(text);
  if (kind) facts.push({ field: 'kind', value: kind, from });
  const size = /(?:\bx\s?|multiplier\D{0,3}|contract size\D{0,3})(\d{1,6})\b/i.exec(text)?.[1];
  if (size) facts.push({ field: 'multiplier', value: size, from });
  return facts;
}

function splitOnce(text: string, at: RegExp): [string, string | undefined] {
  const found = at.exec(text);
  return found ? [text.slice(0, found.index), text.slice(found.index)] : [text, undefined];
}

const isPlain = (word: string) => PLAIN_WORDS.has(word.toLowerCase());

function symbolIn(text: string, o: { upperOnly: boolean }): string | undefined {
  return (
    text
      .split(/[\s,;:()[\]]+/)
      .map((word) => word.replace(/[.-]+$/, ''))
      // `hemla-daily` is a symbol and a word.
      .flatMap((word) => (word.split('-').some(isPlain) ? word.split('-').filter((part) => !isPlain(part)) : [word]))
      .find(
        (word) =>
          /[A-Za-z]/.test(word) &&
          word.length <= 12 &&
          isSymbol(word) &&
          !word.split(/[/.]/).some(isPlain) &&
          (!o.upperOnly || word === word.toUpperCase()),
      )
  );
}

/** What the name of a file says: symbol, instant, and calls or puts. */
export function factsOfFileName(fileName: string): Fact[] {
  const from = 'file name';
  // An ending is letters with at most a digit; `.4` may belong to a time.
  const bare = fileName.replace(/(?:\.[A-Za-z]{2,8}\d?)+$/, '');
  // Times in names are written without a colon, which many systems do not take.
  const spaced = bare
    .replace(/[_+]+/g, ' ')
    .replace(/(\d{4}-?\d{2}-?\d{2})[T -](\d{2})[-.h]?(\d{2})(?!\d|-)/, '$1 $2:$3')
    .replace(/(?<=[a-z])-(?=\d)|(?<=\d)-(?=[a-z])/gi, ' ');
  const facts = datesAndSides(spaced, from).filter((f) => f.field !== 'multiplier');
  const date = findDate(spaced);
  const symbol = symbolIn(date ? spaced.replace(date, ' ') : spaced, { upperOnly: false });
  if (symbol) facts.push({ field: 'underlying', value: symbol.toUpperCase(), from });
  return facts;
}

/** What facts give for columns that a file lacks, the first of a kind counts; what a column or a listed symbol says is left to it. */
export function typedByFacts(mapping: ColumnMapping, facts: readonly Fact[]): TypedCells {
  const missing = missingFields(mapping, {});
  const typed: TypedCells = {};
  for (const field of TYPEABLE_FIELDS) {
    if (!missing.includes(field) && (field !== 'underlyingPrice' || mapping.underlyingPrice !== undefined)) continue;
    const fact = facts.find((f) => f.field === field);
    if (fact) typed[field] = fact.value;
  }
  return typed;
}
