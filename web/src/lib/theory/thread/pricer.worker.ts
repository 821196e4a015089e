import { expose } from 'comlink';
import { pricerCurve, pricerDecay, pricerFigures, pricerGap, pricerSolutions } from '../index.ts';

/** The Pricer's computations, off the interface thread. */
const functions = { pricerFigures, pricerSolutions, pricerCurve, pricerDecay, pricerGap };
export type PricerWorker = typeof functions;

expose(functions);
