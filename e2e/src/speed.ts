import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { CDPSession, Page } from '@playwright/test';
import { expect, header, Product, reportWith, test, text, type WantedObject } from './fixtures.ts';

const ROWS = 30;
const COLUMNS = 8;
const SOURCE = 'monitoring/many-tables.csv';

/** Blocks of 30 rows and 8 columns, one below the other; `changed` gives one figure of one of them another value. */
function manyTables(count: number, changed: number | null): string {
  const lines: string[] = [];
  for (let table = 0; table < count; table++) {
    for (let row = 0; row < ROWS; row++) {
      const cells = Array.from({ length: COLUMNS }, (_, column) => {
        if (row === 0) return column === 0 ? `Plot ${table + 1}` : `Measure ${column}`;
        if (column === 0) return `Row ${row}`;
        const isChanged = changed === table && row === 5 && column === 3;
        return String(table * 1_000 + row * 10 + column + (isChanged ? 500_000 : 0));
      });
      lines.push(cells.join(','));
    }
    lines.push(','.repeat(COLUMNS - 1));
  }
  return lines.join('\r\n');
}

/** The first tables of the source, each as an object. */
function tables(count: number): WantedObject[] {
  return Array.from({ length: count }, (_, table) => {
    const top = table * (ROWS + 1) + 1;
    return {
      name: `Plot ${table + 1}`,
      path: 'many-tables.csv',
      sheet: 'many-tables',
      area: { top, left: 1, bottom: top + ROWS - 1, right: COLUMNS },
    };
  });
}

/** Notes every task over 50 ms from now on. */
async function noteLongTasks(page: Page): Promise<() => Promise<number[]>> {
  await page.evaluate(() => {
    const held = window as unknown as { tasks: number[]; observer?: PerformanceObserver };
    held.observer?.disconnect();
    held.tasks = [];
    held.observer = new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) held.tasks.push(Math.round(entry.duration));
    });
    held.observer.observe({ type: 'longtask' });
  });
  return () => page.evaluate(() => (window as unknown as { tasks: number[] }).tasks);
}

/** Scrolls from head to foot, a part of a screen in each frame; gives the time between frames in ms. */
function scrollThrough(page: Page, selector: string, frames: number): Promise<number[]> {
  return page.evaluate(
    ([where, count]) =>
      new Promise<number[]>((resolve) => {
        const box = document.querySelector(where as string)!;
        const step = (box.scrollHeight - box.clientHeight) / Number(count);
        const gaps: number[] = [];
        let last = performance.now();
        const next = (now: number) => {
          gaps.push(now - last);
          last = now;
          box.scrollTop += step;
          if (gaps.length < Number(count)) requestAnimationFrame(next);
          else resolve(gaps.slice(1));
        };
        requestAnimationFrame(next);
      }),
    [selector, frames] as const,
  );
}

/** Waits until every table of the text has been drawn. */
async function allDrawn(page: Page): Promise<void> {
  let before = -1;
  await expect
    .poll(
      async () => {
        const now = await page.locator('.placed-table td').count();
        const isStill = now === before && (await page.locator('[data-pending]').count()) === 0;
        before = now;
        return isStill;
      },
      { timeout: 60_000, intervals: [1_000] },
    )
    .toBe(true);
}

/**
 * Opens a page with nothing of it in memory: the CPU time until cells are there of its thread, for which somebody waits, and of
 * its whole process, in which other threads compile beside it; the middle of five.
 */
async function openCold(page: Page, address: string): Promise<string> {
  const session = await measuring(page);
  const thread: number[] = [];
  const all: number[] = [];
  for (let round = 0; round < 5; round++) {
    await page.goto('about:blank');
    const before = await measured(session, 'ProcessTime');
    await page.goto(address);
    await page.waitForFunction(() => document.querySelector('.paper-text td[data-cell]'));
    // Counted anew for each page.
    thread.push(await measured(session, 'TaskDuration'));
    all.push((await measured(session, 'ProcessTime')) - before);
  }
  await session.detach();
  return [thread, all].map((times) => inMs(percentile(times, 0.5) * 1_000)).join(', ');
}

/** Asks for times of the page's thread alone: what other programs take from it in between does not count. */
async function measuring(page: Page): Promise<CDPSession> {
  const session = await page.context().newCDPSession(page);
  await session.send('Performance.enable', { timeDomain: 'threadTicks' });
  return session;
}

/** Milliseconds of script that each of some key presses takes, with all that it brings about. */
async function scriptOfPresses(page: Page, count: number): Promise<number[]> {
  const session = await measuring(page);
  const times: number[] = [];
  for (let press = 0; press < count; press++) {
    const before = await measured(session, 'ScriptDuration');
    // Taken out again at once, so that no line gets longer than the paper is wide.
    await page.keyboard.press(press % 2 === 0 ? 'x' : 'Backspace');
    // What was written is sent and acknowledged meanwhile.
    await page.evaluate(
      () => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve, 100))),
    );
    times.push(((await measured(session, 'ScriptDuration')) - before) * 1_000);
  }
  await session.detach();
  return times;
}

async function measured(session: CDPSession, what: string): Promise<number> {
  const { metrics } = await session.send('Performance.getMetrics');
  return metrics.find(({ name }) => name === what)!.value;
}

const percentile = (values: number[], share: number) =>
  [...values].sort((a, b) => a - b)[
    Math.min(values.length - 1, Math.floor(values.length * share))
  ]!;
const inMs = (value: number) => `${value < 10 ? value.toFixed(1) : Math.round(value)} ms`;
const longest = (tasks: number[]) =>
  tasks.length === 0 ? 'none over 50 ms' : inMs(Math.max(...tasks));

test('screens', async ({ browser }) => {
  const product = await Product.start();
  const lines: { what: string; measured: string }[] = [];
  const add = (what: string, measured: string) => {
    lines.push({ what, measured });
    console.log(`${what}: ${measured}`);
  };
  await writeFile(join(product.sources, SOURCE), manyTables(100, null));
  const page = await product.window(browser, 'Ines Fallow');
  const hundred = await reportWith(page, product, '100 tables', tables(100));
  const one = await reportWith(page, product, '1 table', tables(1));
  for (const [what, id] of [
    ['a report of 1 table of 30 x 8', one],
    ['a report of 100 such tables', hundred],
  ] as const) {
    const opened = await openCold(page, `${product.address}/documents/${id}`);
    add(`${what}: CPU until its first cells are seen, of its thread, of its process`, opened);
  }
  await expect(header(page)).toContainText('100 in step');
  await allDrawn(page);
  const tasks = await noteLongTasks(page);
  const gaps = await scrollThrough(page, '[data-scroll]', 240);
  add('… scrolled from head to foot in 240 frames: longest task', longest(await tasks()));
  add(
    '… time between frames, median and 95th percentile',
    `${inMs(percentile(gaps, 0.5))}, ${inMs(percentile(gaps, 0.95))}`,
  );

  await page.locator('[data-scroll]').evaluate((element) => element.scrollTo(0, 0));
  await page.getByRole('heading', { name: 'Plot 1', exact: true }).click();
  const presses = await scriptOfPresses(page, 60);
  add(
    '… a key press in it: script, median and 95th percentile',
    `${inMs(percentile(presses, 0.5))}, ${inMs(percentile(presses, 0.95))}`,
  );
  // One figure changes: which objects does the page touch for that?
  await page.locator('[data-scroll]').evaluate((element) => element.scrollTo(0, 0));
  await writeFile(join(product.sources, SOURCE), manyTables(100, 0));
  await expect(header(page)).toContainText('1 behind');
  await page.evaluate(() => {
    const held = window as unknown as { touched: Set<string> };
    held.touched = new Set();
    new MutationObserver((records) => {
      for (const { target } of records) {
        const element = target instanceof Element ? target : target.parentElement;
        if (element?.closest('.cleat')) continue;
        const id = element?.closest('[data-tether-id]')?.getAttribute('data-tether-id');
        if (id) held.touched.add(id);
      }
    }).observe(document.querySelector('.paper-text')!, {
      subtree: true,
      childList: true,
      characterData: true,
    });
  });
  await header(page).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(header(page)).toContainText('100 in step');
  await expect(text(page).getByRole('table').first()).toContainText('500053');
  const touched = await page.evaluate(
    () => (window as unknown as { touched: Set<string> }).touched.size,
  );
  add('… refresh of one object: objects that are drawn anew', String(touched));

  const fifty = await reportWith(page, product, '50 tables', tables(50));
  await page.goto(`${product.address}/documents/${fifty}`);
  await expect(header(page)).toContainText('50 in step');
  await header(page).getByRole('button', { name: 'Alongside' }).click();
  await expect(page.locator('[data-cord]')).toHaveCount(50);
  await allDrawn(page);
  const session = await measuring(page);
  for (const [what, selector, rule] of [
    ['document is scrolled, cords not painted', '[data-scroll]', '.cords{display:none}'],
    ['document is scrolled', '[data-scroll]', '/* as they are */'],
    ['source is scrolled, cords not painted', '[role="application"]', '.cords{display:none}'],
    ['source is scrolled', '[role="application"]', '/* as they are */'],
  ] as const) {
    const hiding = await page.addStyleTag({ content: rule });
    await page.locator(selector).evaluate((element) => element.scrollTo(0, 0));
    const noted = await noteLongTasks(page);
    const before = await measured(session, 'ScriptDuration');
    const between = await scrollThrough(page, selector, 240);
    const script = ((await measured(session, 'ScriptDuration')) - before) * 1_000;
    add(
      `50 cords while the ${what}: time between frames, median and 95th percentile; script a frame; longest task`,
      `${inMs(percentile(between, 0.5))}, ${inMs(percentile(between, 0.95))}; ${inMs(script / 240)}; ${longest(await noted())}`,
    );
    await hiding.evaluate((element) => (element as Element).remove());
  }

  const context = page.context();
  await page.close();
  const print = await context.newPage();
  const printing = Date.now();
  await print.goto(`${product.address}/documents/${hundred}/print`);
  await print.waitForFunction(() => document.querySelector('[data-print-ready]'));
  const pages = await print.locator('[data-print-ready]').getAttribute('data-print-ready');
  add(`its ${pages} pages on the screen for printing`, inMs(Date.now() - printing));
  const pdf = Date.now();
  const coming = print.waitForEvent('download', { timeout: 120_000 });
  await print.getByRole('button', { name: 'Save as PDF' }).click();
  await coming;
  add(`… as PDF by the server`, inMs(Date.now() - pdf));
  await context.close();
  await product.stop();
  await mkdir('.run/bench', { recursive: true });
  await writeFile('.run/bench/screens.json', JSON.stringify(lines));
});
