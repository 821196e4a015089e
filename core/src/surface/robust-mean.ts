import { median } from '../math/index.ts';

/** Values off by more deviations than this count less (Huber 1964). */
const CONTRADICTION = 4;
const ROUNDS = 3;

/**
 * Mean of values with their errors, from their median on, in which those that contradict the others count by the square of how
 * far they are off; with the sum of their weights. NaN without values.
 * @param weight beyond the errors, one a value; default 1
 */
export function robustMean(
  values: ArrayLike<number>,
  errors: ArrayLike<number>,
  weight: (i: number) => number = () => 1,
): { mean: number; weights: number } {
  let mean = median(values);
  let weights = 0;
  for (let round = 0; round < ROUNDS; round++) {
    let sum = 0;
    weights = 0;
    for (let i = 0; i < values.length; i++) {
      const off = Math.abs(values[i] - mean) / errors[i];
      const trust = off > CONTRADICTION ? (CONTRADICTION / off) ** 2 : 1;
      const w = (trust * weight(i)) / (errors[i] * errors[i]);
      sum += w * (values[i] - mean);
      weights += w;
    }
    if (!(weights > 0)) return { mean: NaN, weights: 0 };
    mean += sum / weights;
  }
  return { mean, weights };
}
