import { defineProject } from 'vitest/config';
import { COMMON } from '../vitest.common.ts';

/** What is asked of a running application over HTTP: one for all files, one file after the other, since some change what is stored. */
export default defineProject({
  test: {
    ...COMMON,
    name: 'http',
    root: import.meta.dirname,
    include: ['http/*.test.ts'],
    globalSetup: ['http/start-application.ts'],
    fileParallelism: false,
  },
});
