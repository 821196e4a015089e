import type { CashDividend } from '../pricing/index.ts';
import type { CarryExpiry, ExpiryCarry } from './carry-expiry.ts';
import { USUAL_DIVIDEND, USUAL_DRIFT } from './carry-steps.ts';
import { USUAL_RATE } from './rate-prior.ts';
import { RATE_ERRORS } from './slice-forward.ts';

/** A dividend that nobody told, somewhere between two expiries. */
export interface UnknownDividend extends CashDividend {
  /** Years; the date lies between */
  from: number;
  to: number;
}

/** What is not known of a spot's carry, for all expiries. */
export interface CarryGuess {
  /** Over the curve, per year; the rate itself where there is no curve */
  rate: number;
  /** Yield or cost to borrow over the known yield, per year */
  borrow: number;
  dividends: UnknownDividend[];
}

/** One number of a guess, with what is known of it before any quote is seen. */
export interface Unknown {
  kind: 'rate' | 'borrow' | 'amount' | 'date';
  centre: number;
  deviation: number;
  /** By which it is moved to see what it does */
  step: number;
  /** Expiries up to here, in years, are not touched by it */
  after: number;
  /** Early exercise of expiries beyond here, in years, hardly is */
  exercisedUntil: number;
}

const RATE_STEP = 0.003;
const AMOUNT_STEP = 0.002;
const DATE_STEP = 1 / 365;
/** An option that lives so many years longer is not exercised otherwise for a dividend a day later. */
const DATED = 0.25;
/** A date stays so far from the expiries around it, but no more than a quarter of the gap. */
const MARGIN = 1.5 / 365;

/** The numbers of a guess in one order: rate, borrow, amounts, dates. */
export function unknownsOf(guess: CarryGuess, { spot, hasCurve }: { spot: number; hasCurve: boolean }): Unknown[] {
  return [
    {
      kind: 'rate',
      centre: hasCurve ? 0 : USUAL_RATE.rate,
      deviation: hasCurve ? RATE_ERRORS.spread : USUAL_RATE.error,
      step: RATE_STEP,
      after: 0,
      exercisedUntil: Infinity,
    },
    { kind: 'borrow', centre: 0, deviation: USUAL_DRIFT, step: RATE_STEP, after: 0, exercisedUntil: Infinity },
    ...guess.dividends.map(({ from }): Unknown => ({
      kind: 'amount',
      centre: 0,
      deviation: USUAL_DIVIDEND * spot,
      step: AMOUNT_STEP * spot,
      after: from,
      exercisedUntil: Infinity,
    })),
    // Anywhere in the gap alike: the deviation of a uniform law.
    ...guess.dividends.map(({ from, to }): Unknown => ({
      kind: 'date',
      centre: 0.5 * (from + to),
      deviation: (to - from) / Math.sqrt(12),
      step: DATE_STEP,
      after: from,
      exercisedUntil: to + DATED,
    })),
  ];
}

export function numbersOf({ rate, borrow, dividends }: CarryGuess): Float64Array {
  return Float64Array.of(rate, borrow, ...dividends.map((d) => d.amount), ...dividends.map((d) => d.time));
}

/** The guess with other numbers: no amount below 0, no date outside its gap. */
export function guessOf(numbers: Float64Array, { dividends }: CarryGuess): CarryGuess {
  const count = dividends.length;
  return {
    rate: numbers[0],
    borrow: numbers[1],
    dividends: dividends.map(({ from, to }, n) => {
      const margin = Math.min(MARGIN, 0.25 * (to - from));
      const time = Math.min(to - margin, Math.max(from + margin, numbers[2 + count + n]));
      return { from, to, time, amount: Math.max(0, numbers[2 + n]) };
    }),
  };
}

/** What a guess means for one expiry, beside what is known of it. */
export function carryUnder({ carry, slice }: CarryExpiry, guess: CarryGuess): ExpiryCarry {
  const before = (d: CashDividend) => d.time < slice.timeToExpiry && d.amount > 0;
  const unknown = guess.dividends.filter(before).map(({ time, amount }) => ({ time, amount }));
  return {
    rate: (carry.rate ?? 0) + guess.rate,
    dividendYield: (carry.dividendYield ?? 0) + guess.borrow,
    dividends: [...(carry.dividends ?? []).filter(before), ...unknown].sort((a, b) => a.time - b.time),
  };
}
