import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

/* Bundles the worker threads' entries beside the built server, which clears its folder when it is built. */
const path = (name) => fileURLToPath(new URL(`../${name}`, import.meta.url));
const bundle = await rolldown({ input: path('src/lib/server/compute/rows.worker.ts'), platform: 'node' });
await bundle.write({ file: path('build/workers/rows.js'), format: 'esm' });
