import { existsSync } from 'node:fs';
import { PICTURE_DENSITY } from '@tether/contract';
import { fail, fault, ok, type Result } from '@tether/core';
import type { Browser } from 'playwright-core';
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

/** Prints sheets of documents through Debian's Chromium, which stays open for a while: opening it takes over a second. */
export interface Printer {
  /** Opens the browser, for somebody who is about to print. */
  prepare(): void;
  /**
   * Prints the sheets of a document as PDF: the same page that people see on the screen, its text as text. `signal` stops
   * it at any step. Faults: `printer-missing`, `printing-stopped`, `unexpected`.
   */
  print(
    request: PrintRequest,
    onStep: (step: PrintStep) => void,
    signal: AbortSignal,
  ): Promise<Result<Buffer>>;
  /**
   * A picture of one element of the sheets, as it stands there; its first part where it is broken over pages. Faults:
   * `printer-missing`, `picture-not-made` and why.
   */
  picture(request: PrintRequest, selector: string): Promise<Result<Buffer>>;
  close(): Promise<void>;
}

/** The longest that pages may take to stand still. */
const PATIENCE_MS = 120_000;
/** A browser that nobody printed with for so long is closed: it takes some 100 MB. */
const KEPT_OPEN_MS = 5 * 60_000;

/** A printer that opens its browser when it is first needed. */
export function startPrinter(chromiumPath: string | null): Printer {
  const isThere = chromiumPath !== null && existsSync(chromiumPath);
  let opened: Promise<Browser> | null = null;
  let printing = 0;
  let closing: NodeJS.Timeout | undefined;

  const shut = async () => {
    clearTimeout(closing);
    const browser = opened;
    opened = null;
    await browser?.then((each) => each.close()).catch(() => {});
  };
  const browser = () => {
    clearTimeout(closing);
    closing = setTimeout(() => (printing > 0 ? closing?.refresh() : void shut()), KEPT_OPEN_MS);
    closing.unref();
    opened ??= launch(chromiumPath!).then((each) => {
      // One that broke off is no browser to print with; the next print opens another.
      each.on('disconnected', () => {
        opened = null;
      });
      return each;
    });
    opened.catch(() => {
      opened = null;
    });
    return opened;
  };

  return {
    prepare() {
      if (isThere) browser().catch((error) => tell('Opening the printer', error));
    },
    async print({ url, cookies }, onStep, signal) {
      if (!isThere) return fail('printer-missing');
      onStep({ step: 'opening' });
      printing += 1;
      let stop: (() => void) | null = null;
      try {
        // Of its own for each print: nobody's cookies stay.
        const context = await (await browser()).newContext();
        stop = () => void context.close().catch(() => {});
        signal.addEventListener('abort', stop, { once: true });
        if (signal.aborted) return fail('printing-stopped');
        const { origin } = new URL(url);
        await context.addCookies(cookies.map((cookie) => ({ ...cookie, url: origin })));
        const page = await context.newPage();
        await page.goto(url);
        onStep({ step: 'breaking into pages' });
        const sheets = page.locator('[data-print-ready]');
        await sheets.waitFor({ timeout: PATIENCE_MS });
        const pages = Number(await sheets.getAttribute('data-print-ready'));
        onStep({ step: 'printing', pages });
        const bytes = await page.pdf({
          preferCSSPageSize: true,
          printBackground: true,
          tagged: true,
        });
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
        const detail = 'the pages could not be printed';
        return { ok: false, fault: fault('unexpected', { detail }) };
      } finally {
        printing -= 1;
        if (stop) signal.removeEventListener('abort', stop);
        stop?.();
      }
    },
    async picture({ url, cookies }, selector) {
      if (!isThere) return fail('printer-missing');
      printing += 1;
      const opening = browser().then((each) =>
        each.newContext({ deviceScaleFactor: PICTURE_DENSITY }),
      );
      try {
        const context = await opening;
        const { origin } = new URL(url);
        await context.addCookies(cookies.map((cookie) => ({ ...cookie, url: origin })));
        const page = await context.newPage();
        await page.goto(url);
        await page.locator('[data-print-ready]').waitFor({ timeout: PATIENCE_MS });
        const found = page.locator(selector);
        if ((await found.count()) !== 1) {
          return fail('picture-not-made', { why: 'it does not stand in the document any more' });
        }
        // What lies over the sheets on the screen is no part of it.
        await page.emulateMedia({ media: 'print' });
        const box = await found.boundingBox();
        if (!box || box.height > MOST_PICTURED) {
          return fail('picture-not-made', { why: 'it goes over more than a page' });
        }
        return ok(await found.screenshot({ type: 'png' }));
      } catch (error) {
        tell('Making a picture', error);
        return fail('picture-not-made', { why: 'it could not be drawn' });
      } finally {
        printing -= 1;
        await opening.then((context) => context.close()).catch(() => {});
      }
    },
    close: shut,
  };
}

/** Pixels of the screen: the height of the largest page. */
const MOST_PICTURED = 1_200;

async function launch(executablePath: string): Promise<Browser> {
  // Loaded by whoever prints first: it is large, and no server should wait for it to start.
  const { chromium } = await import('playwright-core');
  return chromium.launch({ executablePath });
}
