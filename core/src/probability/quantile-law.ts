import { normalCdf, normalQuantile } from '../math/index.ts';

/**
 * Distribution of which some quantiles are known: between and beyond them its normal scores run in straight lines, so that a
 * normal law comes back exactly.
 * @param values ascending, at least two
 * @param probabilities of ending at or below each, ascending, 0 to 1 exclusive
 * @returns undefined where the values do not ascend or are unknown
 */
export function quantileLaw(
  values: ArrayLike<number>,
  probabilities: readonly number[],
): ((value: number) => number) | undefined {
  const last = probabilities.length - 1;
  for (let i = 0; i <= last; i++)
    if (Number.isNaN(values[i]) || (i > 0 && !(values[i] > values[i - 1]))) return undefined;
  const scores = probabilities.map(normalQuantile);
  return (value) => {
    let i = 0;
    while (i < last - 1 && value > values[i + 1]) i++;
    const share = (value - values[i]) / (values[i + 1] - values[i]);
    return normalCdf(scores[i] + share * (scores[i + 1] - scores[i]));
  };
}
