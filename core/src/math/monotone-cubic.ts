/**
 * Cubic through points that goes up and down only where they do; constant outside them.
 * @param x ascending, at least two
 * @see Fritsch, F. N. & Butland, J. (1984). A method for constructing local monotone piecewise cubic interpolants. SIAM
 *   Journal on Scientific and Statistical Computing 5(2), 300-304.
 */
export function monotoneCubic(x: readonly number[], y: readonly number[]): (at: number) => number {
  const last = x.length - 1;
  const width = (i: number) => x[i + 1] - x[i];
  const slope = (i: number) => (y[i + 1] - y[i]) / width(i);
  const tangents = x.map((_, i) => {
    if (i === 0) return slope(0);
    if (i === last) return slope(last - 1);
    const [before, after] = [slope(i - 1), slope(i)];
    if (before * after <= 0) return 0;
    const share = (width(i - 1) + 2 * width(i)) / (3 * (width(i - 1) + width(i)));
    return (before * after) / (share * after + (1 - share) * before);
  });
  return (at) => {
    if (at <= x[0]) return y[0];
    if (at >= x[last]) return y[last];
    const i = x.findIndex((next) => next > at) - 1;
    const h = width(i);
    const t = (at - x[i]) / h;
    const [a, b] = [y[i], y[i + 1]];
    return (
      a * (1 + 2 * t) * (1 - t) ** 2 +
      h * tangents[i] * t * (1 - t) ** 2 +
      b * t * t * (3 - 2 * t) +
      h * tangents[i + 1] * t * t * (t - 1)
    );
  };
}
