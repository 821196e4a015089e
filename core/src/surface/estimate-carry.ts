import { median } from '../math/index.ts';
import { startingCourse, missingStep } from './carry-course.ts';
import { type Estimated, movedGuess, OWN_SHIFT } from './carry-equations.ts';
import {
  type CarryExpiry,
  discountOf,
  type ExpiryCarry,
  forwardOf,
  premiumUnder,
  type SeenExpiry,
  smileOf,
} from './carry-expiry.ts';
import { carryUnder, type UnknownDividend, unknownsOf } from './carry-guess.ts';
import { completed, type RefinedCarry, refineCarry } from './refine-carry.ts';
import { type CarryScale, settleCarry, type SettledCarry, stands } from './settle-carry.ts';
import { impliedDrift } from './spot-carry.ts';
import type { PremiumColumns } from './telling-side.ts';

/** A dividend that the quotes imply. */
export interface ImpliedDividend {
  amount: Estimated;
  /** Years */
  time: Estimated;
  /** The expiries between which it lies, in years */
  from: number;
  to: number;
}

/** What an expiry has under the estimate. */
export interface ExpiryEstimate {
  carry: ExpiryCarry;
  rate: Estimated;
  /** Of its own pairs and the common course; undefined of an expiry whose pairs tell nothing */
  own?: OwnEstimate;
}

/** What the pairs of an expiry make of the common course. */
export interface OwnEstimate {
  forward: Estimated;
  premium: PremiumColumns;
  strikesUsed: number[];
  /** Pairs that contradict the others */
  strikesLeftOut: number[];
}

/** Carry of a spot that its American options imply together. */
export interface CarryEstimate {
  /** Over the curve where there is one, per year */
  rate: Estimated;
  hasCurve: boolean;
  /** Yield or cost to borrow over the known yield, per year */
  borrow: Estimated;
  /** Rate less borrow, which quotes of few days tell better than either */
  drift: Estimated;
  dividends: ImpliedDividend[];
  /** One an expiry, in their order */
  expiries: ExpiryEstimate[];
}

/** The last dividend is doubted below so many deviations, this late in its gap; it has to pay a little in the sum of squares. */
const DOUBTFUL = 9;
const LATE = 0.7;
const DOUBT_PAYS = 4;
/** A dividend that the first estimate has missed must pay so much. */
const PAYS = 16;
const MOST_RESTARTS = 3;
/** Least variance of the pairs in squares of what their widths say: what premiums err by is common to them and does not scatter. */
const LEAST_SCATTER = 0.64;
/** Share of the premiums that a forward errs by ... */
const PREMIUM_SHARE = 0.01;
/** ... and by so much more for every quarter beyond one to the expiry before: a long gap may hold more dividends than the one. */
const SHARE_BY_QUARTER = 0.1;

/**
 * Rate, borrow and dividends that American options of a share imply together over their expiries. Forwards near the money one by
 * one give a course of drift and dividends; all unknowns then go by Gauss-Newton with what is known before, against call
 * less put at every strike, early exercise computed under the same carry, and the smile fitted anew each round. Each forward
 * may lie a little beside the common course.
 * @param expiries ascending in time, at least one
 * @returns undefined where no pair tells anything
 */
export function estimateCarry(expiries: readonly CarryExpiry[]): CarryEstimate | undefined {
  const scale: CarryScale = {
    spot: expiries[0].spot,
    hasCurve: expiries.every((e) => e.carry.rate !== undefined),
  };
  const start = startingCourse(expiries, scale.hasCurve);
  if (!start) return undefined;
  const told = start.expiries;
  let { guess, seen } = start;
  let best: SettledCarry | undefined;
  for (let restart = 0; restart <= MOST_RESTARTS; restart++) {
    const settled = settleCarry(told, guess, seen, scale);
    if (!settled || (best && best.objective - settled.objective < PAYS)) break;
    best = withoutDoubtful(told, settled, scale);
    const more = missingStep(told, best, scale.spot);
    if (!more) break;
    ({ seen } = settled);
    guess = more;
  }
  return best && summary(expiries, told, refineCarry(told, best, scale), scale);
}

/**
 * The estimate without its last dividend, where that is as good: late in the last gap a dividend looks like a rate and a borrow that
 * are both a little off, and no expiry after it tells them apart.
 */
function withoutDoubtful(expiries: readonly CarryExpiry[], state: SettledCarry, o: CarryScale): SettledCarry {
  const { guess, covariance } = state;
  const last = guess.dividends.length - 1;
  const doubted = guess.dividends[last] as UnknownDividend | undefined;
  if (!doubted || doubted.to !== expiries[expiries.length - 1].slice.timeToExpiry) return state;
  const isLate = doubted.time > doubted.from + LATE * (doubted.to - doubted.from);
  if (!isLate || stands(guess, covariance, o.spot)[last] > DOUBTFUL) return state;
  const dividends = guess.dividends.slice(0, last);
  const without = settleCarry(expiries, { ...guess, dividends }, state.seen, o);
  return without && without.objective < state.objective + DOUBT_PAYS ? without : state;
}

function summary(
  all: readonly CarryExpiry[],
  told: readonly CarryExpiry[],
  state: RefinedCarry,
  o: CarryScale,
): CarryEstimate {
  const { guess, covariance, shifts, seen } = state;
  const unknowns = unknownsOf(guess, o);
  const size = unknowns.length;
  // Errors are as the pairs scatter, which is mostly a little less than their widths say.
  const scale = Math.max(LEAST_SCATTER, state.scatter);
  const variance = (of: ArrayLike<number>) => {
    let sum = 0;
    for (let a = 0; a < size; a++) for (let b = 0; b < size; b++) sum += of[a] * covariance[a * size + b] * of[b];
    return scale * sum;
  };
  const unit = (...ones: [number, number][]) => {
    const out = new Float64Array(size);
    for (const [a, value] of ones) out[a] = value;
    return out;
  };
  const errorOf = (...ones: [number, number][]) => Math.sqrt(variance(unit(...ones)));
  const count = guess.dividends.length;
  const own = ownDeviation(
    told.map((e) => forwardOf(e, carryUnder(e, guess))),
    shifts,
  );
  return {
    rate: { value: guess.rate, error: errorOf([0, 1]) },
    hasCurve: o.hasCurve,
    borrow: { value: guess.borrow, error: errorOf([1, 1]) },
    drift: { value: guess.rate - guess.borrow, error: errorOf([0, 1], [1, -1]) },
    dividends: guess.dividends.map(({ amount, time, from, to }, n) => ({
      amount: { value: amount, error: errorOf([2 + n, 1]) },
      time: { value: time, error: errorOf([2 + count + n, 1]) },
      from,
      to,
    })),
    expiries: all.map((e): ExpiryEstimate => {
      const carry = carryUnder(e, guess);
      const rate = { value: carry.rate, error: errorOf([0, 1]) };
      const i = told.indexOf(e);
      return i < 0 ? { carry, rate } : { carry, rate, own: ownEstimate(e, i) };
    }),
  };

  /** The common course with the expiry's own deviation from it, and its own pairs. */
  function ownEstimate(e: CarryExpiry, i: number): OwnEstimate {
    const common = forwardOf(e, carryUnder(e, guess));
    const slopes = unknowns.map(({ step, after }, a) => {
      if (after >= e.slice.timeToExpiry) return 0;
      const { guess: moved, taken } = movedGuess(guess, a, step);
      return (forwardOf(e, carryUnder(e, moved)) - common) / taken;
    });
    const ownVariance = (own * common) ** 2;
    const byPairs = scale * shifts[i].error ** 2;
    const share = byPairs < Infinity ? ownVariance / (ownVariance + byPairs) : 0;
    // What the course says wrong the expiry's own pairs mend, but for what their premiums take from the course.
    const mended = slopes.map((slope, a) => slope + share * state.shiftSlopes[i][a]);
    const deviation = Math.sqrt(variance(mended) + ownVariance * (1 - share));
    const early =
      median(Float64Array.from(e.pairs.index, (n) => seen[i].premium.call[n] + seen[i].premium.put[n])) || 0;
    const gap = e.slice.timeToExpiry - (i > 0 ? told[i - 1].slice.timeToExpiry : 0);
    const premiumShare = PREMIUM_SHARE + SHARE_BY_QUARTER * Math.max(0, 4 * gap - 1.1);
    const forward = common + share * shifts[i].value;
    return {
      forward: { value: forward, error: Math.hypot(Math.max(deviation, OWN_SHIFT * common), premiumShare * early) },
      premium: premiumOn(e, carryUnder(e, guess), forward, { ...seen[i], lacking: state.lacking[i] }),
      strikesUsed: strikesOf(e, (n) => !state.contradicting[i][n]),
      strikesLeftOut: strikesOf(e, (n) => state.contradicting[i][n]),
    };
  }
}

/** Premiums to rely on, under the yield that an expiry's own forward has. @param o.lacking what finer grids add to `fine` ones */
function premiumOn(
  e: CarryExpiry,
  c: ExpiryCarry,
  forward: number,
  { premium, smile: near, lacking }: SeenExpiry & { lacking: PremiumColumns },
): PremiumColumns {
  const drift = impliedDrift(forward, e.spot, c.dividends, e.slice.timeToExpiry);
  const smile = smileOf(e, { forward, discountFactor: discountOf(e, c) }, premium, near);
  if (!smile || Number.isNaN(drift)) return premium;
  return completed(premiumUnder(e, { ...c, dividendYield: c.rate - drift }, smile, 'fine'), lacking);
}

function strikesOf({ pairs, slice }: CarryExpiry, isMeant: (pair: number) => boolean): number[] {
  return pairs.index.filter((_, n) => isMeant(n)).map((i) => slice.strikes[i]);
}

/** How far forwards lie beside the common course, as a share of themselves: as their shifts scatter, but at least a little. */
function ownDeviation(forwards: readonly number[], shifts: readonly Estimated[]): number {
  const excess = shifts.map(({ value, error }, i) => (value * value - error * error) / forwards[i] ** 2);
  // Of a normal law the median of the square is 0.455 of its mean.
  return Math.max(OWN_SHIFT, Math.sqrt(Math.max(0, median(Float64Array.from(excess)) / 0.455)) || 0);
}
