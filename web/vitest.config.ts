import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  // Routes are read as they stand.
  resolve: { alias: { $lib: fileURLToPath(new URL('src/lib', import.meta.url)) } },
  test: {
    name: 'web',
    root: import.meta.dirname,
    include: ['test/*.test.ts'],
    setupFiles: [fileURLToPath(new URL('../fast-check.setup.ts', import.meta.url))],
    globalSetup: ['test/build-processes.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
  },
});
