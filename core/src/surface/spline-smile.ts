import type { Smile } from './smile.ts';

/** A natural cubic spline of total variance over log-moneyness. */
export interface SplineParameters {
  /** Knots, ln(strike / forward), ascending, at least two */
  knots: number[];
  /** Total variance at each knot */
  totalVariance: number[];
  /** Second derivative there; 0 at both ends */
  curvature: number[];
}

/** Smile of a natural cubic spline; beyond its ends total variance goes on in a straight line. */
export function splineSmile({ knots, totalVariance, curvature }: SplineParameters, timeToExpiry: number): Smile {
  const last = knots.length - 1;
  const slopeAt = (i: number, isRight: boolean): number => {
    const [a, b] = isRight ? [i, i + 1] : [i - 1, i];
    const h = knots[b] - knots[a];
    const chord = (totalVariance[b] - totalVariance[a]) / h;
    return isRight
      ? chord - (h * (2 * curvature[a] + curvature[b])) / 6
      : chord + (h * (curvature[a] + 2 * curvature[b])) / 6;
  };
  const low = slopeAt(0, true);
  const high = slopeAt(last, false);
  const pieceOf = (k: number): number => {
    let [a, b] = [0, last];
    while (b - a > 1) {
      const middle = (a + b) >> 1;
      if (knots[middle] <= k) a = middle;
      else b = middle;
    }
    return a;
  };
  return {
    timeToExpiry,
    totalVariance: (k) => {
      if (k <= knots[0]) return totalVariance[0] + low * (k - knots[0]);
      if (k >= knots[last]) return totalVariance[last] + high * (k - knots[last]);
      const i = pieceOf(k);
      const h = knots[i + 1] - knots[i];
      const [left, right] = [(knots[i + 1] - k) / h, (k - knots[i]) / h];
      const bend = (left ** 3 - left) * curvature[i] + (right ** 3 - right) * curvature[i + 1];
      return left * totalVariance[i] + right * totalVariance[i + 1] + (h * h * bend) / 6;
    },
    slope: (k) => {
      if (k <= knots[0]) return low;
      if (k >= knots[last]) return high;
      const i = pieceOf(k);
      const h = knots[i + 1] - knots[i];
      const [left, right] = [(knots[i + 1] - k) / h, (k - knots[i]) / h];
      const bend = (3 * right ** 2 - 1) * curvature[i + 1] - (3 * left ** 2 - 1) * curvature[i];
      return (totalVariance[i + 1] - totalVariance[i]) / h + (h * bend) / 6;
    },
    curvature: (k) => {
      if (k <= knots[0] || k >= knots[last]) return 0;
      const i = pieceOf(k);
      const share = (k - knots[i]) / (knots[i + 1] - knots[i]);
      return (1 - share) * curvature[i] + share * curvature[i + 1];
    },
  };
}

/** Natural cubic spline through points. @param knots ascending, at least three */
export function splineThrough(knots: ArrayLike<number>, values: ArrayLike<number>): SplineParameters {
  return smoothingSpline(knots, values, new Float64Array(knots.length).fill(1), 0);
}

/**
 * Natural cubic spline that minimises the weighted squared errors plus a penalty times the integral of the squared second
 * derivative.
 * @param knots ascending, at least three
 * @see Reinsch, C. H. (1967). Smoothing by spline functions. Numerische Mathematik 10, 177-183.
 */
export function smoothingSpline(
  knots: ArrayLike<number>,
  values: ArrayLike<number>,
  weights: ArrayLike<number>,
  penalty: number,
): SplineParameters {
  const n = knots.length;
  const inner = n - 2;
  const h = Float64Array.from({ length: n - 1 }, (_, i) => knots[i + 1] - knots[i]);
  // Row j of Q' is the second divided difference (times a factor) around knot j + 1.
  const row = (j: number): [number, number, number] => [1 / h[j], -1 / h[j] - 1 / h[j + 1], 1 / h[j + 1]];
  // R + penalty Q' W^-1 Q: symmetric, five diagonals.
  const diagonal = new Float64Array(inner);
  const first = new Float64Array(inner);
  const second = new Float64Array(inner);
  const right = new Float64Array(inner);
  for (let j = 0; j < inner; j++) {
    const a = row(j);
    diagonal[j] = (h[j] + h[j + 1]) / 3;
    for (let c = 0; c < 3; c++) {
      diagonal[j] += (penalty * a[c] * a[c]) / weights[j + c];
      right[j] += a[c] * values[j + c];
    }
    if (j + 1 < inner) {
      const b = row(j + 1);
      first[j] = h[j + 1] / 6 + penalty * ((a[1] * b[0]) / weights[j + 1] + (a[2] * b[1]) / weights[j + 2]);
    }
    if (j + 2 < inner) second[j] = (penalty * a[2] * row(j + 2)[0]) / weights[j + 2];
  }
  const inside = solveFiveDiagonals(diagonal, first, second, right);
  const curvature = [0, ...inside, 0];
  const fitted = Array.from({ length: n }, (_, i) => {
    let sum = 0;
    for (let j = Math.max(0, i - 2); j <= Math.min(inner - 1, i); j++) sum += row(j)[i - j] * inside[j];
    return values[i] - (penalty * sum) / weights[i];
  });
  return { knots: Array.from(knots), totalVariance: fitted, curvature };
}

/** Solves a symmetric positive definite system of five diagonals by L D L', in place; returns the right side's array. */
function solveFiveDiagonals(
  diagonal: Float64Array,
  first: Float64Array,
  second: Float64Array,
  right: Float64Array,
): Float64Array {
  const n = diagonal.length;
  // first and second become L's columns, diagonal becomes D.
  for (let i = 0; i < n; i++) {
    const near = first[i] / diagonal[i];
    const far = second[i] / diagonal[i];
    if (i + 1 < n) diagonal[i + 1] -= near * first[i];
    if (i + 1 < n) first[i + 1] -= near * second[i];
    if (i + 2 < n) diagonal[i + 2] -= far * second[i];
    first[i] = near;
    second[i] = far;
    if (i + 1 < n) right[i + 1] -= near * right[i];
    if (i + 2 < n) right[i + 2] -= far * right[i];
  }
  for (let i = n - 1; i >= 0; i--) {
    right[i] /= diagonal[i];
    if (i + 1 < n) right[i] -= first[i] * right[i + 1];
    if (i + 2 < n) right[i] -= second[i] * right[i + 2];
  }
  return right;
}
