import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

/* Bundles the processes beside the server: what prepares the database, the worker, the feed. Plain JavaScript starts at once. */
const path = (name) => fileURLToPath(new URL(`../${name}`, import.meta.url));
const bundle = await rolldown({
  input: Object.fromEntries(['prepare', 'worker', 'feed'].map((name) => [name, path(`scripts/${name}.ts`)])),
  platform: 'node',
  // They read files of their own packages.
  external: [/^pg-boss$/, /^postgres$/],
});
await bundle.write({ dir: path('build-processes'), format: 'esm', entryFileNames: '[name].js' });
