import type { CashDividend } from '../pricing/index.ts';
import { impliedForward, type ImpliedForwardResult } from './implied-forward.ts';
import type { Verdicts } from './judge-quotes.ts';
import type { Slice } from './slice.ts';

export interface CarryInput {
  /** Price of the underlying, > 0 */
  spot: number;
  /** Per year, continuously compounded; undefined when no curve is known */
  rate?: number;
  /** Per year; default 0 */
  dividendYield?: number;
  /** Value today of the cash dividends paid before expiry; default 0 */
  dividendValue?: number;
  /** The same dividends one by one, for early exercise; default none */
  dividends?: readonly CashDividend[];
  /** Default european */
  exercise?: 'european' | 'american';
  /** The options are on a futures price: `spot` is it, and so is the forward */
  isFuture?: boolean;
}

export interface SliceForward {
  forward: number;
  discountFactor: number;
  /** `parity`: implied by the options; `carry`: spot, rate and yield */
  source: 'parity' | 'carry';
  /** Why parity does not serve, when it does not */
  reason?: 'too-few-pairs' | 'not-a-line' | 'chosen' | 'not-settled';
  strikesUsed: number[];
  strikesLeftOut: number[];
  /** Standard deviation of the fitted forward, in price; NaN for carry */
  forwardError: number;
  discountFactorSource: 'parity' | 'given';
  /** Forward of spot and rate, for comparison; NaN without a rate */
  carryForward: number;
}

export interface SliceForwardOptions {
  carry: CarryInput;
  /** Discount factor to use instead of fitting it */
  discountFactor?: number;
  forwardSource?: 'parity' | 'carry';
  /** Of each strike's call less put, beyond its quotes' widths; see {@link impliedForward} */
  pairError?: Float64Array;
  /** What nearly the same quotes have implied, when they have been looked at before */
  nearby?: { forward: number; discountFactor: number };
}

/** Forward and discount factor of one expiry: by parity where its pairs serve, else carried from spot and rate. */
export function sliceForward(slice: Slice, verdicts: Verdicts, o: SliceForwardOptions): SliceForward {
  if (o.forwardSource === 'carry') return carriedForward(slice.timeToExpiry, o, 'chosen');
  const { rate, exercise } = o.carry;
  const { carryForward } = carriedForward(slice.timeToExpiry, o);
  const given = rate === undefined ? undefined : Math.exp(-rate * slice.timeToExpiry);
  const withGiven = (): ImpliedForwardResult => impliedForward(slice, verdicts, { ...o, discountFactor: given });
  const implied = impliedForward(slice, verdicts, o);
  if (!implied.ok) {
    const second = given === undefined ? implied : withGiven();
    return second.ok
      ? { ...second, source: 'parity', carryForward }
      : carriedForward(slice.timeToExpiry, o, implied.reason);
  }
  // The premium that was taken off American quotes rests on the rate itself, so an error in one feeds the other: the
  // curve stands unless parity contradicts it by more than widths and premiums can be off.
  const isUnsure =
    exercise === 'american' &&
    given !== undefined &&
    implied.discountFactorSource === 'parity' &&
    Math.abs(implied.discountFactor - given) <= implied.discountFactorError;
  const second = isUnsure ? withGiven() : implied;
  return { ...(second.ok ? second : implied), source: 'parity', carryForward };
}

/** The forward of spot, rate, yield and dividends. */
export function carriedForward(
  timeToExpiry: number,
  o: SliceForwardOptions,
  reason?: SliceForward['reason'],
): SliceForward {
  const { spot, rate, dividendYield = 0, dividendValue = 0, isFuture = false } = o.carry;
  const carried = rate === undefined ? NaN : (spot - dividendValue) * Math.exp((rate - dividendYield) * timeToExpiry);
  const carryForward = isFuture ? spot : carried;
  return {
    forward: Number.isNaN(carryForward) ? spot : carryForward,
    discountFactor: o.discountFactor ?? (rate === undefined ? 1 : Math.exp(-rate * timeToExpiry)),
    source: 'carry',
    reason,
    strikesUsed: [],
    strikesLeftOut: [],
    forwardError: NaN,
    discountFactorSource: 'given',
    carryForward,
  };
}

/** Yield (or cost to borrow) per year that forward and discount factor imply, cash dividends apart. */
export function impliedYield(
  f: Pick<SliceForward, 'forward' | 'discountFactor'>,
  carry: CarryInput,
  timeToExpiry: number,
): number {
  const paid = carry.spot - (carry.dividendValue ?? 0);
  return -Math.log((f.forward * f.discountFactor) / paid) / timeToExpiry;
}
