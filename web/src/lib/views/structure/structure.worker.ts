import { expose } from 'comlink';
import { structureDecay } from './structure-decay.ts';
import { structureMap } from './structure-map.ts';
import { structureReach } from './structure-reach.ts';

/** What of a structure takes a while, off the interface thread. */
const functions = { structureMap, structureDecay, structureReach };
export type StructureWorker = typeof functions;

expose(functions);
