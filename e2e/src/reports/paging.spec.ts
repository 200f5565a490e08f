import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import type { DocumentDetail } from '@tether/contract';
import type { ReportContent } from '@tether/documents';
import { expect, poppler, printedFile, reportWith, test, text } from '../fixtures.ts';

const COUNTS = 'Planting counts by plot';
/** Words that stand in no other block, so that a block is found again on paper. */
const filler =
  'The creek was surveyed at low water, plot by plot, and what stood there was counted twice by two people who did not see the count of the other before both were done. ';

/** A generator of numbers from 0 to 1 that gives the same for the same seed (mulberry32, public domain). */
function numbersFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

const words = (value: string) => (value === '' ? [] : [{ type: 'text', text: value }]);
const paragraph = (value: string) => ({ type: 'paragraph', content: words(value) });

/** Blocks of every kind in an order that nobody chose, around the objects of the document. */
function randomText(seed: number, objects: readonly object[]): object[] {
  const random = numbersFrom(seed);
  const upTo = (most: number) => 1 + Math.floor(random() * most);
  const kinds = [
    (mark: string) => paragraph(`${mark} ${filler.repeat(upTo(7))}`),
    (mark: string) => ({ type: 'heading', attrs: { level: upTo(3) }, content: words(mark) }),
    () => paragraph(''),
    (mark: string) => ({
      type: random() < 0.5 ? 'bulletList' : 'orderedList',
      content: Array.from({ length: upTo(9) }, (_, item) => ({
        type: 'listItem',
        content: [paragraph(`${item === 0 ? `${mark} ` : ''}${filler.repeat(upTo(2))}`)],
      })),
    }),
    (mark: string) => ({ type: 'blockquote', content: [paragraph(`${mark} ${filler}`)] }),
    (mark: string) => ({
      type: 'table',
      content: Array.from({ length: upTo(12) }, (_, row) => ({
        type: 'tableRow',
        content: [mark, 'a'].map((value, column) => ({
          type: 'tableCell',
          content: [paragraph(row === 0 && column === 0 ? value : 'figures of the year')],
        })),
      })),
    }),
    () => objects[Math.floor(random() * objects.length)]!,
  ];
  return Array.from({ length: 26 }, (_, index) =>
    kinds[Math.floor(random() * kinds.length)]!(`Mark${String(index).padStart(2, '0')}`),
  );
}

/** On which sheet each marked block begins, and how many sheets there are. */
function beginnings(page: Page): Promise<Record<string, number>> {
  return page.evaluate(() => {
    const sheets = [...document.querySelectorAll('.sheet')].map((each) =>
      each.getBoundingClientRect(),
    );
    const found: Record<string, number> = { sheets: sheets.length };
    const walker = document.createTreeWalker(
      document.querySelector('.paper-text')!,
      NodeFilter.SHOW_TEXT,
    );
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      const mark = /Mark\d\d/.exec(node.textContent ?? '');
      if (!mark) continue;
      const range = document.createRange();
      range.setStart(node, mark.index);
      range.setEnd(node, mark.index + mark[0].length);
      const { top, bottom } = range.getBoundingClientRect();
      const middle = (top + bottom) / 2;
      found[mark[0]] = sheets.findIndex((each) => middle >= each.top && middle <= each.bottom) + 1;
    }
    return found;
  });
}

/** How often anything about the pages changes in the next frames. */
function changesIn(page: Page, frames: number): Promise<number> {
  return page.evaluate(
    (most) =>
      new Promise<number>((done) => {
        const root = document.querySelector('.paper-text') as HTMLElement;
        const seen = () => `${root.offsetHeight} ${document.querySelectorAll('.sheet').length}`;
        let [changes, left, before] = [0, most, seen()];
        const look = () => {
          const now = seen();
          if (now !== before) changes++;
          before = now;
          if (--left > 0) requestAnimationFrame(look);
          else done(changes);
        };
        requestAnimationFrame(look);
      }),
    frames,
  );
}

test('pages stay as they are while lines are put in after the title, one after the other', async ({
  report,
}) => {
  await text(report).getByRole('heading', { level: 1 }).click();
  await report.keyboard.press('End');
  let typed = 0;
  for (let line = 0; line < 8; line++) {
    await report.keyboard.press('Enter');
    await report.keyboard.type(`Line ${line}`);
    typed++;
    // A key press may move the breaks; nothing moves by itself for ever.
    await expect.poll(() => changesIn(report, 12)).toBe(0);
  }
  for (let line = 0; line < typed; line++) await expect(text(report)).toContainText(`Line ${line}`);
});

test('texts of any kind settle at once, and break alike on the screen, in print and in the PDF', async ({
  product,
  desk,
}) => {
  const area = { top: 4, left: 1, bottom: 16, right: 6 };
  for (const seed of [3, 159]) {
    const name = `Random ${seed}`;
    const id = await reportWith(desk, product, name, [
      { name: COUNTS, path: 'planting-counts.xlsx', sheet: 'Counts', area },
    ]);
    const at = `${product.address}/api/documents/${id}`;
    const api = desk.context().request;
    const before = (await (await api.get(at)).json()) as DocumentDetail<ReportContent>;
    const own = before.content.content.find(({ type }) => type === 'placedObject')!;
    const captioned = {
      type: 'captioned',
      attrs: { kind: 'table', of: own.attrs!.tetherId },
      content: [own, { type: 'caption', content: words('What was counted') }],
    };
    // An object stands once in a text; the others are copies with a tether of their own.
    const content = randomText(seed, [captioned, own]).map((block) => {
      const ids = new Map<string, string>();
      return JSON.parse(JSON.stringify(block), (key, value) => {
        if (key === 'tetherId' || key === 'of') {
          if (!ids.has(value)) ids.set(value, crypto.randomUUID());
          return ids.get(value);
        }
        return key === 'copyOf' ? own.attrs!.tetherId : value;
      });
    });
    const put = await api.put(`${at}/content`, {
      data: { version: before.version, content: { type: 'doc', content } },
    });
    expect(put.ok()).toBe(true);

    await desk.goto(`${product.address}/documents/${id}/print`);
    await expect(desk.locator('[data-print-ready]')).toBeAttached();
    const inPrint = await beginnings(desk);
    expect(Object.values(inPrint)).not.toContain(0);
    expect(inPrint.sheets).toBeGreaterThan(2);
    const file = await printedFile(desk);
    expect((await readFile(file)).subarray(0, 4).toString()).toBe('%PDF');
    const sheets = poppler('pdftotext', '-layout', file, '-').split('\f').slice(0, -1);
    expect(sheets).toHaveLength(inPrint.sheets!);
    const onPaper = Object.fromEntries(
      sheets.flatMap((sheet, index) =>
        [...sheet.matchAll(/Mark\d\d/g)].map(([mark]) => [mark, index + 1]),
      ),
    );
    expect({ sheets: sheets.length, ...onPaper }).toEqual(inPrint);
    // The text of every page begins below its upper margin, 25 mm or 70.87 points (ISO 216 sheets, 72 points an inch).
    const boxes = poppler('pdftotext', '-bbox', file, '-').split('<page').slice(1);
    for (const box of boxes) {
      const tops = [...box.matchAll(/yMin="([\d.]+)"/g)].map(([, top]) => Number(top));
      expect(Math.min(...tops)).toBeGreaterThan(68);
    }

    await desk.goto(`${product.address}/documents/${id}`);
    await expect(text(desk)).toContainText(/Mark\d\d/);
    await expect.poll(() => beginnings(desk)).toEqual(inPrint);
    await expect.poll(() => changesIn(desk, 30)).toBe(0);
  }
});
