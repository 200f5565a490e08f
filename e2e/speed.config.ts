import { defineConfig } from '@playwright/test';
import tests from './playwright.config.ts';

/** Measures the screens for `npm run bench`: nothing here passes or fails by a time. */
export default defineConfig({
  ...tests,
  testMatch: ['speed.ts', 'speed-of-sheets.ts'],
  workers: 1,
  timeout: 600_000,
});
