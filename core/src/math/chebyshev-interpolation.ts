/** The points cos(i pi / degree), i = 0 to degree, from 1 down to -1. */
export function chebyshevPoints(degree: number): Float64Array {
  return Float64Array.from({ length: degree + 1 }, (_, i) => Math.cos((Math.PI * i) / degree));
}

const known = new Map<number, Float64Array>();

/**
 * Weights with which the values at {@link chebyshevPoints} add up to their interpolating polynomial at x.
 * @see Berrut, J.-P. & Trefethen, L. N. (2004). Barycentric Lagrange interpolation. SIAM Review 46(3), 501-517.
 */
export function chebyshevInterpolationWeights(degree: number, x: number): Float64Array {
  let points = known.get(degree);
  if (!points) known.set(degree, (points = chebyshevPoints(degree)));
  const weights = new Float64Array(degree + 1);
  let sum = 0;
  for (let i = 0; i <= degree; i++) {
    if (x === points[i]) return weights.fill(0).fill(1, i, i + 1);
    const end = i === 0 || i === degree ? 0.5 : 1;
    weights[i] = (i % 2 === 0 ? end : -end) / (x - points[i]);
    sum += weights[i];
  }
  return weights.map((w) => w / sum);
}
