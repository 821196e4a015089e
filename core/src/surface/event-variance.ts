import { leastSquares, solveLinear } from '../math/index.ts';
import type { TermPoint } from './term-structure.ts';

/** A date on which the underlying is expected to jump. */
export interface DatedEvent {
  /** Years from now */
  time: number;
  /** Events of one kind are taken to be alike; without a kind an event is like no other */
  kind?: string;
}

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
      /** `not-identifiable`: no expiry tells it apart from the course or from events of another kind */
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
  /** At-the-money volatility of each expiry without the events that the 95 % interval tells from nothing */
  exEvent: number[];
  /** Root mean squared difference of model and market, in volatility */
  rmse: number;
}

/** Half-lives of volatility's way from its present to its long-run level that are tried, in years. */
const HALF_LIVES = [0.08, 0.2, 0.5, 1.2];
/** An expiry this far above its model is a hump that something must explain: one volatility point. */
const HUMP = 0.01;
/** Taking a hump in must bring the error down to this share. */
const LEAST_GAIN = 0.7;
const MOST_HUMPS = 3;
/** 97.5 % point of the normal distribution. */
const TWO_SIDED = 1.96;
/** What at-the-money volatilities err by at least, when the expiries leave nothing to measure it by. */
const LEAST_ERROR = 0.002;

/**
 * Splits at-the-money total variance into a smooth course and a jump at each event:
 *   w(T) = long T + (now - long) (1 - e^(-s T)) / s + sum of the variances of events before T
 * with non-negative parameters, by least squares in volatility, one variance for all events of a kind; the speed s is the
 * best of four. With few expiries the course is flat. The interval follows from the curvature of the squared error.
 * @param points at-the-money volatility by expiry, ascending in time
 * @param events ascending in time
 * @returns one estimate an event; `not-identifiable` where no two expiries can tell its variance from the course or from
 *   another kind's
 * @see Dubinsky, A., Johannes, M., Kaeck, A. & Seeger, N. (2019). Option pricing of earnings announcement risks. Review of
 *   Financial Studies 32(2), 646-687 (variance of an event from the term structure); the mean-reverting course is
 *   Heston's (1993) expected variance.
 */
export function eventVariances(points: TermPoint[], events: readonly DatedEvent[]): EventVariances {
  const groups = groupsOf(events);
  let used = groups.filter((g) => isIdentifiable(points, events, g));
  let best = fitCourse(points, used);
  const unexplained: UnexplainedEvent[] = [];
  const found: { index: number; group: Group }[] = [];
  const times = events.map((e) => e.time);
  // Take in the one hump that explains most, look again.
  while (found.length < MOST_HUMPS && points.length - best.parameters.length >= 2) {
    const excess = points.map((p, i) => p.volatility - best.model[i]);
    const index = excess.indexOf(Math.max(...excess));
    if (!(excess[index] > HUMP)) break;
    const from = index > 0 ? points[index - 1].timeToExpiry : 0;
    const to = points[index].timeToExpiry;
    if (times.some((t) => t > from && t <= to)) break;
    const group: Group = { members: [], times: [0.5 * (from + to)] };
    const next = fitCourse(points, [...used, group]);
    if (!(next.rmse < LEAST_GAIN * best.rmse)) break;
    times.push(group.times[0]);
    found.push({ index, group });
    used = [...used, group];
    best = next;
  }
  for (const { index, group } of found) {
    const { timeToExpiry, volatility } = points[index];
    const variance = best.variances.get(group) ?? 0;
    const without = Math.sqrt(Math.max(0, volatility ** 2 - variance / timeToExpiry));
    unexplained.push({ index, variance, excess: volatility - without });
  }
  // An event that could as well add nothing explains nothing: its variance is left in.
  const explains = (group: Group, variance: number) =>
    group.members.length === 0 || variance > TWO_SIDED * (best.errors.get(group) ?? 0);
  const exEvent = points.map((p) => {
    let variance = p.volatility ** 2 * p.timeToExpiry;
    for (const [group, v] of best.variances) if (explains(group, v)) variance -= v * countBefore(group, p.timeToExpiry);
    return Math.sqrt(Math.max(0, variance) / p.timeToExpiry);
  });
  const estimates = events.map((_, index): EventEstimate => {
    const group = used.find((g) => g.members.includes(index));
    const variance = group && best.variances.get(group);
    if (group === undefined || variance === undefined) return { index, ok: false, reason: 'not-identifiable' };
    const error = best.errors.get(group) ?? 0;
    const root = (v: number) => Math.sqrt(Math.max(0, v));
    const interval: [number, number] = [root(variance - TWO_SIDED * error), root(variance + TWO_SIDED * error)];
    return { index, ok: true, variance, move: root(variance), interval };
  });
  return { events: estimates, unexplained, exEvent, rmse: best.rmse };
}

/** Events that share one variance. */
interface Group {
  /** Places in the list of events; empty for a jump that no event explains */
  members: number[];
  times: number[];
}

function groupsOf(events: readonly DatedEvent[]): Group[] {
  const byKind = new Map<string, Group>();
  events.forEach(({ time, kind }, index) => {
    const key = kind ?? `own ${index}`;
    const group = byKind.get(key) ?? { members: [], times: [] };
    group.members.push(index);
    group.times.push(time);
    byKind.set(key, group);
  });
  return [...byKind.values()];
}

function countBefore(group: Group, time: number): number {
  return group.times.filter((t) => t < time).length;
}

/**
 * Whether the expiries tell a group's variance: behind one of its events, and before the next of another kind, there
 * must be an expiry; and as many as the course needs besides: one before the event, or two behind it.
 */
function isIdentifiable(points: TermPoint[], events: readonly DatedEvent[], group: Group): boolean {
  return group.members.some((j) => {
    const { time } = events[j];
    const end = events.find((_, i) => i > j && !group.members.includes(i))?.time ?? Infinity;
    const before = points.filter((p) => p.timeToExpiry <= time).length;
    const after = points.filter((p) => p.timeToExpiry > time).length;
    const between = points.filter((p) => p.timeToExpiry > time && p.timeToExpiry <= end).length;
    return between > 0 && (before > 0 || after > 1);
  });
}

interface Course {
  parameters: Float64Array;
  model: number[];
  variances: Map<Group, number>;
  errors: Map<Group, number>;
  rmse: number;
}

function fitCourse(points: TermPoint[], groups: Group[]): Course {
  const isFlat = points.length < groups.length + 3;
  const speeds = isFlat ? [0] : HALF_LIVES.map((h) => Math.LN2 / h);
  return speeds.map((s) => fitWithSpeed(points, groups, s)).reduce((a, b) => (b.rmse < a.rmse ? b : a));
}

function fitWithSpeed(points: TermPoint[], groups: Group[], speed: number): Course {
  const course = speed === 0 ? 1 : 2;
  const count = course + groups.length;
  // Root of each parameter, so that none is negative: long, now, then the events.
  const rows = points.map(({ timeToExpiry: t }) => {
    const early = speed === 0 ? 0 : -Math.expm1(-speed * t) / speed;
    return [...(speed === 0 ? [t] : [t - early, early]), ...groups.map((g) => countBefore(g, t))];
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
    variances: new Map(groups.map((g, n) => [g, parameters[course + n] ** 2])),
    errors: new Map(groups.map((g, n) => [g, spread[course + n]])),
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
