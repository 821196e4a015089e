import { fileURLToPath } from 'node:url';
import { defineProject } from 'vitest/config';
import { COMMON } from '../vitest.common.ts';

/** What needs a database, a process or a pool of threads. */
export default defineProject({
  resolve: { alias: { $lib: fileURLToPath(new URL('src/lib', import.meta.url)) } },
  test: {
    ...COMMON,
    name: 'database',
    root: import.meta.dirname,
    include: ['test/database/*.test.ts'],
    // What is kept in memory goes by database and version, so that files share a worker and what it has loaded.
    isolate: false,
  },
});
