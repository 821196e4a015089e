import { solveLinear } from '../math/index.ts';
import { SESSIONS_PER_YEAR } from './sessions-per-year.ts';

/** Sessions of the day, the week and the month that enter. */
const SPANS = [1, 5, 22];
const LONGEST = 22;
const SIZE = SPANS.length + 1;
/** Fewer rows that do not overlap do not settle four coefficients. */
const LEAST_ROWS = 60;

/** Regression of the mean variance of the next sessions on that of the last day, week and month. */
export interface HarFit {
  /** Constant, weights of day, week and month */
  coefficients: Float64Array;
  /** Sessions ahead it was fitted for */
  horizon: number;
  /** Rows it rests on */
  count: number;
  /** Least and greatest mean variance that came; a forecast stays between them */
  range: [least: number, greatest: number];
}

/**
 * HAR of a direct horizon by least squares.
 * @param variances of sessions, ascending; NaN where unknown
 * @param o.end index of the last session whose variance is known to the fit
 * @param o.horizon sessions ahead, >= 1
 * @returns undefined when there are too few sessions for it
 * @see Corsi, F. (2009). A simple approximate long-memory model of realized volatility. Journal of Financial Econometrics 7(2),
 *   174-196.
 */
export function fitHar(variances: ArrayLike<number>, o: { end: number; horizon: number }): HarFit | undefined {
  const { end, horizon } = o;
  const rows: Float64Array[] = [];
  const targets: number[] = [];
  for (let i = LONGEST - 1; i + horizon <= end; i++) {
    const row = harRow(variances, i);
    const target = meanAhead(variances, i, horizon);
    if (!row || Number.isNaN(target)) continue;
    rows.push(row);
    targets.push(target);
  }
  if (rows.length < LEAST_ROWS || rows.length < 3 * horizon) return undefined;
  const moments = new Float64Array(SIZE * SIZE);
  const coefficients = new Float64Array(SIZE);
  for (const [r, row] of rows.entries()) {
    for (let a = 0; a < SIZE; a++) {
      coefficients[a] += row[a] * targets[r];
      for (let b = 0; b < SIZE; b++) moments[a * SIZE + b] += row[a] * row[b];
    }
  }
  if (!solveLinear(moments.slice(), coefficients)) return undefined;
  const range: [number, number] = [Math.min(...targets), Math.max(...targets)];
  return { coefficients, horizon, count: rows.length, range };
}

/** Mean variances of day, week and month that end at a session, after a 1 for the constant; undefined where one is unknown. */
function harRow(variances: ArrayLike<number>, index: number): Float64Array | undefined {
  if (index < LONGEST - 1) return undefined;
  const row = new Float64Array(SIZE);
  row[0] = 1;
  for (const [s, span] of SPANS.entries()) {
    for (let i = index - span + 1; i <= index; i++) row[s + 1] += variances[i] / span;
    if (Number.isNaN(row[s + 1])) return undefined;
  }
  return row;
}

/** Mean variance of the sessions after one; NaN where one of them is unknown or has not come. */
export function meanAhead(variances: ArrayLike<number>, index: number, horizon: number): number {
  if (index + horizon >= variances.length) return NaN;
  let sum = 0;
  for (let i = index + 1; i <= index + horizon; i++) sum += variances[i];
  return sum / horizon;
}

/** Volatility per year that a fit expects on average over its horizon from a session on; NaN where the month before has gaps. */
export function harForecast(fit: HarFit, variances: ArrayLike<number>, index: number): number {
  const row = harRow(variances, index);
  if (!row) return NaN;
  let variance = 0;
  for (let a = 0; a < SIZE; a++) variance += fit.coefficients[a] * row[a];
  const [least, greatest] = fit.range;
  return Math.sqrt(Math.min(Math.max(variance, least), greatest) * SESSIONS_PER_YEAR);
}
