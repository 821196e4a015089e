export type { PricerWorker } from './pricer.worker.ts';
export { askTheory } from './theory-thread.ts';
export { TheoryValues } from './theory-values.svelte.ts';
