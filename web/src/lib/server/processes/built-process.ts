import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/**
 * File of a bundled process or thread: beside the process that asks, or, in development and tests, where the bundles of this
 * tree are. From source a thread would take a second to start, and a process more address space than it is given.
 */
export function builtProcess(name: 'compute' | 'read-file'): string {
  const beside = join(dirname(process.argv[1] ?? ''), `${name}.js`);
  if (existsSync(beside)) return beside;
  return fileURLToPath(new URL(`../../../../build-processes/${name}.js`, import.meta.url));
}
