import fc from 'fast-check';

/** Of the commit in the usual run; ./test prints it. */
export const SEED = Number(process.env.TEST_SEED ?? 20310314);

/** Some of a list in an order that changes with the commit: what is looked at in turns. */
export function drawn<T>(all: readonly T[], count = all.length): T[] {
  const [some] = fc.sample(fc.shuffledSubarray([...all], { minLength: count, maxLength: count }), {
    numRuns: 1,
    seed: SEED,
  });
  return some;
}
