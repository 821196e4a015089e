import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const setupFiles = [fileURLToPath(new URL('fast-check.setup.ts', import.meta.url))];

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'core', root: 'core', include: ['test/**/*.test.ts'], setupFiles } },
      { test: { name: 'market', root: 'market', include: ['test/**/*.test.ts'], setupFiles } },
      'web/vitest.config.ts',
    ],
  },
});
