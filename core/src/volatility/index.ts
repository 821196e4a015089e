export { type Standing, standing } from './standing.ts';
