import type { CashDividend } from '../pricing/index.ts';
import { type FactorEstimate, impliedForward } from './implied-forward.ts';
import type { Verdicts } from './judge-quotes.ts';
import type { Slice } from './slice.ts';
import { impliedDrift, spotForward } from './spot-carry.ts';
import { zeroRate } from './zero-rate.ts';

export interface CarryInput {
  /** Price of the underlying, > 0 */
  spot: number;
  /** Per year, continuously compounded; undefined when no curve is known */
  rate?: number;
  /**
   * What is known of the rate of this expiry besides its own quotes, per year with its standard deviation: the curve with the
   * chain's spread over it, or what the other expiries imply; the curve with the error of a lone expiry when left out
   */
  ratePrior?: RatePrior;
  /** Per year; default 0 */
  dividendYield?: number;
  /** Cash dividends paid before expiry; default none */
  dividends?: readonly CashDividend[];
  /** Default european */
  exercise?: 'european' | 'american';
  /** The options are on a futures price: `spot` is it, and so is the forward */
  isFuture?: boolean;
}

/** A rate per year, continuously compounded, with its standard deviation. */
export interface RatePrior {
  rate: number;
  error: number;
}

/** How far financing of one expiry lies from the chain's spread over the curve, and that spread from nothing: per year. */
export const RATE_ERRORS = { expiry: 0.004, spread: 0.01 } as const;

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
  /** Standard deviation of the discount factor; 0 where it is given */
  discountFactorError: number;
  /** Share that the pairs had in it, the rest is the prior's; 0 where it is given */
  parityShare: number;
  /** What the pairs alone say of it */
  parityAlone?: FactorEstimate;
  /** What was known of it besides */
  prior?: FactorEstimate;
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

/** Forward and discount factor of one expiry: by parity where its pairs serve, weighed with what is known of the rate; else carried. */
export function sliceForward(slice: Slice, verdicts: Verdicts, o: SliceForwardOptions): SliceForward {
  if (o.forwardSource === 'carry') return carriedForward(slice.timeToExpiry, o, 'chosen');
  const { carryForward } = carriedForward(slice.timeToExpiry, o);
  const prior = factorPrior(o.carry, slice.timeToExpiry);
  const implied = impliedForward(slice, verdicts, { ...o, prior });
  return implied.ok
    ? { ...implied, source: 'parity', carryForward, ...(prior ? { prior } : {}) }
    : carriedForward(slice.timeToExpiry, o, implied.reason);
}

/** What is known of a discount factor besides the expiry's own quotes; undefined where nothing is. */
export function factorPrior({ rate, ratePrior }: CarryInput, timeToExpiry: number): FactorEstimate | undefined {
  const prior =
    ratePrior ?? (rate === undefined ? undefined : { rate, error: Math.hypot(RATE_ERRORS.expiry, RATE_ERRORS.spread) });
  if (!prior) return undefined;
  const discountFactor = Math.exp(-prior.rate * timeToExpiry);
  return { discountFactor, error: discountFactor * timeToExpiry * prior.error };
}

/** The forward of spot, rate, yield and dividends. */
export function carriedForward(
  timeToExpiry: number,
  o: SliceForwardOptions,
  reason?: SliceForward['reason'],
): SliceForward {
  const { spot, rate, dividendYield = 0, dividends = [], isFuture = false } = o.carry;
  const carried = rate === undefined ? NaN : spotForward(spot, rate - dividendYield, dividends, timeToExpiry);
  // Dividends beyond what the underlying is worth are no forward's.
  const carryForward = isFuture ? spot : carried > 0 ? carried : NaN;
  return {
    forward: Number.isNaN(carryForward) ? spot : carryForward,
    discountFactor: o.discountFactor ?? Math.exp(-(rate ?? o.carry.ratePrior?.rate ?? 0) * timeToExpiry),
    source: 'carry',
    reason,
    strikesUsed: [],
    strikesLeftOut: [],
    forwardError: NaN,
    discountFactorSource: 'given',
    discountFactorError: 0,
    parityShare: 0,
    carryForward,
  };
}

/**
 * Yield (or cost to borrow) per year that forward and discount factor imply, the cash dividends apart.
 * @returns NaN where the dividends are worth more than the spot
 */
export function impliedYield(
  f: Pick<SliceForward, 'forward' | 'discountFactor'>,
  { spot, dividends = [] }: Pick<CarryInput, 'spot' | 'dividends'>,
  timeToExpiry: number,
): number {
  return zeroRate(f.discountFactor, timeToExpiry) - impliedDrift(f.forward, spot, dividends, timeToExpiry);
}
