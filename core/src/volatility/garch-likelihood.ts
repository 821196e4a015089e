/*
 * Symbols of Bollerslev (1986) and Glosten, Jagannathan & Runkle (1993): mu mean of the returns, h variance of a return,
 * omega constant of h, alpha weight of the last squared residual, gamma what it weighs more after a fall, beta weight of the last h.
 */

/** Places of the parameters. */
export const MU = 0;
export const OMEGA = 1;
export const ALPHA = 2;
export const BETA = 3;
export const GAMMA = 4;

const HALF_LOG_TWO_PI = 0.5 * Math.log(2 * Math.PI);

/**
 * Log-likelihood of normal returns whose variance follows GARCH(1,1), or GJR with a fifth parameter, and its gradient.
 * Before the sample both squared residual and variance are the mean squared residual.
 * @param parameters mu, omega, alpha, beta, and gamma for GJR
 * @param gradient overwritten, of the parameters' length; `outer`, when given, gets the sum of the outer products of each return's
 *   gradient, row by row
 * @param variances when given, gets the variance of each return and of the next one after them
 * @returns -Infinity where a variance is not positive
 */
export function garchLikelihood(
  returns: ArrayLike<number>,
  parameters: ArrayLike<number>,
  o: { gradient?: Float64Array; outer?: Float64Array; variances?: Float64Array } = {},
): number {
  const n = returns.length;
  const size = parameters.length;
  const [mu, omega, alpha, beta] = [parameters[MU], parameters[OMEGA], parameters[ALPHA], parameters[BETA]];
  const gamma = size > GAMMA ? parameters[GAMMA] : 0;
  const { gradient, outer, variances } = o;
  let before = 0;
  let meanResidual = 0;
  for (let t = 0; t < n; t++) {
    before += (returns[t] - mu) ** 2 / n;
    meanResidual += (returns[t] - mu) / n;
  }
  // Before the sample a fall is as likely as a rise.
  let [square, fallen, residual] = [before, 0.5 * before, 0];
  let h = before;
  const slope = new Float64Array(size);
  const own = new Float64Array(size);
  slope[MU] = -2 * meanResidual;
  gradient?.fill(0);
  outer?.fill(0);
  let total = 0;
  for (let t = 0; t <= n; t++) {
    if (gradient) {
      // d square / d mu; before the sample it is that of the mean square.
      const squareSlope = t === 0 ? -2 * meanResidual : -2 * residual;
      const fallenSlope = t === 0 ? -meanResidual : residual < 0 ? squareSlope : 0;
      for (let j = 0; j < size; j++) slope[j] *= beta;
      slope[MU] += alpha * squareSlope + gamma * fallenSlope;
      slope[OMEGA] += 1;
      slope[ALPHA] += square;
      slope[BETA] += h;
      if (size > GAMMA) slope[GAMMA] += fallen;
    }
    h = omega + alpha * square + gamma * fallen + beta * h;
    if (!(h > 0)) return -Infinity;
    if (variances) variances[t] = h;
    if (t === n) break;
    residual = returns[t] - mu;
    square = residual * residual;
    fallen = residual < 0 ? square : 0;
    total -= HALF_LOG_TWO_PI + 0.5 * (Math.log(h) + square / h);
    if (!gradient) continue;
    const byVariance = (0.5 * (square / h - 1)) / h;
    for (let j = 0; j < size; j++) own[j] = byVariance * slope[j];
    own[MU] += residual / h;
    for (let j = 0; j < size; j++) {
      gradient[j] += own[j];
      if (outer) for (let k = 0; k < size; k++) outer[j * size + k] += own[j] * own[k];
    }
  }
  return total;
}
