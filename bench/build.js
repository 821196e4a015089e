import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

/* Bundles the bench with what bundles the application: another bundler's code runs at another speed. */
const path = (name) => fileURLToPath(new URL(name, import.meta.url));
const bundle = await rolldown({
  input: path('src/run.ts'),
  platform: 'node',
  external: [/^postgres$/, /^drizzle-orm/, /^@playwright\/test$/, /^piscina$/],
});
await bundle.write({ file: path('build/run.js'), format: 'esm', codeSplitting: false });
