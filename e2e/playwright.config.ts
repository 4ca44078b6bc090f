import { defineConfig } from '@playwright/test';
import { base, world } from './world';

// A test waits about as long as it works: two at a time keep two processors busy.
const workers = Number(process.env.MENDRY_WORLDS ?? 2);

export default defineConfig({
  testDir: './tests',
  timeout: 300_000,
  expect: { timeout: 25_000 },
  workers,
  reporter: [['list']],
  outputDir: './test-results',
  use: {
    baseURL: `http://localhost:${base}`,
    viewport: { width: 1280, height: 800 },
    timezoneId: 'Europe/London', // as the studio's
    launchOptions: { executablePath: '/usr/bin/chromium', args: ['--disable-dev-shm-usage', '--no-sandbox'] },
    actionTimeout: 25_000,
    trace: process.env.MENDRY_TRACE ? 'retain-on-failure' : 'off', // writing it down takes a quarter of the time
    screenshot: 'only-on-failure',
  },
  webServer: Array.from({ length: workers }, (_, i) => world(i)).map(({ base, dir }) => ({
    command: `../bin/mendry demo --fresh --dir ${dir} --base ${base} --cache 8s`,
    url: `http://localhost:${base}/api/people`,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 8000 },
    timeout: 90_000,
  })),
});
