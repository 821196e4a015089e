import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

/* Bundles what tests start beside the application's own processes: what makes their databases, and what they kill. */
const path = (name) => fileURLToPath(new URL(name, import.meta.url));
for (const name of ['make-templates', 'killed']) {
  const bundle = await rolldown({
    input: path(`${name}.ts`),
    platform: 'node',
    external: [/^pg-boss$/, /^pg$/, /^piscina$/],
  });
  await bundle.write({ file: path(`../../build-processes/${name}.js`), format: 'esm', codeSplitting: false });
}
