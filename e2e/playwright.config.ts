import { defineConfig } from '@playwright/test';
import { base, dir } from './world';

export default defineConfig({
  testDir: './tests',
  timeout: 300_000,
  expect: { timeout: 25_000 },
  workers: 1,
  reporter: [['list']],
  outputDir: './test-results',
  use: {
    baseURL: `http://localhost:${base}`,
    viewport: { width: 1280, height: 800 },
    timezoneId: 'Europe/London', // as the studio's
    launchOptions: { executablePath: '/usr/bin/chromium', args: ['--disable-dev-shm-usage', '--no-sandbox'] },
    actionTimeout: 25_000,
    trace: 'retain-on-failure',
  },
  webServer: {
    command: `../bin/mendry demo --fresh --dir ${dir} --base ${base} --cache 8s`,
    url: `http://localhost:${base}/api/people`,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 8000 },
    timeout: 90_000,
  },
});
