/** How variance within sessions divides into what moves all the time and jumps. */
export interface JumpShare {
  /** Sum of the squared returns */
  realizedVariance: number;
  /** The part of it that jumps do not enter, by neighboring returns */
  bipowerVariation: number;
  /** 1 - bipower / realized; not cut at 0, so that without jumps it is 0 on average */
  share: number;
  /** One standard deviation of the share where there are no jumps: a share under about two of them is noise */
  standardError: number;
  /** Returns in it */
  count: number;
}

/** Expected absolute value of a standard normal number. */
const MU_1 = Math.sqrt(2 / Math.PI);
/** pi^2 / 4 + pi - 5: variance of the difference of both estimates by their quarticity. */
const DIFFERENCE_VARIANCE = (Math.PI * Math.PI) / 4 + Math.PI - 5;

/**
 * Realized variance and its bipower share from the returns of bars within sessions.
 * @param sessions log returns of each session's bars by time, without the night; sessions of fewer than four are left out, since
 *   neighbors do not reach over the night
 * @returns undefined when nothing moved or nothing is left
 * @see Barndorff-Nielsen, O. E. & Shephard, N. (2004). Power and bipower variation with stochastic volatility and jumps.
 *   Journal of Financial Econometrics 2(1), 1-37. Quadpower quarticity and the ratio's error: their (2006), Econometrics of
 *   testing for jumps in financial economics using bipower variation, same journal, 4(1), 1-30.
 */
export function jumpShare(sessions: readonly ArrayLike<number>[]): JumpShare | undefined {
  let realizedVariance = 0;
  let bipowerVariation = 0;
  let quarticity = 0;
  let count = 0;
  for (const returns of sessions) {
    const n = returns.length;
    if (n < 4) continue;
    let two = 0;
    let four = 0;
    for (let i = 0; i < n; i++) {
      realizedVariance += returns[i] ** 2;
      if (i >= 1) two += Math.abs(returns[i] * returns[i - 1]);
      if (i >= 3) four += Math.abs(returns[i] * returns[i - 1] * returns[i - 2] * returns[i - 3]);
    }
    // One product fewer than returns, three fewer of four.
    bipowerVariation += (two * n) / (n - 1) / MU_1 ** 2;
    quarticity += (four * n) / (n - 3) / MU_1 ** 4;
    count += n;
  }
  if (!(realizedVariance > 0)) return undefined;
  // The difference of both has the variance of the quarticity; of even variance it is one part in the number of returns.
  const standardError = Math.sqrt(DIFFERENCE_VARIANCE * Math.max(quarticity / bipowerVariation ** 2, 1 / count));
  return { realizedVariance, bipowerVariation, share: 1 - bipowerVariation / realizedVariance, standardError, count };
}
