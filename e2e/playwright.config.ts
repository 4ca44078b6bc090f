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
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
      // Pages in frames stay in the process of the page around them: of one that gets a process of its own while others do,
      // Playwright now and then hears nothing any more, and finds nothing in a frame that everybody sees.
      args: ['--disable-dev-shm-usage', '--no-sandbox', '--disable-site-isolation-trials'],
    },
    actionTimeout: 25_000,
    trace: 'on-first-retry', // writing it down takes a quarter of the time
    screenshot: 'only-on-failure',
  },
});
