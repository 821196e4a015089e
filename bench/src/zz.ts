import { surfaceTiming } from './surface.ts';
import * as R from '../../core/src/surface/refine-svi.ts';
const f = surfaceTiming('European'); f();
const g = globalThis as any; console.log(g.FITS, g.ITS, g.ARB, g.STALE);
