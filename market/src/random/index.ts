export { type RandomSource, mixSeed, randomSource } from './random.ts';
