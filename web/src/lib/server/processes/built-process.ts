import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/**
 * File of a bundled process or thread: beside the process that asks, or, in development and tests, where the bundles of this
 * tree are. From source a thread would take a second to start, and a process more address space than it is given.
 */
export function builtProcess(name: 'compute' | 'read-file'): string {
  const places = [
    join(dirname(process.argv[1] ?? ''), `${name}.js`),
    fileURLToPath(new URL(`../../../../build-processes/${name}.js`, import.meta.url)),
    join(process.cwd(), 'web/build-processes', `${name}.js`),
  ];
  return places.find((path) => existsSync(path)) ?? places[0];
}
