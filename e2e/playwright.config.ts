import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: './tests',
  globalSetup: './worlds.ts',
  timeout: 300_000,
  expect: { timeout: 25_000 },
  // A test waits about as long as it works: two at a time keep two processors busy.
  workers: Number(process.env.MENDRY_WORLDS ?? 2),
  fullyParallel: true, // each begins from a world of its own
  retries: Number(process.env.MENDRY_RETRIES ?? 1), // one that passes then is told as flaky
  reporter: [['list'], ['./said.ts']],
  outputDir: './test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    timezoneId: 'Europe/London', // as the studio's
    launchOptions: { executablePath: '/usr/bin/chromium-headless-shell', args: ['--disable-dev-shm-usage', '--no-sandbox'] },
    actionTimeout: 25_000,
    trace: 'on-first-retry', // writing it down takes a quarter of the time
    screenshot: 'only-on-failure',
  },
});
