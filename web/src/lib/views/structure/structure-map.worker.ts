import { expose } from 'comlink';
import { structureMap } from './structure-map.ts';

/** Maps of structures, off the interface thread. */
const functions = { structureMap };
export type StructureMapWorker = typeof functions;

expose(functions);
