import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  timeout: 60_000,
  expect: { timeout: 15_000 },
  workers: 2,
  outputDir: '../.data/test/browser',
  reporter: 'list',
  use: {
    viewport: { width: 1280, height: 800 },
    colorScheme: 'light',
    launchOptions: { executablePath: '/usr/bin/chromium', chromiumSandbox: false },
    screenshot: 'only-on-failure',
  },
  projects: [
    { name: 'tasks', testIgnore: 'faults/**' },
    // What kills and cuts comes last, on its own; it waits for most of its time.
    { name: 'faults', testMatch: 'faults/**', dependencies: ['tasks'] },
  ],
});
