/** A cubic through values at even places: what it and its first two derivatives are at any place. */
export type NaturalSpline = (x: number) => [value: number, slope: number, bend: number];

/**
 * The natural cubic spline through values at even places: smooth to its second derivative, which is 0 at both ends.
 * @param o.from place of the first value
 * @param o.step > 0
 * @param o.values at least 3; outside their places the end pieces go on
 * @see Press, W. H. et al. (2007). Numerical Recipes, 3rd edition, section 3.3.
 */
export function naturalSpline({
  from,
  step,
  values,
}: {
  from: number;
  step: number;
  values: Float64Array;
}): NaturalSpline {
  const last = values.length - 1;
  const bends = new Float64Array(last + 1);
  // Rows of the system are 1 4 1: eliminated downward, put in upward.
  const shares = new Float64Array(last + 1);
  for (let i = 1; i < last; i++) {
    const pivot = 4 - shares[i - 1];
    shares[i] = 1 / pivot;
    const curved = (6 * (values[i + 1] - 2 * values[i] + values[i - 1])) / (step * step);
    bends[i] = (curved - bends[i - 1]) / pivot;
  }
  for (let i = last - 1; i > 0; i--) bends[i] -= shares[i] * bends[i + 1];
  return (x) => {
    const i = Math.max(0, Math.min(last - 1, Math.floor((x - from) / step)));
    const b = (x - from) / step - i;
    const a = 1 - b;
    const curved = (step * step) / 6;
    return [
      a * values[i] + b * values[i + 1] + curved * ((a * a * a - a) * bends[i] + (b * b * b - b) * bends[i + 1]),
      (values[i + 1] - values[i]) / step + (step / 6) * ((3 * b * b - 1) * bends[i + 1] - (3 * a * a - 1) * bends[i]),
      a * bends[i] + b * bends[i + 1],
    ];
  };
}
