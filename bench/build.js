import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

/* Bundles the bench with what bundles the application: another bundler's code runs at another speed. */
const path = (name) => fileURLToPath(new URL(name, import.meta.url));
for (const name of ['run', 'accuracy']) {
  const bundle = await rolldown({
    input: path(`src/${name}.ts`),
    platform: 'node',
    external: [/^postgres$/, /^drizzle-orm/, /^@playwright\/test$/, /^piscina$/],
  });
  await bundle.write({ file: path(`build/${name}.js`), format: 'esm', codeSplitting: false });
}
// What a browser's worker runs.
const worker = await rolldown({ input: path('src/structure-grid.worker.ts') });
await worker.write({ file: path('build/structure-grid.worker.js'), format: 'iife' });
