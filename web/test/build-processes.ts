import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

const path = (name: string) => fileURLToPath(new URL(name, import.meta.url));

/** Tests use the bundled threads and processes, as the application does; built once, when something has changed. */
export default async function setup(): Promise<void> {
  execFileSync(path('../../scripts/build.sh'), ['processes'], { stdio: 'inherit' });
  // What the tests themselves kill stands beside them.
  const bundle = await rolldown({
    input: path('killed.ts'),
    platform: 'node',
    external: [/^pg-boss$/, /^postgres$/, /^piscina$/],
  });
  await bundle.write({ file: path('../build-processes/killed.js'), format: 'esm', codeSplitting: false });
}
