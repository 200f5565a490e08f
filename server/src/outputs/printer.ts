import { existsSync } from 'node:fs';
import { fail, fault, ok, type Result } from '@tether/core';
import { tell } from '../tell.ts';
import { cutToSheets } from './cut-to-sheets.ts';

/** How far printing has come. */
export type PrintStep =
  | { step: 'opening' }
  | { step: 'breaking into pages' }
  | { step: 'printing'; pages: number };

/** What is printed: a page of this server, seen by whoever asked. */
export interface PrintRequest {
  /** Address of the page that shows the sheets. */
  url: string;
  /** Cookies of the person who asked. */
  cookies: { name: string; value: string }[];
}

/** The longest that pages may take to stand still. */
const PATIENCE_MS = 120_000;

/**
 * Prints the sheets of a document as PDF through Debian's Chromium: the same page that people see on the screen, its text
 * as text. `signal` stops it at any step. Faults: `printer-missing`, `printing-stopped`, `unexpected`.
 */
export async function printSheets(
  chromiumPath: string | null,
  { url, cookies }: PrintRequest,
  onStep: (step: PrintStep) => void,
  signal: AbortSignal,
): Promise<Result<Buffer>> {
  if (!chromiumPath || !existsSync(chromiumPath)) return fail('printer-missing');
  onStep({ step: 'opening' });
  // Loaded by whoever prints first: it is large, and no server should wait for it to start.
  const { chromium } = await import('playwright-core');
  const browser = await chromium.launch({ executablePath: chromiumPath });
  const stop = () => void browser.close();
  signal.addEventListener('abort', stop, { once: true });
  try {
    if (signal.aborted) return fail('printing-stopped');
    const context = await browser.newContext();
    const { origin } = new URL(url);
    await context.addCookies(cookies.map((cookie) => ({ ...cookie, url: origin })));
    const page = await context.newPage();
    await page.goto(url);
    onStep({ step: 'breaking into pages' });
    const sheets = page.locator('[data-print-ready]');
    await sheets.waitFor({ timeout: PATIENCE_MS });
    const pages = Number(await sheets.getAttribute('data-print-ready'));
    onStep({ step: 'printing', pages });
    const bytes = await page.pdf({ preferCSSPageSize: true, printBackground: true, tagged: true });
    const sizes = await page
      .locator('.sheet')
      .evaluateAll((all) =>
        all
          .map((each) => each.getBoundingClientRect())
          .map(({ width, height }) => ({ width, height })),
      );
    return ok(await cutToSheets(bytes, sizes));
  } catch (error) {
    if (signal.aborted) return fail('printing-stopped');
    tell('Printing', error);
    return { ok: false, fault: fault('unexpected', { detail: 'the pages could not be printed' }) };
  } finally {
    signal.removeEventListener('abort', stop);
    await browser.close();
  }
}
