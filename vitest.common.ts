import { fileURLToPath } from 'node:url';

/** A limit is there to end what hangs, and so far away that a machine with ten times the work does not reach it, milliseconds. */
const HANGING = 600_000;

/** What all projects of tests share. */
export const COMMON = {
  setupFiles: [fileURLToPath(new URL('fast-check.setup.ts', import.meta.url))],
  testTimeout: HANGING,
  hookTimeout: HANGING,
  expect: { poll: { timeout: HANGING } },
};
