import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';
import { COMMON } from './vitest.common.ts';

export default defineConfig({
  test: {
    // What is checked beside them fills the time in which tests of processes and databases wait.
    maxWorkers: availableParallelism(),
    projects: [
      // Pure functions share a worker and what it has loaded: loading would take longer than most of their tests.
      { test: { ...COMMON, name: 'core', root: 'core', include: ['test/**/*.test.ts'], isolate: false } },
      { test: { ...COMMON, name: 'market', root: 'market', include: ['test/**/*.test.ts'], isolate: false } },
      'web/vitest.config.ts',
      'web/vitest.database.config.ts',
      'web/vitest.page.config.ts',
      'e2e/vitest.config.ts',
    ],
  },
});
