import { expose } from 'comlink';
import { profitMap } from './profit-map.ts';

/** Maps of profit, off the interface thread. */
const functions = { profitMap };
export type ProfitMapWorker = typeof functions;

expose(functions);
