import { defineConfig } from '@playwright/test';
import tests from './playwright.config.ts';

/** Takes the pictures of the README from the demo: `npm run screenshots`. */
export default defineConfig({ ...tests, testMatch: 'pictures.ts', workers: 1, timeout: 240_000 });
