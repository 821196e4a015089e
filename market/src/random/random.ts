import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';

/** Seeded source of random numbers: the same on every machine. */
export interface RandomSource {
  /** Uniform on [0, 1) */
  uniform(): number;
  /** Standard normal */
  normal(): number;
}

/**
 * @param seed 32-bit integer; equal seeds give equal sequences
 * @see Box, G. E. P. & Muller, M. E. (1958). A note on the generation of random normal deviates. Annals of Mathematical
 *   Statistics 29(2), 610-611. Two uniform numbers make two normal ones.
 */
export function randomSource(seed: number): RandomSource {
  const generator = xoroshiro128plus(seed);
  let spare: number | undefined;
  return {
    uniform: () => uniformFloat64(generator),
    normal() {
      if (spare !== undefined) {
        const held = spare;
        spare = undefined;
        return held;
      }
      // 1 - u lies in (0, 1], where the logarithm is finite.
      const radius = Math.sqrt(-2 * Math.log(1 - uniformFloat64(generator)));
      const angle = 2 * Math.PI * uniformFloat64(generator);
      spare = radius * Math.sin(angle);
      return radius * Math.cos(angle);
    },
  };
}

/**
 * One 32-bit seed from several integers, so that any piece of the market can be made by itself and in any order.
 * @see Fowler, G., Noll, L. C., Vo, K.-P., Eastlake, D. & Hansen, T. (2024). The FNV non-cryptographic hash algorithm
 *   (FNV-1a, 32 bits), closed by the mixing steps of Appleby, A. (2011), MurmurHash3.
 */
export function mixSeed(...parts: number[]): number {
  let h = 0x811c9dc5;
  for (const part of parts) {
    for (let byte = 0; byte < 4; byte++) h = Math.imul(h ^ ((part >>> (8 * byte)) & 255), 0x01000193);
  }
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) | 0;
}
