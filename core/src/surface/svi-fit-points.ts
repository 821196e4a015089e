/*
 * Points of a raw SVI fit in flat columns, and the two passes over them that take the fit's time. Everything is in total
 * deviation y = volatility x sqrt(T): dividing by sqrt(T) at the end gives volatility.
 */

/** Points of positive weight; the columns may be longer than `count`. */
export interface SviFitPoints {
  count: number;
  /** ln(strike / forward) */
  k: Float64Array;
  /** Total deviation */
  y: Float64Array;
  /** Total variance */
  w: Float64Array;
  /** Of squared errors in total deviation */
  weight: Float64Array;
  /** Of squared errors in total variance, which count the same: weight / (4 w) */
  varianceWeight: Float64Array;
  totalWeight: number;
  /** Sums of varianceWeight times 1, k, k^2, w, w k, w^2 */
  sums: Float64Array;
}

const POINTS: SviFitPoints = { count: 0, totalWeight: 0, sums: new Float64Array(6), ...columns(128) };

function columns(size: number) {
  const column = () => new Float64Array(size);
  return { k: column(), y: column(), w: column(), weight: column(), varianceWeight: column() };
}

/** The one set of columns, filled; the next call overwrites it. */
export function sviFitPoints(
  logMoneyness: Float64Array,
  volatility: Float64Array,
  weight: Float64Array,
  timeToExpiry: number,
): SviFitPoints {
  if (POINTS.k.length < weight.length) Object.assign(POINTS, columns(2 * weight.length));
  const { k, y, w, weight: kept, varianceWeight } = POINTS;
  const root = Math.sqrt(timeToExpiry);
  let count = 0;
  let total = 0;
  for (let i = 0; i < weight.length; i++) {
    const v = weight[i];
    if (!(v > 0)) continue;
    const deviation = volatility[i] * root;
    const variance = deviation * deviation;
    k[count] = logMoneyness[i];
    y[count] = deviation;
    w[count] = variance;
    kept[count] = v;
    varianceWeight[count] = (0.25 * v) / variance;
    total += v;
    count++;
  }
  POINTS.count = count;
  POINTS.totalWeight = total;
  sumUp(POINTS);
  return POINTS;
}

function sumUp({ count, k, w, varianceWeight, sums }: SviFitPoints): void {
  let v0 = 0;
  let vk = 0;
  let vkk = 0;
  let vw = 0;
  let vwk = 0;
  let vww = 0;
  for (let i = 0; i < count; i++) {
    const v = varianceWeight[i];
    const x = v * k[i];
    const y = v * w[i];
    v0 += v;
    vk += x;
    vkk += x * k[i];
    vw += y;
    vwk += x * w[i];
    vww += y * w[i];
  }
  sums[0] = v0;
  sums[1] = vk;
  sums[2] = vkk;
  sums[3] = vw;
  sums[4] = vwk;
  sums[5] = vww;
}

/** Parameters in the order a, b, rho, m, sigma. */
export const SVI_PARAMETERS = 5;

/** For five numbers a loop is faster than `set`. */
export function copyParameters(to: Float64Array, from: Float64Array): void {
  for (let j = 0; j < SVI_PARAMETERS; j++) to[j] = from[j];
}

/** Normal equations of the residuals at some parameters: upper triangle by rows (15), then the gradient (5). */
export const SVI_EQUATIONS = 20;

/**
 * Weighted squared error in total deviation, with its normal equations J'WJ and J'Wr into `equations`.
 * With d = k - m and r = sqrt(d^2 + sigma^2) the columns of J are combinations of s, s d, s r, s d / r and s / r, where
 * s = 1 / (2 sqrt w); so nine sums of weight s^2 times powers of d and r hold the whole of J'WJ.
 * @returns Infinity, with the equations unfinished, where total variance is not positive
 */
export function sviNormalEquations(points: SviFitPoints, p: Float64Array, equations: Float64Array): number {
  const { count, k, y, weight } = points;
  const a = p[0];
  const b = p[1];
  const rho = p[2];
  const m = p[3];
  const sigma = p[4];
  const sigma2 = sigma * sigma;
  const tilt = b * rho;
  let cost = 0;
  // Sums of weight s^2 times 1, d, r, d^2, d r, 1 / r, d / r, 1 / r^2, d / r^2 ...
  let one = 0;
  let sd = 0;
  let sr = 0;
  let sdd = 0;
  let sdr = 0;
  let si = 0;
  let sdi = 0;
  let sii = 0;
  let sdii = 0;
  // ... and of weight s residual times 1, d, r, d / r, 1 / r.
  let g = 0;
  let gd = 0;
  let gr = 0;
  let gdi = 0;
  let gi = 0;
  for (let i = 0; i < count; i++) {
    const d = k[i] - m;
    const r = Math.sqrt(d * d + sigma2);
    const w = a + tilt * d + b * r;
    if (!(w > 0)) return Infinity;
    const deviation = Math.sqrt(w);
    const residual = deviation - y[i];
    // One division for both quotients.
    const quotient = 1 / (deviation * r);
    const inverse = deviation * quotient;
    const s = 0.5 * r * quotient;
    const vs = weight[i] * s;
    const ve = vs * residual;
    cost += weight[i] * residual * residual;
    g += ve;
    gd += ve * d;
    gr += ve * r;
    gi += ve * inverse;
    gdi += ve * inverse * d;
    const v = vs * s;
    const vd = v * d;
    const vi = v * inverse;
    const vii = vi * inverse;
    one += v;
    sd += vd;
    sr += v * r;
    sdd += vd * d;
    sdr += vd * r;
    si += vi;
    sdi += vi * d;
    sii += vii;
    sdii += vii * d;
  }
  // d^2 / r = r - sigma^2 / r, d^2 / r^2 = 1 - sigma^2 / r^2, r^2 = d^2 + sigma^2.
  const sddi = sr - sigma2 * si;
  const sddii = one - sigma2 * sii;
  const srr = sdd + sigma2 * one;
  const bend = b * sigma;
  equations[0] = one;
  equations[1] = rho * sd + sr;
  equations[2] = b * sd;
  equations[3] = -b * (rho * one + sdi);
  equations[4] = bend * si;
  equations[5] = rho * rho * sdd + 2 * rho * sdr + srr;
  equations[6] = b * (rho * sdd + sdr);
  equations[7] = -b * (rho * rho * sd + rho * sr + rho * sddi + sd);
  equations[8] = bend * (rho * sdi + one);
  equations[9] = b * b * sdd;
  equations[10] = -b * b * (rho * sd + sddi);
  equations[11] = b * bend * sdi;
  equations[12] = b * b * (rho * rho * one + 2 * rho * sdi + sddii);
  equations[13] = -b * bend * (rho * si + sdii);
  equations[14] = bend * bend * sii;
  equations[15] = g;
  equations[16] = rho * gd + gr;
  equations[17] = b * gd;
  equations[18] = -b * (rho * g + gdi);
  equations[19] = bend * gi;
  return cost;
}

/**
 * Completes a given m and sigma: w = a + d u + c z is linear in (a, d, c) with u = (k - m) / sigma, z = sqrt(1 + u^2).
 * @param p receives the five parameters
 * @returns the weighted squared error, about that in total deviation (an error of e there is one of 2 y e in variance);
 *   Infinity when the equations are singular
 */
export function completeSvi(points: SviFitPoints, p: Float64Array, m: number, sigma: number, steepest: number): number {
  const { count, k, w, varianceWeight, sums } = points;
  const perSigma = 1 / sigma;
  let n02 = 0;
  let n12 = 0;
  let r2 = 0;
  for (let i = 0; i < count; i++) {
    const u = (k[i] - m) * perSigma;
    const vz = varianceWeight[i] * Math.sqrt(1 + u * u);
    n02 += vz;
    n12 += vz * u;
    r2 += vz * w[i];
  }
  // What holds no root follows from sums that all m and sigma share.
  const n00 = sums[0];
  const n01 = (sums[1] - m * n00) * perSigma;
  const n11 = (sums[2] - 2 * m * sums[1] + m * m * n00) * perSigma * perSigma;
  const n22 = n00 + n11;
  const r0 = sums[3];
  const r1 = (sums[4] - m * r0) * perSigma;
  // Cholesky by hand; the matrix is symmetric.
  const l10 = n01 / n00;
  const l20 = n02 / n00;
  const e11 = n11 - l10 * n01;
  const e12 = n12 - l10 * n02;
  const e22 = n22 - l20 * n02 - (e12 * e12) / e11;
  if (!(e11 > 0) || !(e22 > 0)) return Infinity;
  const f1 = r1 - l10 * r0;
  const c = (r2 - l20 * r0 - (e12 / e11) * f1) / e22;
  const d = (f1 - e12 * c) / e11;
  const level = (r0 - n01 * d - n02 * c) / n00;
  // The wings must rise, and no steeper on one side than their sum.
  const wing = Math.max(c, Math.abs(d) / steepest, 1e-10);
  const tilt = Math.max(-steepest * wing, Math.min(steepest * wing, d));
  const a = wing === c && tilt === d ? level : (r0 - n01 * tilt - n02 * wing) / n00;
  p[0] = a;
  p[1] = wing * perSigma;
  p[2] = tilt / wing;
  p[3] = m;
  p[4] = sigma;
  const quadratic =
    a * (n00 * a + 2 * (n01 * tilt + n02 * wing)) + tilt * (n11 * tilt + 2 * n12 * wing) + n22 * wing * wing;
  return quadratic - 2 * (a * r0 + tilt * r1 + wing * r2) + sums[5];
}
