/** Time of one piece of work per operation, in nanoseconds, and what it computed. */
export interface Timing {
  fastest: number;
  median: number;
  checksum: number;
}

/**
 * Runs work that does `operations` operations: untimed until the engine has compiled it, then `rounds` times. Compiling is
 * the counterpart of the baseline's build.
 */
export function measure(operations: number, rounds: number, work: () => number, warmup = 1): Timing {
  let checksum = work();
  for (let round = 1; round < warmup; round++) checksum = work();
  const times: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const start = process.hrtime.bigint();
    checksum = work();
    times.push(Number(process.hrtime.bigint() - start) / operations);
  }
  times.sort((a, b) => a - b);
  return { fastest: times[0], median: times[times.length >> 1], checksum };
}

/** The better of two timings of the same work; their medians are averaged. */
export function faster(a: Timing | undefined, b: Timing): Timing {
  if (!a) return b;
  return { fastest: Math.min(a.fastest, b.fastest), median: 0.5 * (a.median + b.median), checksum: b.checksum };
}

/** Sum of a column, in its order. */
export function sum(column: Float64Array): number {
  let total = 0;
  for (const value of column) total += value;
  return total;
}

/** Nanoseconds in the unit that suits them. */
export function timeText(nanoseconds: number): string {
  if (nanoseconds < 1e3) return `${nanoseconds.toFixed(1)} ns`;
  if (nanoseconds < 1e6) return `${(nanoseconds / 1e3).toFixed(2)} µs`;
  return `${(nanoseconds / 1e6).toFixed(2)} ms`;
}
