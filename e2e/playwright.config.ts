import { defineConfig } from '@playwright/test';

/** The real interface in Debian's Chromium, against a built server for each test. */
export default defineConfig({
  testDir: './src',
  outputDir: '../test-results',
  fullyParallel: true,
  workers: 2,
  // A shared machine can stand still for half a minute: patience costs nothing where a story passes.
  timeout: 240_000,
  expect: { timeout: 45_000 },
  forbidOnly: Boolean(process.env.CI),
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/London',
    trace: 'off',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: process.env.TEST_BROWSER || process.env.CHROMIUM || '/usr/bin/chromium',
      timeout: 60_000,
      // No service of the browser's own may call out: there is no network.
      args: [
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-quic',
        // Letters as wide as in a browser with windows: not moved to whole pixels.
        '--font-render-hinting=none',
      ],
    },
  },
});
