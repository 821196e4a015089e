import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

/*
 * Bundles the processes beside the application's own server: what starts and guards the others, serves, prepares the
 * database, works, feeds, computes in threads, reads files. Plain JavaScript starts at once.
 */
const path = (name) => fileURLToPath(new URL(`../${name}`, import.meta.url));
const scripts = ['supervise', 'serve', 'prepare', 'worker', 'feed', 'read-file'];
const bundle = await rolldown({
  input: {
    ...Object.fromEntries(scripts.map((name) => [name, path(`scripts/${name}.ts`)])),
    compute: path('src/lib/server/work/compute.worker.ts'),
  },
  platform: 'node',
  // They read files of their own packages.
  external: [/^pg-boss$/, /^pg$/],
});
await bundle.write({ dir: path('build-processes'), format: 'esm', entryFileNames: '[name].js' });
