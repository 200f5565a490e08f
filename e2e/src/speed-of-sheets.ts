import { randomUUID } from 'node:crypto';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { CDPSession, Page } from '@playwright/test';
import { expect, header, Product, test } from './fixtures.ts';

const TABLES = 50;
const MARKS = 1_000;
const SEGMENTS = 20_000;
const SOURCE = 'many-marks.csv';

/** A table with a row for each mark; `changed` gives one row another figure. */
function manyMarks(changed: number | null): string {
  const rows = Array.from({ length: MARKS }, (_, at) =>
    [
      `N-${at}`,
      (at % 40) * 500 + 250,
      Math.floor(at / 40) * 300 + 150,
      at === changed ? 99_999 : at,
    ].join(','),
  );
  return ['Name,x (mm),y (mm),Figure', ...rows].join('\r\n');
}

/** A plan of many short lines, 20 m by 8 m. */
function manySegments(): string {
  const path = Array.from({ length: SEGMENTS }, (_, at) => {
    const [x, y] = [(at * 7_919) % 20_000, (at * 4_801) % 8_000];
    return `M${x} ${y}l90 40`;
  }).join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="20000mm" height="8000mm" viewBox="0 0 20000 8000"><path d="${path}" fill="none" stroke="#5b6f77" stroke-width="6"/></svg>`;
}

/** A drawing of 50 tables of the first rows, the plan, and a mark for every row. */
async function bigSheet(page: Page, product: Product): Promise<string> {
  const api = page.context().request;
  const at = (path: string) => `${product.address}/api${path}`;
  let source = '';
  await expect
    .poll(async () => {
      const folders = (await (await api.get(at('/sources'))).json()) as {
        sources: { id: string; path: string; state: string }[];
      }[];
      const found = folders.flatMap(({ sources }) => sources).find(({ path }) => path === SOURCE);
      source = found?.id ?? '';
      return found?.state;
    })
    .toBe('present');
  const made = await api.post(at('/documents'), {
    data: { kind: 'drawing', name: 'A full sheet' },
  });
  const { id, version, content } = (await made.json()) as {
    id: string;
    version: number;
    content: { pages: { id: string }[] };
  };
  const place = async (bottom: number, name: string) => {
    const placed = await api.post(at(`/documents/${id}/tethers`), {
      data: {
        sourceId: source,
        reach: { kind: 'block', sheet: 'many-marks', area: { top: 1, left: 1, bottom, right: 4 } },
        name,
        form: 'table',
      },
    });
    return ((await placed.json()) as { id: string }).id;
  };
  const kept = await api.post(at(`/documents/${id}/pictures`), {
    data: Buffer.from(manySegments()),
    headers: { 'content-type': 'image/svg+xml' },
  });
  const { hash } = (await kept.json()) as { hash: string };
  const [{ id: sheet }] = content.pages as [{ id: string }];
  const view = randomUUID();
  const things: object[] = [
    {
      ...{ id: view, kind: 'view', page: sheet, order: 0, x: 20, y: 10, width: 400, height: 160 },
      ...{ hash, alt: 'Plan', pixelWidth: 200, pixelHeight: 80, trueWidth: 20_000, scale: 1 / 50 },
      centre: { x: 10_000, y: 4_000 },
    },
  ];
  const all = await place(MARKS + 1, 'All rows');
  const base = { page: sheet, kind: 'object', form: 'table' };
  things.push({ ...base, id: randomUUID(), order: 1, x: 500, y: 500, tetherId: all, height: 60 });
  things.push({
    ...{ id: randomUUID(), kind: 'marks', page: sheet, order: 2, x: 0, y: 0, of: all, view },
    ...{ key: 'Name', labels: ['Name', 'Figure'], size: 2, letters: 1.8 },
    from: { kind: 'coordinates', x: 'x (mm)', y: 'y (mm)', unit: 1 },
  });
  for (let table = 0; table < TABLES; table++) {
    const tetherId = await place(12, `Table ${table + 1}`);
    const [x, y] = [20 + (table % 8) * 68, 180 + Math.floor(table / 8) * 70];
    things.push({ ...base, id: randomUUID(), order: 3 + table, x, y, tetherId });
  }
  const pages = [{ ...content.pages[0], size: 'A0', isLandscape: false }];
  const saved = await api.put(at(`/documents/${id}/content`), {
    data: { version, content: { ...content, pages, things } },
  });
  expect(await saved.text()).toContain('version');
  return id;
}

async function measured(session: CDPSession, what: string): Promise<number> {
  const { metrics } = await session.send('Performance.getMetrics');
  return metrics.find(({ name }) => name === what)!.value;
}

test('a full sheet', async ({ browser }) => {
  const product = await Product.start();
  await writeFile(join(product.sources, 'monitoring', SOURCE), manyMarks(null));
  const page = await product.window(browser, 'Ines Fallow');
  const id = await bigSheet(page, product);
  const session = await page.context().newCDPSession(page);
  await session.send('Performance.enable', { timeDomain: 'threadTicks' });
  const lines: { what: string; measured: string }[] = [];
  const say = (what: string, measured: string) => {
    lines.push({ what, measured });
    console.log(`${what}: ${measured}`);
  };

  await page.goto('about:blank');
  await page.goto(`${product.address}/documents/${id}`);
  await page.waitForFunction(
    (count) =>
      document.querySelectorAll('[data-mark]').length === count &&
      document.querySelector('[data-pending]') === null,
    MARKS,
  );
  say(
    'CPU of its thread until all is drawn',
    `${Math.round((await measured(session, 'TaskDuration')) * 1000)} ms`,
  );

  /** The longest frame of script while something is done step by step, and the median. */
  const steps = async (what: string, count: number, act: (step: number) => Promise<void>) => {
    const times: number[] = [];
    for (let step = 0; step < count; step++) {
      const before = await measured(session, 'ScriptDuration');
      await act(step);
      await page.evaluate(
        () => new Promise((resolve) => requestAnimationFrame(() => resolve(null))),
      );
      times.push(((await measured(session, 'ScriptDuration')) - before) * 1000);
    }
    times.sort((a, b) => a - b);
    say(
      what,
      `script a frame, median ${times[Math.floor(count / 2)]!.toFixed(1)} ms, longest ${times.at(-1)!.toFixed(1)} ms`,
    );
  };
  const pane = page.locator('[data-scroll]');
  await pane.hover();
  await steps('panned', 40, (step) =>
    pane.evaluate((element, to) => element.scrollTo(0, to), step * 10),
  );
  await page.keyboard.down('Control');
  await steps('made larger and smaller', 30, (step) =>
    page.mouse.wheel(0, step % 10 < 5 ? -60 : 60),
  );
  await page.keyboard.up('Control');
  await page.getByRole('button', { name: 'Fit the width' }).click();
  const table = page.getByRole('table', { name: 'Table 9', exact: true });
  await table.scrollIntoViewIfNeeded();
  await page.waitForFunction(() => {
    const paper = document.querySelector('.page-paper')!.getBoundingClientRect();
    return paper.width > 800;
  });
  const box = (await table.boundingBox())!;
  await page.mouse.move(box.x + 5, box.y + 5);
  await page.mouse.down();
  await steps('a table dragged', 40, (step) =>
    page.mouse.move(box.x + 5 + step * 2, box.y + 5 + step),
  );
  await page.mouse.up();
  const moved = (await table.boundingBox())!;
  expect(Math.round(moved.x - box.x)).toBeGreaterThan(60);

  await writeFile(join(product.sources, 'monitoring', SOURCE), manyMarks(700));
  await expect(header(page)).toContainText('1 behind');
  await page.evaluate(() => {
    const held = window as unknown as { touched: Set<string> };
    held.touched = new Set();
    new MutationObserver((records) => {
      for (const { target } of records) {
        const element = target instanceof Element ? target : target.parentElement;
        if (element?.closest('.cleat')) continue;
        const mark = element?.closest('[data-mark]')?.getAttribute('data-mark');
        const thing = element?.closest('[data-thing]')?.getAttribute('data-thing');
        if (mark ?? thing) held.touched.add((mark ?? thing)!);
      }
    }).observe(document.querySelector('.page-paper')!, {
      subtree: true,
      childList: true,
      characterData: true,
      attributes: true,
      attributeFilter: ['d', 'x', 'y', 'transform'],
    });
  });
  await header(page).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(header(page)).toContainText('51 in step');
  await expect(page.locator('[data-mark="N-700"]')).toContainText('99999');
  const touched = await page.evaluate(() => [
    ...(window as unknown as { touched: Set<string> }).touched,
  ]);
  say('refreshed in one row: marks and tables drawn anew', String(touched.length));
  await mkdir('.run/bench', { recursive: true });
  await writeFile('.run/bench/sheets.json', JSON.stringify(lines));
  await product.stop();
});

/** A deck of so many slides, each with a title and a table of its own. */
async function deckOf(page: Page, product: Product, count: number): Promise<string> {
  const api = page.context().request;
  const at = (path: string) => `${product.address}/api${path}`;
  const folders = (await (await api.get(at('/sources'))).json()) as {
    sources: { id: string; path: string }[];
  }[];
  const counts = folders
    .flatMap(({ sources }) => sources)
    .find(({ path }) => path === 'planting-counts.xlsx')!;
  const made = await api.post(at('/documents'), {
    data: { kind: 'slides', name: `A deck of ${count}` },
  });
  const { id, version, content } = (await made.json()) as {
    id: string;
    version: number;
    content: object;
  };
  const pages: object[] = [];
  const things: object[] = [];
  for (let nth = 0; nth < count; nth++) {
    const slide = randomUUID();
    pages.push({ id: slide, order: nth, arrangement: 'title and words', notes: '' });
    const placed = await api.post(at(`/documents/${id}/tethers`), {
      data: {
        sourceId: counts.id,
        reach: {
          ...{ kind: 'block', sheet: 'Counts' },
          area: { top: 4, left: 1, bottom: 17, right: 7 },
        },
        ...{ name: `Table ${nth + 1}`, form: 'table' },
      },
    });
    const { id: tetherId } = (await placed.json()) as { id: string };
    const base = { page: slide, x: 16 };
    things.push(
      {
        ...{ ...base, id: randomUUID(), kind: 'text', order: nth * 2, y: 12, role: 'title' },
        ...{ width: 222, height: 16, letters: 7, text: `Slide ${nth + 1}` },
      },
      {
        ...{ ...base, id: randomUUID(), kind: 'object', order: nth * 2 + 1, y: 34 },
        ...{ tetherId, form: 'table' },
      },
    );
  }
  const saved = await api.put(at(`/documents/${id}/content`), {
    data: { version, content: { ...content, pages, things } },
  });
  expect(await saved.text()).toContain('version');
  return id;
}

test('decks of few and of many slides', async ({ browser }) => {
  const product = await Product.start();
  const page = await product.window(browser, 'Ines Fallow');
  const session = await page.context().newCDPSession(page);
  await session.send('Performance.enable', { timeDomain: 'threadTicks' });
  const decks = new Map<number, string>();
  for (const count of [6, 60]) decks.set(count, await deckOf(page, product, count));
  const lines: { what: string; measured: string }[] = [];
  // Each once before it counts, then in turn, so that neither is the warmer one.
  const times = new Map<number, number[]>([
    [6, []],
    [60, []],
  ]);
  for (let round = 0; round < 4; round++) {
    for (const [count, id] of decks) {
      await page.goto('about:blank');
      await page.goto(`${product.address}/documents/${id}`);
      // Asked for in the page: looking for roles from outside costs the more, the more there is.
      await page.waitForFunction(
        () =>
          document.querySelector('[role="application"] table') !== null &&
          document.querySelectorAll('nav [data-thing] table').length > 2 &&
          document.querySelector('[data-pending]') === null,
      );
      if (round > 0) times.get(count)!.push(await measured(session, 'TaskDuration'));
    }
  }
  for (const [count, all] of times) {
    const median = all.sort((a, b) => a - b)[1]!;
    const what = `${count} slides, CPU until the first and the overview are drawn`;
    lines.push({ what, measured: `${Math.round(median * 1000)} ms` });
    console.log(what, lines.at(-1)!.measured);
  }
  await mkdir('.run/bench', { recursive: true });
  await writeFile('.run/bench/slides.json', JSON.stringify(lines));
  await product.stop();
});
