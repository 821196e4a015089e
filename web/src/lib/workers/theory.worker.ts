import { expose } from 'comlink';
import { surfaceGreeks } from '../figures/surface-grid.ts';
import { listedValues } from '../theory/index.ts';

/** Values that take a while, off the interface thread. */
const functions = { listedValues, surfaceGreeks };
export type TheoryWorker = typeof functions;

expose(functions);
