/** Sessions a year. */
const SESSIONS_PER_YEAR = 252;

/**
 * Realized volatility per year from the last closes: sample deviation of the log returns of the window, about their mean.
 * @param closes ascending in time, > 0
 * @param window returns looked at, >= 2; needs one close more
 * @returns NaN when there are too few closes
 * @throws RangeError for a window below 2 or not whole
 * @see Hull, J. C. (2015). Options, Futures, and Other Derivatives, 9th ed., section 15.4.
 */
export function closeToCloseVolatility(closes: ArrayLike<number>, window: number): number {
  if (!(Number.isInteger(window) && window >= 2))
    throw new RangeError(`window must be a whole number from 2: ${window}`);
  const first = closes.length - window;
  if (first < 1) return NaN;
  let mean = 0;
  for (let i = first; i < closes.length; i++) mean += Math.log(closes[i] / closes[i - 1]) / window;
  let squares = 0;
  for (let i = first; i < closes.length; i++) squares += (Math.log(closes[i] / closes[i - 1]) - mean) ** 2;
  return Math.sqrt((squares / (window - 1)) * SESSIONS_PER_YEAR);
}

/** Sum of the last log returns, and of their squares. @param closes ascending in time, > 0, one more than the window at least */
export function returnSums(closes: ArrayLike<number>, window: number): { sum: number; squares: number } {
  let sum = 0;
  let squares = 0;
  for (let i = closes.length - window; i < closes.length; i++) {
    const change = Math.log(closes[i] / closes[i - 1]);
    sum += change;
    squares += change * change;
  }
  return { sum, squares };
}
