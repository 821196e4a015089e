import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import { normalQuantile } from '@umwelt/core/math';

/** Seeded source of random numbers: the same on every machine. */
export interface RandomSource {
  /** Uniform on [0, 1) */
  uniform(): number;
  /** Standard normal */
  normal(): number;
}

/** @param seed 32-bit integer; equal seeds give equal sequences */
export function randomSource(seed: number): RandomSource {
  const generator = xoroshiro128plus(seed);
  const uniform = () => uniformFloat64(generator);
  // The quantile turns one draw into one normal number, so sequences stay aligned whatever is drawn.
  return { uniform, normal: () => normalQuantile(Math.min(Math.max(uniform(), 1e-12), 1 - 1e-12)) };
}
