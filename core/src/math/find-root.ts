export type RootResult =
  | { ok: true; root: number; evaluations: number }
  | { ok: false; reason: 'no-bracket' | 'not-converged' };

/**
 * A root of a continuous function inside a bracket, by Brent's method.
 * @param o.low, o.high ends of the bracket
 * @param o.tolerance absolute, on the argument
 * @param o.maxEvaluations default 100
 * @returns a tagged result; `no-bracket` when the function has the same sign at both ends
 * @see Brent, R. P. (1973). Algorithms for Minimization without Derivatives, chapter 4.
 */
export function findRoot(
  f: (x: number) => number,
  o: { low: number; high: number; tolerance: number; maxEvaluations?: number },
): RootResult {
  let a = o.low;
  let b = o.high;
  let fa = f(a);
  let fb = f(b);
  let evaluations = 2;
  if (fa === 0) return { ok: true, root: a, evaluations };
  if (fb === 0) return { ok: true, root: b, evaluations };
  if (!(fa * fb < 0)) return { ok: false, reason: 'no-bracket' };
  let c = a;
  let fc = fa;
  let step = b - a;
  let previous = step;
  while (evaluations < (o.maxEvaluations ?? 100)) {
    if (Math.abs(fc) < Math.abs(fb)) [a, b, c, fa, fb, fc] = [b, c, b, fb, fc, fb];
    const limit = 2 * Number.EPSILON * Math.abs(b) + 0.5 * o.tolerance;
    const half = 0.5 * (c - b);
    if (Math.abs(half) <= limit || fb === 0) return { ok: true, root: b, evaluations };
    if (Math.abs(previous) >= limit && Math.abs(fa) > Math.abs(fb)) {
      const s = fb / fa;
      let p: number;
      let q: number;
      if (a === c) {
        p = 2 * half * s;
        q = 1 - s;
      } else {
        const u = fa / fc;
        const r = fb / fc;
        p = s * (2 * half * u * (u - r) - (b - a) * (r - 1));
        q = (u - 1) * (r - 1) * (s - 1);
      }
      if (p > 0) q = -q;
      else p = -p;
      if (2 * p < Math.min(3 * half * q - Math.abs(limit * q), Math.abs(previous * q))) {
        previous = step;
        step = p / q;
      } else {
        step = half;
        previous = half;
      }
    } else {
      step = half;
      previous = half;
    }
    a = b;
    fa = fb;
    b += Math.abs(step) > limit ? step : half > 0 ? limit : -limit;
    fb = f(b);
    evaluations++;
    if (fb > 0 === fc > 0) {
      c = a;
      fc = fa;
      step = b - a;
      previous = step;
    }
  }
  return { ok: false, reason: 'not-converged' };
}
