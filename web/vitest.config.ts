import { defineConfig } from 'vitest/config';
export default defineConfig({
  test: {
    name: 'web',
    root: import.meta.dirname,
    include: ['test/**/*.test.ts'],
    globalSetup: ['test/build-processes.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
  },
});
