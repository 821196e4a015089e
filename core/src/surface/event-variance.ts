import { leastSquares, solveLinear } from '../math/index.ts';
import type { TermPoint } from './term-structure.ts';

/** What one scheduled event adds to the term structure. */
export type EventEstimate = {
  /** Position of the event in the list that was given */
  index: number;
} & (
  | {
      ok: true;
      /** Of the log price over the event, >= 0 */
      variance: number;
      /** Root of the variance: one standard deviation of the move */
      move: number;
      /** 95 % interval of the move */
      interval: [number, number];
    }
  | {
      ok: false;
      /** `not-identifiable`: no expiry before the next event, or none on either side, tells it apart */
      reason: 'not-identifiable';
    }
);

/** Variance that no known event explains, between two expiries. */
export interface UnexplainedEvent {
  /** Position of the first expiry that holds it */
  index: number;
  variance: number;
  /** Volatility of that expiry in excess of what it would be without */
  excess: number;
}

export interface EventVariances {
  events: EventEstimate[];
  unexplained: UnexplainedEvent[];
  /** At-the-money volatility of each expiry without the events */
  exEvent: number[];
  /** Root mean squared difference of model and market, in volatility */
  rmse: number;
}

/** Half-lives of volatility's way from its present to its long-run level that are tried, in years. */
const HALF_LIVES = [0.08, 0.2, 0.5, 1.2];
/** An expiry this far above its model is a hump that something must explain: one volatility point. */
const HUMP = 0.01;
/** 97.5 % point of the normal distribution. */
const TWO_SIDED = 1.96;
/** What at-the-money volatilities err by at least, when the expiries leave nothing to measure it by. */
const LEAST_ERROR = 0.002;

/**
 * Splits at-the-money total variance into a smooth course and a jump at each event:
 *   w(T) = long T + (now - long) (1 - e^(-s T)) / s + sum of the variances of events before T
 * with non-negative parameters, by least squares in volatility; the speed s is the best of four. With few expiries the
 * course is flat. The interval follows from the curvature of the squared error.
 * @param points at-the-money volatility by expiry, ascending in time
 * @param eventTimes years from now, ascending
 * @returns one estimate an event; `not-identifiable` where no two expiries can tell its variance from the course or from
 *   another event's
 * @see Dubinsky, A., Johannes, M., Kaeck, A. & Seeger, N. (2019). Option pricing of earnings announcement risks. Review of
 *   Financial Studies 32(2), 646-687 (variance of an event from the term structure); the mean-reverting course is
 *   Heston's (1993) expected variance.
 */
export function eventVariances(points: TermPoint[], eventTimes: readonly number[]): EventVariances {
  const known = fitCourse(points, eventTimes, identifiable(points, eventTimes));
  const unexplained: UnexplainedEvent[] = [];
  let best = known;
  let times = [...eventTimes];
  let used = identifiable(points, eventTimes);
  // Take in the one hump that explains most, look again.
  while (unexplained.length < 3 && points.length - best.parameters.length >= 2) {
    const humps = points.flatMap((p, i) => {
      const excess = p.volatility - best.model[i];
      return excess > HUMP ? [{ i, excess }] : [];
    });
    if (humps.length === 0) break;
    const { i } = humps.reduce((a, b) => (b.excess > a.excess ? b : a));
    const from = i > 0 ? points[i - 1].timeToExpiry : 0;
    const time = 0.5 * (from + points[i].timeToExpiry);
    if (times.some((t) => t > from && t <= points[i].timeToExpiry)) break;
    times = [...times, time];
    used = [...used, times.length - 1];
    const next = fitCourse(points, times, used);
    if (!(next.rmse < 0.7 * best.rmse)) break;
    best = next;
    const variance = best.variances.get(times.length - 1) ?? 0;
    const { timeToExpiry, volatility } = points[i];
    const without = Math.sqrt(Math.max(0, volatility ** 2 - variance / timeToExpiry));
    unexplained.push({ index: i, variance, excess: volatility - without });
  }
  const exEvent = points.map((p) => {
    let variance = p.volatility ** 2 * p.timeToExpiry;
    for (const [j, v] of best.variances) if (times[j] < p.timeToExpiry) variance -= v;
    return Math.sqrt(Math.max(0, variance) / p.timeToExpiry);
  });
  const events = eventTimes.map((_, index): EventEstimate => {
    const variance = best.variances.get(index);
    if (variance === undefined) return { index, ok: false, reason: 'not-identifiable' };
    const error = best.errors.get(index) ?? 0;
    const root = (v: number) => Math.sqrt(Math.max(0, v));
    const interval: [number, number] = [root(variance - TWO_SIDED * error), root(variance + TWO_SIDED * error)];
    return { index, ok: true, variance, move: root(variance), interval };
  });
  return { events, unexplained, exEvent, rmse: best.rmse };
}

/**
 * Events that the expiries can tell apart: between an event and the next one there must be an expiry, and besides the
 * expiries there must be as many as the course needs: one before the event, or two after it.
 */
function identifiable(points: TermPoint[], times: readonly number[]): number[] {
  return times.flatMap((time, j) => {
    const end = times[j + 1] ?? Infinity;
    const before = points.filter((p) => p.timeToExpiry <= time).length;
    const between = points.filter((p) => p.timeToExpiry > time && p.timeToExpiry <= end).length;
    const after = points.filter((p) => p.timeToExpiry > time).length;
    const isLast = j + 1 === times.length || end > points[points.length - 1].timeToExpiry;
    return between > 0 && (before > 0 || after > 1) && (!isLast || after > 0) && points.length > 1 ? [j] : [];
  });
}

interface Course {
  parameters: Float64Array;
  model: number[];
  variances: Map<number, number>;
  errors: Map<number, number>;
  rmse: number;
}

function fitCourse(points: TermPoint[], times: readonly number[], used: number[]): Course {
  const isFlat = points.length < used.length + 3;
  const speeds = isFlat ? [0] : HALF_LIVES.map((h) => Math.LN2 / h);
  return speeds.map((s) => fitWithSpeed(points, times, used, s)).reduce((a, b) => (b.rmse < a.rmse ? b : a));
}

function fitWithSpeed(points: TermPoint[], times: readonly number[], used: number[], speed: number): Course {
  const course = speed === 0 ? 1 : 2;
  const count = course + used.length;
  // Root of each parameter, so that none is negative: long, now, then the events.
  const rows = points.map(({ timeToExpiry: t }) => {
    const early = speed === 0 ? 0 : -Math.expm1(-speed * t) / speed;
    return [...(speed === 0 ? [t] : [t - early, early]), ...used.map((j) => (times[j] < t ? 1 : 0))];
  });
  const modelOf = (p: Float64Array) =>
    rows.map((row, i) => Math.sqrt(row.reduce((sum, x, j) => sum + x * p[j] ** 2, 0) / points[i].timeToExpiry));
  const level = Math.min(...points.map((p) => p.volatility));
  const parameters = new Float64Array(count).fill(0.02);
  parameters.fill(level, 0, course);
  leastSquares(
    {
      residuals: points.length,
      steps: new Float64Array(count).fill(1e-6),
      evaluate: (out, p) => {
        modelOf(p).forEach((v, i) => (out[i] = v - points[i].volatility));
        return true;
      },
      restrain: (p) => p.forEach((v, j) => (p[j] = Math.abs(v))),
    },
    parameters,
    200,
  );
  const model = modelOf(parameters);
  const squares = model.reduce((sum, v, i) => sum + (v - points[i].volatility) ** 2, 0);
  const free = points.length - count;
  const error = Math.max(LEAST_ERROR, free > 0 ? Math.sqrt(squares / free) : 0);
  const spread = parameterErrors(rows, model, points, error);
  return {
    parameters,
    model,
    variances: new Map(used.map((j, n) => [j, parameters[course + n] ** 2])),
    errors: new Map(used.map((j, n) => [j, spread[course + n]])),
    rmse: Math.sqrt(squares / points.length),
  };
}

/** Standard deviation of each parameter's square, from the linearised model with independent errors in volatility. */
function parameterErrors(rows: number[][], model: number[], points: TermPoint[], error: number): number[] {
  const count = rows[0].length;
  const normal = Array.from({ length: count }, (_, a) =>
    Array.from({ length: count }, (_, b) =>
      rows.reduce((sum, row, i) => {
        const slope = 1 / (2 * model[i] * points[i].timeToExpiry);
        return sum + slope * slope * row[a] * row[b];
      }, 0),
    ),
  );
  return normal.map((_, j) => {
    const right = new Float64Array(count);
    right[j] = 1;
    return solveLinear(Float64Array.from(normal.flat()), right) && right[j] > 0
      ? error * Math.sqrt(right[j])
      : Infinity;
  });
}
