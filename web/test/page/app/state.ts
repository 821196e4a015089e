export { page } from './state.svelte.ts';
