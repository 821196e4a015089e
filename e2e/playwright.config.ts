import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  // Limits are there to end what hangs: a machine with ten times the work does not reach them.
  timeout: 1_800_000,
  expect: { timeout: 600_000 },
  workers: 2,
  outputDir: `${process.env.DATA_DIR ?? '../.data/test'}/browser`,
  reporter: [['list'], ...(process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['json'] as ['json']] : [])],
  use: {
    viewport: { width: 1280, height: 800 },
    colorScheme: 'light',
    launchOptions: { executablePath: '/usr/bin/chromium-headless-shell', chromiumSandbox: false },
    screenshot: 'only-on-failure',
  },
  projects: [
    { name: 'tasks', testIgnore: ['faults/**', 'http/**'] },
    // What kills and cuts waits for most of its time.
    { name: 'faults', testMatch: 'faults/**' },
  ],
});
