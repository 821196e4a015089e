import { gridTimes } from './structure-grid.ts';

/** The grid as a browser's worker computes it. */
postMessage(gridTimes());
