import { existsSync } from 'node:fs';
import { PICTURE_DENSITY, type PrintForm } from '@tether/contract';
import { fail, fault, ok, type Result } from '@tether/core';
import type { Browser, BrowserContext, Page } from 'playwright-core';
import { tell } from '../tell.ts';
import { cutToSheets } from './cut-to-sheets.ts';
import { withDots } from './png-dots.ts';

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

/** As what sheets are written out. */
export interface PrintWish {
  as: PrintForm;
  /** The sheet, from 1; none for all. A PDF has all of them. */
  page?: number | undefined;
  /** Dots to the inch of pictures. */
  dots: number;
}

/** Prints sheets of documents through Debian's Chromium, which stays open for a while: opening it takes over a second. */
export interface Printer {
  /** Opens the browser, for somebody who is about to print. */
  prepare(): void;
  /**
   * Writes out the sheets of a document: the same page that people see on the screen, its text as text where it is no
   * picture. A file for each sheet, or one PDF of all. `signal` stops it at any step. Faults: `printer-missing`,
   * `printing-stopped`, `page-not-there`, `picture-too-fine`, `unexpected`.
   */
  print(
    request: PrintRequest,
    wish: PrintWish,
    onStep: (step: PrintStep) => void,
    signal: AbortSignal,
  ): Promise<Result<Buffer[]>>;
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
// biome-ignore lint/complexity/noExcessiveLinesPerFunction: what prints shares one browser and its clock
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
    async print(request, wish, onStep, signal) {
      if (!isThere) return fail('printer-missing');
      onStep({ step: 'opening' });
      printing += 1;
      let stop: (() => void) | null = null;
      try {
        // Of its own for each print: nobody's cookies stay.
        const context = await (await browser()).newContext(
          wish.as === 'png' ? { deviceScaleFactor: wish.dots / DOTS_OF_SCREEN } : {},
        );
        stop = () => void context.close().catch(() => {});
        signal.addEventListener('abort', stop, { once: true });
        if (signal.aborted) return fail('printing-stopped');
        const page = await openedIn(context, request);
        onStep({ step: 'breaking into pages' });
        const sheets = page.locator('[data-print-ready]');
        await sheets.waitFor({ timeout: PATIENCE_MS });
        const pages = Number(await sheets.getAttribute('data-print-ready'));
        if (wish.page !== undefined && wish.page > pages) {
          return fail('page-not-there', { page: String(wish.page), pages: String(pages) });
        }
        onStep({ step: 'printing', pages: wish.page === undefined ? pages : 1 });
        const nth = wish.page === undefined ? [...Array(pages).keys()] : [wish.page - 1];
        if (wish.as === 'svg') return ok(await sheetsAsSvg(page, nth));
        if (wish.as === 'png') return await sheetsAsPictures(page, nth, wish.dots);
        return ok([await sheetsAsPdf(page)]);
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
    async picture(request, selector) {
      if (!isThere) return fail('printer-missing');
      printing += 1;
      const opening = browser().then((each) =>
        each.newContext({ deviceScaleFactor: PICTURE_DENSITY }),
      );
      try {
        const context = await opening;
        const page = await openedIn(context, request);
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

/** What a browser reckons an inch as (CSS Values 4, 5.2), and how many dots a picture of it has across at most. */
const DOTS_OF_SCREEN = 96;
const MOST_ACROSS = 16_000;
const MOST_DOTS = 150e6;

async function openedIn(context: BrowserContext, { url, cookies }: PrintRequest): Promise<Page> {
  const { origin } = new URL(url);
  await context.addCookies(cookies.map((cookie) => ({ ...cookie, url: origin })));
  const page = await context.newPage();
  await page.goto(url);
  return page;
}

async function sheetsAsPdf(page: Page): Promise<Buffer> {
  const bytes = await page.pdf({ preferCSSPageSize: true, printBackground: true, tagged: true });
  const sizes = await page
    .locator('.sheet')
    .evaluateAll((all) =>
      all
        .map((each) => each.getBoundingClientRect())
        .map(({ width, height }) => ({ width, height })),
    );
  return cutToSheets(bytes, sizes);
}

/** Each sheet as the page itself writes it. */
async function sheetsAsSvg(page: Page, nth: readonly number[]): Promise<Buffer[]> {
  await page.emulateMedia({ media: 'print' });
  const written: Buffer[] = [];
  for (const each of nth) {
    const text = await page.evaluate(
      (at) => (globalThis as unknown as PrintedWindow).sheetAsSvg(at),
      each,
    );
    written.push(Buffer.from(text));
  }
  return written;
}

/** What the page that shows the sheets offers besides being printed. */
interface PrintedWindow {
  sheetAsSvg(at: number): Promise<string>;
}

async function sheetsAsPictures(
  page: Page,
  nth: readonly number[],
  dots: number,
): Promise<Result<Buffer[]>> {
  await page.emulateMedia({ media: 'print' });
  const pictures: Buffer[] = [];
  for (const each of nth) {
    const sheet = page.locator('.sheet').nth(each);
    const { width, height } = (await sheet.boundingBox())!;
    const most = Math.min(
      MOST_ACROSS / Math.max(width, height),
      Math.sqrt(MOST_DOTS / (width * height)),
    );
    if (dots / DOTS_OF_SCREEN > most) {
      const fewer = String(Math.floor(most * DOTS_OF_SCREEN));
      return fail('picture-too-fine', { dots: String(dots), most: fewer });
    }
    pictures.push(withDots(await sheet.screenshot({ type: 'png', timeout: PATIENCE_MS }), dots));
  }
  return ok(pictures);
}

/** Pixels of the screen: the height of the largest page. */
const MOST_PICTURED = 1_200;

async function launch(executablePath: string): Promise<Browser> {
  // Loaded by whoever prints first: it is large, and no server should wait for it to start.
  const { chromium } = await import('playwright-core');
  return chromium.launch({ executablePath });
}
