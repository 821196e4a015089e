export type { Law } from './law.ts';
export { shaped } from './shaped.ts';
export { displaced } from './displaced.ts';
export { type MixturePart, mixture } from './mixture.ts';
export { sabr } from './sabr.ts';
export { type Jumps, mertonJumps } from './jumps.ts';
export { type Heston, heston } from './heston.ts';
