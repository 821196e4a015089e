import { solveLinear } from '../math/index.ts';
import type { Side } from '../pricing/index.ts';
import { inverse, normalEquations } from './carry-equations.ts';
import { type CarryExpiry, forwardOf, premiumUnder } from './carry-expiry.ts';
import { carryUnder, guessOf, numbersOf, unknownsOf } from './carry-guess.ts';
import type { CarryScale, SettledCarry } from './settle-carry.ts';
import type { PremiumColumns } from './telling-side.ts';

/** A settled guess with premiums to rely on. */
export interface RefinedCarry extends SettledCarry {
  /** By expiry, what `fine` premiums lack of those to rely on */
  lacking: PremiumColumns[];
}

/**
 * One more step, with premiums to rely on: those of the iterations err to one side, by more the longer an option lives. What
 * they lack at the settled guess is added to them from here on.
 */
export function refineCarry(expiries: readonly CarryExpiry[], settled: SettledCarry, o: CarryScale): RefinedCarry {
  const { guess, seen, jacobian } = settled;
  const unknowns = unknownsOf(guess, o);
  const carries = expiries.map((e) => carryUnder(e, guess));
  const premium = expiries.map((e, i) => premiumUnder(e, carries[i], seen[i].smile, 'final'));
  const equations = normalEquations(expiries, carries, premium, { jacobian, unknowns, guess, isRobust: true });
  const before: RefinedCarry = {
    ...settled,
    ...equations,
    covariance: inverse(equations.normal, unknowns.length) ?? settled.covariance,
    seen: seen.map(({ smile }, i) => ({ smile, premium: premium[i] })),
    lacking: premium.map((columns, i) => lackingOf(seen[i].premium, columns)),
  };
  const step = Float64Array.from(equations.right);
  if (!solveLinear(Float64Array.from(equations.normal), step)) return before;
  const numbers = numbersOf(guess);
  const next = guessOf(
    numbers.map((v, a) => v + step[a]),
    guess,
  );
  if (!expiries.every((e) => forwardOf(e, carryUnder(e, next)) > 0)) return before;
  const taken = numbersOf(next).map((v, a) => v - numbers[a]);
  const shifts = before.shifts.map(({ value, error }, i) => ({
    value: before.shiftSlopes[i].reduce((sum, slope, a) => sum + slope * taken[a], value),
    error,
  }));
  return { ...before, guess: next, shifts };
}

/** Premiums with what they lack. */
export function completed(columns: PremiumColumns, lacking: PremiumColumns): PremiumColumns {
  const of = (side: Side) => columns[side].map((v, i) => Math.max(0, v + lacking[side][i]));
  return { call: of('call'), put: of('put') };
}

function lackingOf(columns: PremiumColumns, reliable: PremiumColumns): PremiumColumns {
  const of = (side: Side) => reliable[side].map((v, i) => v - columns[side][i]);
  return { call: of('call'), put: of('put') };
}
