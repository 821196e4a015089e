import { impliedForward, judgeSlice, type Slice } from '@umwelt/core/surface';
import { type Guess, exerciseByQuotes } from './exercise-by-quotes.ts';

export type UnderlyingKind = 'index' | 'fund' | 'share' | 'future' | 'currency';

/** What is known of an underlying for guessing its terms. */
export interface TermsEvidence {
  symbol: string;
  /** Slices of one instant, with the price that each refers to; NaN where the file has none */
  slices: readonly (Slice & { underlyingPrice: number })[];
  /** What the file says outside its quotes, the surest first */
  facts: readonly { field: string; value: string; from: string }[];
  /** Root of the listed symbols, where the file has them */
  root?: string;
}

export interface GuessedTerms {
  kind: Guess<UnderlyingKind>;
  exercise: Guess<'european' | 'american'>;
  model: Guess<'spot' | 'futures'>;
  multiplier: Guess<number>;
  currency: Guess<string>;
}

/** ISO 4217 for no currency. */
export const NO_CURRENCY = 'XXX';
const CODES: ReadonlySet<string> = new Set([...Intl.supportedValuesOf('currency'), 'XTS']);
const KINDS: readonly string[] = ['index', 'fund', 'share', 'future', 'currency'];

/** Terms of options that a file does not spell out, each with what it was told by. */
export function guessTerms(o: TermsEvidence): GuessedTerms {
  const fact = (field: string) => o.facts.find((f) => f.field === field);
  const said = fact('exercise');
  const byQuotes = exerciseByQuotes(o.slices);
  const pair = currencyPair(o.symbol);
  const kind = guessKind(o, byQuotes, pair);
  const exercise: GuessedTerms['exercise'] =
    said?.value === 'european' || said?.value === 'american'
      ? { value: said.value, reason: `${said.from} says so` }
      : (byQuotes ?? commonExercise(kind.value));
  return {
    kind,
    exercise,
    model:
      kind.value === 'future'
        ? { value: 'futures', reason: 'the options are on a future' }
        : { value: 'spot', reason: `as for any ${kind.value}` },
    multiplier: guessMultiplier(kind.value, fact('multiplier'), o.root),
    currency: guessCurrency(fact('currency'), pair),
  };
}

function guessKind(
  { slices, facts }: TermsEvidence,
  exercise: Guess<'european' | 'american'> | undefined,
  pair: [string, string] | undefined,
): Guess<UnderlyingKind> {
  const said = facts.find((f) => f.field === 'kind' && KINDS.includes(f.value));
  if (said) return { value: said.value as UnderlyingKind, reason: `${said.from} says so` };
  if (pair) return { value: 'currency', reason: `${pair[0]} and ${pair[1]} are currencies` };
  const prices = new Set(slices.map((s) => s.underlyingPrice).filter((p) => !Number.isNaN(p)));
  if (prices.size > 1) return { value: 'future', reason: 'each expiry refers to another price, as delivery months do' };
  if (areForwardsThePrice(slices))
    return { value: 'future', reason: 'parity gives the price itself as forward of every expiry, but discounts' };
  if (exercise?.value === 'american') return { value: 'share', reason: 'its options are American' };
  if (exercise?.value === 'european') return { value: 'index', reason: 'its options are European' };
  return { value: 'share', reason: 'nothing in the file tells; most listed options are on shares' };
}

/** Expiries shorter than this carry too little to tell a forward from the price. */
const LEAST_YEARS = 0.1;
/** Discounts that are no mistake of the quotes. */
const LEAST_DISCOUNT = 0.004;

/** Whether parity's forwards equal the price at several later expiries although money costs interest. */
function areForwardsThePrice(slices: TermsEvidence['slices']): boolean {
  let later = 0;
  for (const slice of slices) {
    if (slice.timeToExpiry < LEAST_YEARS || Number.isNaN(slice.underlyingPrice)) continue;
    const implied = impliedForward(slice, judgeSlice(slice));
    if (!implied.ok || 1 - implied.discountFactor < LEAST_DISCOUNT) return false;
    const error = Math.max(3 * implied.forwardError, 2e-4 * slice.underlyingPrice);
    if (Math.abs(implied.forward - slice.underlyingPrice) > error) return false;
    later++;
  }
  return later >= 2;
}

/** Common practice, no source. */
function commonExercise(kind: UnderlyingKind): Guess<'european' | 'american'> {
  return kind === 'index' || kind === 'currency'
    ? { value: 'european', reason: `usual for an ${kind}`.replace('an currency', 'a currency pair') }
    : { value: 'american', reason: `usual for a ${kind}` };
}

function guessMultiplier(
  kind: UnderlyingKind,
  said: { value: string; from: string } | undefined,
  root: string | undefined,
): Guess<number> {
  if (said) return { value: Number(said.value), reason: `${said.from} says so` };
  // Common practice, no source: a digit after the root marks a contract that is not the usual one, 7 a tenth of it.
  const digit = root && /[A-Z]([1-9])$/.exec(root)?.[1];
  if (digit === '7') return { value: 10, reason: `the root ${root} ends in 7, which marks contracts of a tenth` };
  if (digit) return { value: 100, reason: `the root ${root} ends in ${digit}: an adjusted contract, check its size` };
  return kind === 'future' || kind === 'currency'
    ? { value: 1, reason: 'not in the file; money figures are per unit until it is known' }
    : { value: 100, reason: 'not in the file; 100 is usual' };
}

function guessCurrency(
  said: { value: string; from: string } | undefined,
  pair: [string, string] | undefined,
): Guess<string> {
  if (said) return { value: said.value, reason: `${said.from}` };
  if (pair) return { value: pair[1], reason: `${pair[0]} is priced in ${pair[1]}` };
  return { value: NO_CURRENCY, reason: 'not in the file' };
}

/** The two currencies of a symbol such as EUR/XTS, if it is a pair. */
export function currencyPair(symbol: string): [string, string] | undefined {
  const match = /^([A-Z]{3})[/.\-_ ]?([A-Z]{3})$/.exec(symbol);
  return match && CODES.has(match[1]) && CODES.has(match[2]) ? [match[1], match[2]] : undefined;
}
