import { expose } from 'comlink';
import { listedValues, surfaceGreeks } from '../index.ts';

/** Values that take a while, off the interface thread. */
const functions = { listedValues, surfaceGreeks };
export type TheoryWorker = typeof functions;

expose(functions);
