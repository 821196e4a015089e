export { closeToCloseVolatility, returnSums } from './close-to-close.ts';
export { type Standing, standing } from './standing.ts';
export { ewmaVarianceStep, garchVarianceStep, type GarchParameters, type VarianceStep } from './variance-step.ts';
