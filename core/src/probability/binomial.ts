import { normalQuantile } from '../math/index.ts';

/**
 * Interval of a probability of which some of a number of independent trials came true.
 * @param level of confidence, default 0.95
 * @see Wilson, E. B. (1927). Probable inference, the law of succession, and statistical inference. Journal of the American
 *   Statistical Association 22(158), 209-212.
 * @example binomialInterval(8, 10) // [0.4902, 0.9433]
 */
export function binomialInterval(hits: number, trials: number, level = 0.95): [low: number, high: number] {
  if (trials === 0) return [0, 1];
  const z = normalQuantile(0.5 + 0.5 * level);
  const p = hits / trials;
  const middle = p + (z * z) / (2 * trials);
  const half = z * Math.sqrt((p * (1 - p)) / trials + (z * z) / (4 * trials * trials));
  const scale = 1 + (z * z) / trials;
  return [Math.max(0, (middle - half) / scale), Math.min(1, (middle + half) / scale)];
}
