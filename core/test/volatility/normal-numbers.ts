/**
 * Standard normal numbers, the same for a seed.
 * @see Steele, G. L., Lea, D. & Flood, C. H. (2014). Fast splittable pseudorandom number generators. OOPSLA, 453-472: the 32-bit
 *   mixing of a counter; Box & Muller (1958) for the normal ones.
 */
export function normalNumbers(seed: number): () => number {
  const uniform = uniformNumbers(seed);
  return () => Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform());
}

/** Numbers on [0, 1), the same for a seed. */
export function uniformNumbers(seed: number): () => number {
  let state = seed | 0;
  return () => {
    state = (state + 0x9e3779b9) | 0;
    let z = Math.imul(state ^ (state >>> 16), 0x21f0aaad);
    z = Math.imul(z ^ (z >>> 15), 0x735a2d97);
    return ((z ^ (z >>> 15)) >>> 0) / 2 ** 32;
  };
}
