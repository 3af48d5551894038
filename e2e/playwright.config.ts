import { defineConfig } from '@playwright/test';
import { existsSync } from 'node:fs';

// Debian's Chromium without its windows is a third quicker than with them.
const installed = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find((p) => existsSync(p));

// Tests drive the built program in Debian's Chromium, without a network.
export default defineConfig({
  testDir: 'tests',
  testMatch: process.env.SHOTS ? /shots\.ts/ : process.env.BENCH ? /bench\.ts/ : /.*\.spec\.ts/,
  timeout: 150_000,
  expect: { timeout: 20_000 },
  workers: 2,
  fullyParallel: true,
  forbidOnly: !!process.env.CI,
  reporter: [['list']],
  outputDir: 'test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? installed,
      args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--no-first-run'],
    },
    screenshot: 'only-on-failure',
  },
});
