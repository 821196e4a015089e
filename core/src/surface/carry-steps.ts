import { solveLinear } from '../math/index.ts';
import type { CashDividend } from '../pricing/index.ts';
import { spotForward } from './spot-carry.ts';

/** A forward with its deviation, and what its expiry is known to have. */
export interface StepObservation {
  timeToExpiry: number;
  forward: number;
  error: number;
  /** Known rate less known yield, per year */
  drift: number;
  dividends: readonly CashDividend[];
}

/** A course of forwards: so much drift beside the known one, and dividends beside those. */
export interface CarrySteps {
  drift: number;
  steps: CashDividend[];
}

/** Drift beside the known one is usually below so much a year, and a dividend below so much of the spot ... */
export const USUAL_DRIFT = 0.2;
/** ... and of a share that can be borrowed and financed as others it is hardly any. */
export const ORDINARY_DRIFT = 0.003;
export const USUAL_DIVIDEND = 0.03;
/** A dividend is taken while it makes the sum of squared deviations fall by more than this: four deviations. */
const PAYS = 16;
const MOST_STEPS = 8;
/** The forward is nearly linear in its unknowns. */
const ROUNDS = 3;

/**
 * Drift and dividends that forwards by expiry ask for: one candidate a gap between expiries, in its middle, taken one at a time
 * while it pays.
 * @param observed ascending in time, not empty
 * @param o.usualDrift what drift is taken to be below: with little of it, dividends explain the forwards
 * @param o.isTaken whether the gap that begins at a time has its dividend already
 */
export function carrySteps(
  observed: readonly StepObservation[],
  spot: number,
  { usualDrift = USUAL_DRIFT, isTaken }: { usualDrift?: number; isTaken?: (from: number) => boolean } = {},
): CarrySteps {
  const times = observed.map((o) => o.timeToExpiry);
  const candidates = times.map((time, i) => 0.5 * (time + (i > 0 ? times[i - 1] : 0)));
  let chosen: number[] = [];
  let best = fitted(observed, spot, { times: [], usualDrift });
  while (chosen.length < MOST_STEPS) {
    let next = best;
    let pick = -1;
    for (let c = 0; c < candidates.length; c++) {
      if (chosen.includes(c) || isTaken?.(c > 0 ? times[c - 1] : 0)) continue;
      const tried = fitted(observed, spot, { times: [...chosen, c].map((n) => candidates[n]), usualDrift });
      if (tried.squares < next.squares && tried.steps.every((s) => s.amount > 0)) {
        next = tried;
        pick = c;
      }
    }
    if (pick < 0 || best.squares - next.squares < PAYS) break;
    chosen = [...chosen, pick];
    best = next;
  }
  return { drift: best.drift, steps: best.steps.sort((a, b) => a.time - b.time) };
}

/** Least squares of drift and amounts at given times. */
function fitted(
  observed: readonly StepObservation[],
  spot: number,
  { times, usualDrift }: { times: number[]; usualDrift: number },
): CarrySteps & { squares: number } {
  const size = times.length + 1;
  const x = new Float64Array(size);
  const deviations = Float64Array.from(x, (_, a) => (a === 0 ? usualDrift : USUAL_DIVIDEND * spot));
  const stepsOf = () => times.map((time, n) => ({ time, amount: x[n + 1] }));
  const row = new Float64Array(size);
  for (let round = 0; round < ROUNDS; round++) {
    const normal = new Float64Array(size * size);
    const right = new Float64Array(size);
    for (const o of observed) {
      const { timeToExpiry: T, error } = o;
      const drift = o.drift + x[0];
      const miss = o.forward - spotForward(spot, drift, [...o.dividends, ...stepsOf()], T);
      row[0] = T * spot * Math.exp(drift * T);
      times.forEach((t, n) => (row[n + 1] = t < T ? -Math.exp(drift * (T - t)) : 0));
      for (let a = 0; a < size; a++) {
        right[a] += (row[a] * miss) / (error * error);
        for (let b = 0; b < size; b++) normal[a * size + b] += (row[a] * row[b]) / (error * error);
      }
    }
    for (let a = 0; a < size; a++) {
      normal[a * size + a] += 1 / deviations[a] ** 2;
      right[a] -= x[a] / deviations[a] ** 2;
    }
    if (!solveLinear(normal, right)) break;
    for (let a = 0; a < size; a++) x[a] += right[a];
  }
  const steps = stepsOf();
  let squares = (x[0] / usualDrift) ** 2;
  for (const o of observed) {
    const forward = spotForward(spot, o.drift + x[0], [...o.dividends, ...steps], o.timeToExpiry);
    squares += ((o.forward - forward) / o.error) ** 2;
  }
  return { drift: x[0], steps, squares };
}
