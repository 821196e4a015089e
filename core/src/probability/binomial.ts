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

/** Trials that belong together, such as those of one month. */
export interface TrialGroup {
  hits: number;
  trials: number;
}

/**
 * The same where trials of a group hang together and groups do not: as many trials count as would, if they were independent, let
 * the share vary as much as it varies from group to group; never more than there are.
 * @param groups of one trial or more; with fewer than two groups only their number counts
 * @see Korn, E. L. & Graubard, B. I. (1998). Confidence intervals for proportions with small expected number of positive counts
 *   estimated from survey data. Survey Methodology 24(2), 193-201: the effective number of trials (here with Wilson's interval).
 */
export function groupedInterval(groups: readonly TrialGroup[], level = 0.95): [low: number, high: number] {
  const [hits, trials] = groups.reduce(([h, t], g) => [h + g.hits, t + g.trials], [0, 0]);
  const count = groups.length;
  if (trials === 0) return [0, 1];
  const p = hits / trials;
  const spread = groups.reduce((sum, g) => sum + (g.hits - p * g.trials) ** 2, 0);
  const variance = count < 2 ? 0 : ((count / (count - 1)) * spread) / (trials * trials);
  // All hit, or none, or one group alone: how much they hang together does not show, so each group counts once.
  const effective = variance > 0 ? Math.min(trials, (p * (1 - p)) / variance) : Math.min(trials, count);
  return binomialInterval(p * effective, effective, level);
}

/**
 * Chance that of independent trials, each with its own probability, at least a number come true: the exact sum.
 * @param chances of each trial
 * @example atLeastChance([0.5, 0.5], 1) // 0.75
 */
export function atLeastChance(chances: readonly number[], hits: number): number {
  let counts = [1];
  for (const p of chances) {
    const next = new Array<number>(counts.length + 1).fill(0);
    for (const [n, share] of counts.entries()) {
      next[n] += share * (1 - p);
      next[n + 1] += share * p;
    }
    counts = next;
  }
  return Math.min(
    1,
    counts.slice(Math.max(0, hits)).reduce((a, b) => a + b, 0),
  );
}
