import { fileURLToPath } from 'node:url';
import { defineProject } from 'vitest/config';
import { COMMON } from '../vitest.common.ts';

export default defineProject({
  // Routes are read as they stand.
  resolve: { alias: { $lib: fileURLToPath(new URL('src/lib', import.meta.url)) } },
  test: { ...COMMON, name: 'web', root: import.meta.dirname, include: ['test/*.test.ts'], isolate: false },
});
