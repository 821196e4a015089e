import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'core', root: 'core', include: ['test/**/*.test.ts'] } },
      { test: { name: 'market', root: 'market', include: ['test/**/*.test.ts'] } },
      'web/vitest.config.ts',
    ],
  },
});
