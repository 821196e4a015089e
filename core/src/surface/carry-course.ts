import { median } from '../math/index.ts';
import {
  type CarryExpiry,
  discountOf,
  type ExpiryCarry,
  forwardOf,
  gapUnder,
  pairErrors,
  premiumUnder,
  type SeenExpiry,
  smileOf,
} from './carry-expiry.ts';
import { type Estimated, OWN_SHIFT } from './carry-equations.ts';
import { type CarryGuess, carryUnder } from './carry-guess.ts';
import { startingForward } from './carry-start.ts';
import { carrySteps, ORDINARY_DRIFT, USUAL_DRIFT } from './carry-steps.ts';
import { USUAL_RATE } from './rate-prior.ts';
import { robustMean } from './robust-mean.ts';

/** Forwards are looked at anew under the course so often before all goes together; they err by so much of themselves and of their premiums. */
const LOOKS = 2;
const SEEN = { ofForward: 2e-4, ofPremium: 0.05 };
/** Squares of deviations that one pair may add: a wrong one decides nothing. */
const MOST_SCATTER = 16;
/** A dividend that is added must be at least this share of the spot. */
const LEAST_STEP = 2e-3;

/** Where the estimate starts, for the expiries whose pairs tell something. */
export interface CarryStart {
  expiries: CarryExpiry[];
  guess: CarryGuess;
  seen: Partial<SeenExpiry>[];
}

/** A course of drift and dividends through the forwards one by one, looked at twice; undefined where no pair tells anything. */
export function startingCourse(all: readonly CarryExpiry[], hasCurve: boolean): CarryStart | undefined {
  const rate = hasCurve ? 0 : USUAL_RATE.rate;
  const told = all.flatMap((e) => {
    const start = startingForward(e, hasCurve ? (e.carry.rate as number) : rate);
    return start ? [{ e, start }] : [];
  });
  if (told.length === 0) return undefined;
  const expiries = told.map(({ e }) => e);
  const seen = told.map(({ start }): Partial<SeenExpiry> => start);
  const forwards = told.map(({ start }): Estimated => ({ value: start.forward, error: start.error }));
  const firstLook = (usualDrift: number) => {
    const o = { rate, usualDrift };
    return lookedAt(expiries, { guess: courseOf(expiries, forwards, o), seen, scatter: Infinity }, o);
  };
  let course = firstLook(USUAL_DRIFT);
  let usualDrift = USUAL_DRIFT;
  // A yield and dividends at even intervals make the same forwards; early exercise tells them apart.
  if (Math.abs(course.guess.borrow) > 2 * ORDINARY_DRIFT) {
    const ordinary = firstLook(ORDINARY_DRIFT);
    if (ordinary.guess.dividends.length > 0 && ordinary.scatter < course.scatter) {
      course = ordinary;
      usualDrift = ORDINARY_DRIFT;
    }
  }
  for (let look = 1; look < LOOKS; look++) course = lookedAt(expiries, course, { rate, usualDrift });
  return { expiries, ...course };
}

interface CourseLook {
  guess: CarryGuess;
  seen: Partial<SeenExpiry>[];
  /** Squares of what the pairs miss under the course, each forward's shift apart */
  scatter: number;
}

/** Forwards looked at under a course, and the course through those; the same where one cannot be. */
function lookedAt(
  expiries: readonly CarryExpiry[],
  course: CourseLook,
  o: { rate: number; usualDrift: number },
): CourseLook {
  const now = expiries.flatMap((e, i) => forwardSeen(e, carryUnder(e, course.guess), course.seen[i]) ?? []);
  if (now.length < expiries.length) return course;
  const forwards = now.map((s) => s.forward);
  return {
    guess: courseOf(expiries, forwards, o),
    seen: now,
    scatter: now.reduce((sum, s) => sum + s.scatter, 0),
  };
}

/** A course through forwards, as a guess. @param o.rate over the curve, or without one */
function courseOf(
  expiries: readonly CarryExpiry[],
  forwards: readonly Estimated[],
  { rate, usualDrift }: { rate: number; usualDrift: number },
): CarryGuess {
  const times = expiries.map((e) => e.slice.timeToExpiry);
  const course = carrySteps(
    expiries.map((e, i) => ({
      timeToExpiry: times[i],
      forward: forwards[i].value,
      error: forwards[i].error,
      drift: (e.carry.rate ?? 0) + rate - (e.carry.dividendYield ?? 0),
      dividends: e.carry.dividends ?? [],
    })),
    expiries[0].spot,
    { usualDrift },
  );
  const dividends = course.steps.map(({ time, amount }) => ({ time, amount, ...gapAround(times, time) }));
  return { rate, borrow: -course.drift, dividends };
}

interface SeenForward extends SeenExpiry {
  forward: Estimated;
  scatter: number;
}

/** The forward of one expiry by all its pairs, with premiums under a carry; undefined without a usable quote. */
function forwardSeen(e: CarryExpiry, c: ExpiryCarry, before: Partial<SeenExpiry>): SeenForward | undefined {
  const common = forwardOf(e, c);
  const discountFactor = discountOf(e, c);
  const smile = common > 0 ? smileOf(e, { forward: common, discountFactor }, before.premium, before.smile) : undefined;
  if (!smile) return undefined;
  const premium = premiumUnder(e, c, smile, 'slope');
  const model = gapUnder(e, c, premium);
  const errors = pairErrors(e, premium);
  // A shift of the forward moves every gap alike.
  const misses = model.map((v, n) => e.pairs.gap[n] - v);
  const { mean, weights } = robustMean(misses, errors);
  const early = median(Float64Array.from(e.pairs.index, (i) => Math.abs(premium.call[i] - premium.put[i])));
  const error = Math.hypot(1 / Math.sqrt(weights), SEEN.ofForward * common, SEEN.ofPremium * early);
  if (!Number.isFinite(mean)) return undefined;
  const scatter = misses.reduce((sum, miss, n) => sum + Math.min(((miss - mean) / errors[n]) ** 2, MOST_SCATTER), 0);
  return { forward: { value: common + mean / discountFactor, error }, premium, smile, scatter };
}

function gapAround(times: readonly number[], time: number): { from: number; to: number } {
  const next = times.findIndex((t) => t > time);
  return { from: next > 0 ? times[next - 1] : 0, to: times[next] };
}

/** The guess with one more dividend, where the forwards' own shifts ask for one. */
export function missingStep(
  expiries: readonly CarryExpiry[],
  { guess, shifts }: { guess: CarryGuess; shifts: readonly Estimated[] },
  spot: number,
): CarryGuess | undefined {
  const course = carrySteps(
    expiries.flatMap((e, i) => {
      const c = carryUnder(e, guess);
      const forward = forwardOf(e, c);
      const { value, error } = shifts[i];
      if (!(error < Infinity)) return [];
      return [
        {
          timeToExpiry: e.slice.timeToExpiry,
          forward: forward + value,
          error: Math.hypot(error, 2 * OWN_SHIFT * forward),
          drift: c.rate - c.dividendYield,
          dividends: c.dividends,
        },
      ];
    }),
    spot,
    { isTaken: (from) => guess.dividends.some((known) => known.from === from) },
  );
  const times = expiries.map((e) => e.slice.timeToExpiry);
  const added = course.steps
    .map(({ time, amount }) => ({ time, amount, ...gapAround(times, time) }))
    .filter((d) => d.amount > LEAST_STEP * spot);
  if (added.length === 0) return undefined;
  return {
    ...guess,
    borrow: guess.borrow - course.drift,
    dividends: [...guess.dividends, ...added].sort((a, b) => a.time - b.time),
  };
}
