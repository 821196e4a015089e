import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

/* Bundles the processes beside the server: what prepares the database, and the worker. Plain JavaScript starts at once. */
const path = (name) => fileURLToPath(new URL(`../${name}`, import.meta.url));
const bundle = await rolldown({
  input: { prepare: path('scripts/prepare.ts'), worker: path('scripts/worker.ts') },
  platform: 'node',
  // They read files of their own packages.
  external: [/^pg-boss$/, /^postgres$/],
});
await bundle.write({ dir: path('build-processes'), format: 'esm', entryFileNames: '[name].js' });
