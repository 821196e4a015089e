import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** Tests use the bundled threads and processes, as the application does; built once, when something has changed. */
export default function setup(): void {
  const script = fileURLToPath(new URL('../../scripts/build.sh', import.meta.url));
  execFileSync(script, ['processes'], { stdio: 'inherit' });
}
