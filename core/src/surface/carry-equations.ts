import { solveLinear } from '../math/index.ts';
import {
  type CarryExpiry,
  discountOf,
  type ExpiryCarry,
  forwardOf,
  gapUnder,
  pairErrors,
  type PointedSmile,
  premiumUnder,
} from './carry-expiry.ts';
import { type CarryGuess, carryUnder, guessOf, numbersOf, type Unknown } from './carry-guess.ts';
import type { PremiumColumns } from './telling-side.ts';

/** A number with its standard deviation. */
export interface Estimated {
  value: number;
  error: number;
}

/** Forward of an expiry errs by its own so much of itself, whatever the others say: what makes 90 % intervals cover. */
export const OWN_SHIFT = 1e-4;
/** Pairs off by more deviations than this count less (Huber 1964). */
const CONTRADICTION = 4;

/** Weighted least squares of all pairs at one guess, solved for a step by `normal` x step = `right`. */
export interface CarryEquations {
  /** Row-major */
  normal: Float64Array;
  right: Float64Array;
  /** Sum of weighted squares, with what was known before */
  objective: number;
  /** Own shift of each forward that its pairs ask for, with its deviation */
  shifts: Estimated[];
  /** How that shift changes with every unknown, an expiry at a time */
  shiftSlopes: Float64Array[];
  /** Whether a pair of an expiry contradicts the others */
  contradicting: boolean[][];
  /** Squares of the pairs in units of their errors, per pair */
  scatter: number;
}

/** How every pair's gap changes with every unknown, volatilities held by strike, and the premiums it changes from. */
export function derivatives(
  e: CarryExpiry,
  o: { guess: CarryGuess; unknowns: readonly Unknown[]; pointed: PointedSmile },
): { columns: Float64Array[]; premium: PremiumColumns } {
  const premiumAt = (guess: CarryGuess) => premiumUnder(e, carryUnder(e, guess), o.pointed, 'slope');
  const gapAt = (guess: CarryGuess, premium: PremiumColumns) => gapUnder(e, carryUnder(e, guess), premium);
  const held = premiumAt(o.guess);
  const base = gapAt(o.guess, held);
  const columns = o.unknowns.map((unknown, a) => {
    if (unknown.after >= e.slice.timeToExpiry) return new Float64Array(base.length);
    const { guess, taken } = movedGuess(o.guess, a, unknown.step);
    const moved = gapAt(guess, unknown.exercisedUntil < e.slice.timeToExpiry ? held : premiumAt(guess));
    for (let n = 0; n < moved.length; n++) moved[n] = (moved[n] - base[n]) / taken;
    return moved;
  });
  return { columns, premium: held };
}

/** The guess with one number moved by a step, or the other way where it may go no further. */
export function movedGuess(guess: CarryGuess, a: number, step: number): { guess: CarryGuess; taken: number } {
  const before = numbersOf(guess);
  for (const way of [step, -step]) {
    const numbers = Float64Array.from(before);
    numbers[a] += way;
    const moved = guessOf(numbers, guess);
    const taken = numbersOf(moved)[a] - before[a];
    if (taken !== 0) return { guess: moved, taken };
  }
  return { guess, taken: step };
}

/** Normal equations of all unknowns, each forward's own shift taken into the errors. */
export function normalEquations(
  expiries: readonly CarryExpiry[],
  carries: readonly ExpiryCarry[],
  premium: readonly PremiumColumns[],
  o: { jacobian: Float64Array[][]; unknowns: readonly Unknown[]; guess: CarryGuess; isRobust: boolean },
): CarryEquations {
  const size = o.unknowns.length;
  const normal = new Float64Array(size * size);
  const right = new Float64Array(size);
  const shifts: Estimated[] = [];
  const shiftSlopes: Float64Array[] = [];
  const contradicting: boolean[][] = [];
  let objective = 0;
  let count = 0;
  let squares = 0;
  expiries.forEach((e, i) => {
    const model = gapUnder(e, carries[i], premium[i]);
    const errors = pairErrors(e, premium[i]);
    const columns = o.jacobian[i];
    const discountFactor = discountOf(e, carries[i]);
    const byShift = new Float64Array(size);
    let shiftSquares = 0;
    let shiftMiss = 0;
    const against: boolean[] = [];
    contradicting.push(against);
    model.forEach((value, n) => {
      const miss = e.pairs.gap[n] - value;
      const off = Math.abs(miss) / errors[n];
      against.push(off > CONTRADICTION);
      const trust = o.isRobust && off > CONTRADICTION ? (CONTRADICTION / off) ** 2 : 1;
      const weight = trust / errors[n] ** 2;
      objective += weight * miss * miss;
      squares += weight * miss * miss;
      count++;
      shiftSquares += weight * discountFactor * discountFactor;
      shiftMiss += weight * discountFactor * miss;
      for (let a = 0; a < size; a++) {
        const left = weight * columns[a][n];
        right[a] += left * miss;
        byShift[a] += left * discountFactor;
        for (let b = 0; b < size; b++) normal[a * size + b] += left * columns[b][n];
      }
    });
    const own = (OWN_SHIFT * forwardOf(e, carries[i])) ** 2;
    const factor = own / (1 + own * shiftSquares);
    objective -= factor * shiftMiss * shiftMiss;
    for (let a = 0; a < size; a++) {
      right[a] -= factor * shiftMiss * byShift[a];
      for (let b = 0; b < size; b++) normal[a * size + b] -= factor * byShift[a] * byShift[b];
    }
    shiftSlopes.push(byShift.map((v) => -v / shiftSquares || 0));
    shifts.push({
      value: shiftMiss / shiftSquares || 0,
      error: shiftSquares > 0 ? 1 / Math.sqrt(shiftSquares) : Infinity,
    });
  });
  const numbers = numbersOf(o.guess);
  o.unknowns.forEach(({ centre, deviation }, a) => {
    const off = numbers[a] - centre;
    normal[a * size + a] += 1 / deviation ** 2;
    right[a] -= off / deviation ** 2;
    objective += (off / deviation) ** 2;
  });
  return { normal, right, objective, shifts, shiftSlopes, contradicting, scatter: squares / Math.max(1, count - size) };
}

/** Inverse of a symmetric matrix, row-major; undefined of a singular one. */
export function inverse(matrix: Float64Array, size: number): Float64Array | undefined {
  const out = new Float64Array(size * size);
  for (let column = 0; column < size; column++) {
    const unit = new Float64Array(size);
    unit[column] = 1;
    if (!solveLinear(Float64Array.from(matrix), unit)) return undefined;
    for (let row = 0; row < size; row++) out[row * size + column] = unit[row];
  }
  return out;
}
