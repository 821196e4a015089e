import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const setupFiles = [fileURLToPath(new URL('fast-check.setup.ts', import.meta.url))];

export default defineConfig({
  test: {
    // More than cores: tests of processes and databases wait a good part of their time.
    maxWorkers: availableParallelism() + 2,
    projects: [
      // Reference tests run the exact methods on hundreds of contracts.
      { test: { name: 'core', root: 'core', include: ['test/**/*.test.ts'], setupFiles, testTimeout: 60_000 } },
      // Simulated markets are made of hundreds of thousands of quotes.
      { test: { name: 'market', root: 'market', include: ['test/**/*.test.ts'], setupFiles, testTimeout: 60_000 } },
      'web/vitest.config.ts',
      'web/vitest.page.config.ts',
    ],
  },
});
