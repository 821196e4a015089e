import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  timeout: 60_000,
  expect: { timeout: 15_000 },
  workers: 1,
  outputDir: '../.data/test/browser',
  reporter: 'list',
  use: {
    baseURL: process.env.BASE_URL ?? 'http://127.0.0.1:4173',
    viewport: { width: 1280, height: 800 },
    colorScheme: 'light',
    launchOptions: { executablePath: '/usr/bin/chromium', chromiumSandbox: false },
    screenshot: 'only-on-failure',
  },
});
