import { fileURLToPath } from 'node:url';
import { defineProject } from 'vitest/config';
import { COMMON } from '../vitest.common.ts';

/** What needs a database, a process or a pool of threads: a file each to itself, for what they keep in memory goes by one database. */
export default defineProject({
  resolve: { alias: { $lib: fileURLToPath(new URL('src/lib', import.meta.url)) } },
  test: { ...COMMON, name: 'database', root: import.meta.dirname, include: ['test/database/*.test.ts'] },
});
