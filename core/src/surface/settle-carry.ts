import { solveLinear } from '../math/index.ts';
import { type CarryEquations, derivatives, inverse, normalEquations } from './carry-equations.ts';
import { type CarryExpiry, discountOf, forwardOf, premiumUnder, type SeenExpiry, smileOf } from './carry-expiry.ts';
import { type CarryGuess, carryUnder, guessOf, numbersOf, unknownsOf } from './carry-guess.ts';

const MOST_ITERATIONS = 12;
/** Settled is what moves by no more than this share of its deviation: another step follows, with better premiums. */
const SETTLED = 0.8;
/** ... or, where none moves by more than one, when the sum of squares changes by less than this. */
const NEGLIGIBLE_GAIN = 0.5;
/** From this round on the numbers are near enough to tell pairs that contradict. */
const TRUSTING_ROUNDS = 2;
/** A dividend stays while it stands so many deviations above nothing, so much of the spot included. */
const STANDS = 4;
const AMOUNT_FLOOR = 5e-4;

/** What the unknowns are measured by. */
export interface CarryScale {
  spot: number;
  hasCurve: boolean;
}

/** An iterate: a guess with what all pairs say at it. */
export interface SettledCarry extends CarryEquations {
  guess: CarryGuess;
  covariance: Float64Array;
  seen: SeenExpiry[];
  /** By expiry, unknown and pair: how gaps change, as seen where the estimate began */
  jacobian: Float64Array[][];
}

/** Gauss-Newton from a guess; the best iterate, without the dividends that come out as nothing. */
export function settleCarry(
  expiries: readonly CarryExpiry[],
  start: CarryGuess,
  before: readonly Partial<SeenExpiry>[],
  o: CarryScale,
): SettledCarry | undefined {
  let guess = start;
  let unknowns = unknownsOf(guess, o);
  let jacobian: Float64Array[][] | undefined;
  let seen = before;
  let best: SettledCarry | undefined;
  let objective = Infinity;
  let previous: Float64Array | undefined;
  for (let round = 0; round < MOST_ITERATIONS; round++) {
    const carries = expiries.map((e) => carryUnder(e, guess));
    const now: SeenExpiry[] = [];
    const columns: Float64Array[][] = [];
    for (const [i, e] of expiries.entries()) {
      const f = { forward: forwardOf(e, carries[i]), discountFactor: discountOf(e, carries[i]) };
      if (!(f.forward > 0)) return best;
      const smile = smileOf(e, f, seen[i].premium, seen[i].smile);
      if (!smile) return best;
      // Where the estimate begins, what the derivatives start from does.
      const begun = jacobian ? undefined : derivatives(e, { guess, unknowns, pointed: smile });
      if (begun) columns.push(begun.columns);
      now.push({ smile, premium: begun?.premium ?? premiumUnder(e, carries[i], smile, 'fine') });
    }
    seen = now;
    jacobian ??= columns;
    const premium = now.map((e) => e.premium);
    const equations = normalEquations(expiries, carries, premium, {
      jacobian,
      unknowns,
      guess,
      isRobust: round >= TRUSTING_ROUNDS,
    });
    const size = unknowns.length;
    const step = Float64Array.from(equations.right);
    if (!solveLinear(Float64Array.from(equations.normal), step)) return best;
    const covariance = inverse(equations.normal, size);
    if (!covariance) return best;
    const isFair = round >= TRUSTING_ROUNDS;
    if (
      isFair &&
      (!best || best.guess.dividends.length !== guess.dividends.length || equations.objective < best.objective)
    ) {
      best = { guess, covariance, seen: now, jacobian, ...equations };
    }
    // A number that swings is taken halfway: how the gaps change with it was seen where the estimate began.
    for (let a = 0; a < size; a++) if (step[a] * (previous?.[a] ?? 0) < 0) step[a] *= 0.5;
    previous = step;
    const numbers = numbersOf(guess).map((v, a) => v + step[a]);
    const moved = Math.max(...Array.from(step, (v, a) => Math.abs(v) / Math.sqrt(covariance[a * size + a])));
    const next = guessOf(numbers, guess);
    const weak = weakest(next, covariance, o.spot);
    if (weak !== undefined && round < MOST_ITERATIONS - TRUSTING_ROUNDS - 1) {
      const count = guess.dividends.length;
      guess = { ...next, dividends: next.dividends.filter((_, n) => n !== weak) };
      unknowns = unknownsOf(guess, o);
      jacobian = jacobian.map((own) => own.filter((_, a) => a !== 2 + weak && a !== 2 + count + weak));
      best = undefined;
      previous = undefined;
      continue;
    }
    const gain = objective - equations.objective;
    if (isFair && (moved < SETTLED || (moved < 1 && Math.abs(gain) < NEGLIGIBLE_GAIN))) break;
    objective = equations.objective;
    guess = next;
  }
  return best;
}

/** The dividend that stands least above nothing, when it does not stand enough. */
function weakest(guess: CarryGuess, covariance: Float64Array, spot: number): number | undefined {
  const all = stands(guess, covariance, spot);
  const least = Math.min(...all);
  return least < STANDS ? all.indexOf(least) : undefined;
}

/** By how many deviations every dividend stands above nothing. */
export function stands({ dividends }: CarryGuess, covariance: Float64Array, spot: number): number[] {
  const size = 2 + 2 * dividends.length;
  return dividends.map(({ amount }, n) => {
    const variance = covariance[(2 + n) * size + 2 + n];
    return amount / Math.hypot(Math.sqrt(variance), AMOUNT_FLOOR * spot);
  });
}
