import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { textWidth } from '@tether/core';
import { setCell } from '@tether/demo';
import {
  choice,
  cleat,
  expect,
  expectAccessible,
  header,
  openPlace,
  placed,
  poppler,
  printedFile,
  reportCard,
  reportWith,
  test,
  text,
  unfold,
} from '../fixtures.ts';

const COUNTS = 'Planting counts by plot';
const PILES = 'Boardwalk piles as driven';
const panel = (page: Page) => page.getByRole('complementary');
const field = (page: Page, name: string) => panel(page).getByLabel(name, { exact: true });
const saved = (page: Page) => expect(header(page)).toContainText('Saved');
const sheets = (page: Page) => page.locator('.sheet');

/** A caption: what its number says before its words, which the style sheet puts there. */
async function captionNames(page: Page): Promise<(string | null)[]> {
  return page
    .locator('figcaption')
    .evaluateAll((all) => all.map((each) => each.getAttribute('data-name')));
}

async function giveCaption(page: Page, object: string, words: string, as = 'table') {
  await cleat(page, object).click();
  await choice(panel(page), 'Caption', as).click();
  await page.keyboard.type(words);
}

test('captions are numbered, references follow them, and moving an object renumbers both', async ({
  report,
}) => {
  await giveCaption(report, COUNTS, 'Plants set and surviving');
  await giveCaption(report, PILES, 'Piles as driven');
  expect(await captionNames(report)).toEqual(['Table 1', 'Table 2']);
  await text(report).getByText('Decking starts when').click();
  await report.keyboard.press('Control+End');
  await report.keyboard.type(' See ');
  await report.getByRole('button', { name: 'Reference to a table or figure' }).click();
  await report.getByRole('menuitem', { name: /Piles as driven/ }).click();
  const reference = text(report).locator('[data-reference]');
  await expect(reference).toHaveText('Table 2');

  // The first counts as a figure now: the other becomes the first table.
  await cleat(report, COUNTS).click();
  await choice(panel(report), 'Shown as', 'Chart').click();
  expect(await captionNames(report)).toEqual(['Figure 1', 'Table 1']);
  await expect(reference).toHaveText('Table 1');
  await report.getByRole('button', { name: 'Undo' }).click();
  await expect(reference).toHaveText('Table 2');

  // Up over everything, with its caption.
  await cleat(report, PILES).click();
  for (let step = 0; step < 8; step++)
    await panel(report).getByRole('button', { name: 'Move up' }).click();
  await expect(reference).toHaveText('Table 1');
  await report.getByRole('button', { name: 'Contents, footnote, page' }).click();
  await report.getByRole('menuitem', { name: 'List of tables and figures' }).click();
  const list = report.getByRole('navigation', { name: 'List of tables and figures' });
  await expect(list).toContainText('Table 1. Piles as driven1');
  await expect(list).toContainText('Table 2. Plants set and surviving');
  await expectAccessible(report);
  await saved(report);
  await report.reload();
  await expect(reference).toHaveText('Table 1');
});

test('what is set for a row stays with it when rows are inserted above and figures change', async ({
  product,
  report,
}) => {
  const table = placed(report, COUNTS);
  const cell = (name: string) => table.getByRole('cell', { name, exact: true });
  await cleat(report, COUNTS).click();
  await cell('SC-07').click();
  const bar = report.getByRole('group', { name: /^Look of/ });
  await expect(bar).toHaveAccessibleName('Look of SC-07 · Sea lavender, Plot');
  await bar.getByRole('button', { name: 'Its row' }).click();
  await bar.getByRole('button', { name: 'Bold' }).click();
  await expect(bar.getByRole('button', { name: 'Bold' })).toHaveAttribute('aria-pressed', 'true');
  // Undo means what the button did, although the text has not got the focus.
  await report.keyboard.press('Control+Z');
  await expect(cell('SC-07')).toHaveCSS('font-weight', '400');
  await report.keyboard.press('Control+Y');
  await unfold(panel(report), 'Cells, rows and columns');
  await expect(field(report, 'Row')).toHaveValue('7');
  await expect(cell('SC-07')).toHaveCSS('font-weight', '700');
  await field(report, 'Row').selectOption('all');
  await field(report, 'Column').selectOption({ label: 'Species' });
  await panel(report).getByText('Leave this column out').click();
  await expect(table).not.toContainText('Glasswort');
  await expectAccessible(report);
  await saved(report);

  // Rows change places in the source: what was SC-06 is SC-07 now, and the other way round.
  await product.save('monitoring/planting-counts.xlsx', [
    setCell('Counts', 'A10', 'SC-07'),
    setCell('Counts', 'B10', 'Sea lavender'),
    setCell('Counts', 'A11', 'SC-06'),
    setCell('Counts', 'B11', 'Sea aster'),
  ]);
  await expect(panel(report)).toContainText('behind');
  await panel(report).getByRole('button', { name: 'Refresh', exact: true }).click();
  await expect(header(report)).toContainText('2 in step');
  // What was picked was a place among the cells of before: it is let go.
  await expect(bar).toHaveCount(0);
  await expect(table.getByRole('row').nth(6)).toContainText('SC-07');
  await expect(cell('SC-07')).toHaveCSS('font-weight', '700');
  await expect(cell('SC-06')).toHaveCSS('font-weight', '400');
  await expect(table).not.toContainText('Glasswort');

  const list = panel(report).getByRole('list', { name: 'Set in this table' });
  await list.getByRole('button', { name: 'Column Species: as it was' }).click();
  await expect(table).toContainText('Glasswort');
  await panel(report).getByRole('button', { name: 'Take all of these back' }).click();
  await expect(cell('SC-07')).toHaveCSS('font-weight', '400');
});

test('a facsimile is drawn as vectors and scales as one piece', async ({ report }) => {
  await cleat(report, COUNTS).click();
  await choice(panel(report), 'Shown as', 'Facsimile').click();
  const figure = text(report).getByRole('img', { name: COUNTS });
  await expect(figure.locator('text', { hasText: 'SC-04' })).toBeVisible();
  const before = (await figure.boundingBox())!;
  await field(report, 'Width').fill('80');
  await field(report, 'Width').press('Enter');
  await expect.poll(async () => Math.round((await figure.boundingBox())!.width)).toBe(302);
  const after = (await figure.boundingBox())!;
  expect(after.height / before.height).toBeCloseTo(after.width / before.width, 2);
});

test('a long table goes on on the next pages under its header, and the printed pages are those on the screen', async ({
  report,
}) => {
  const place = await openPlace(report, 'Monitoring', /tide-gauge/);
  await place.getByLabel('Cells', { exact: true }).fill('A1:B120');
  await place.getByLabel('Name', { exact: true }).fill('Hours of tide');
  await expect(place.getByRole('button', { name: 'Place it' })).toBeEnabled();
  await place.getByRole('button', { name: 'Place it' }).click();
  await giveCaption(report, 'Hours of tide', 'Levels at the gauge');
  await expect(text(report).getByText('Table 1, continued').first()).toBeAttached();
  // A paragraph longer than a page breaks between two of its lines.
  await text(report).getByText('Decking starts when').click();
  await report.keyboard.press('End');
  await report.keyboard.insertText(' The piles were driven from the bank outwards.'.repeat(120));
  await text(report).getByText('Sallow Creek saltmarsh').click();
  await panel(report).getByText('Header and footer of the pages').click();
  await panel(report).getByLabel('Header at the left').fill('{title}');
  await panel(report).getByLabel('Header at the left').press('Enter');
  await saved(report);
  const onScreen = await sheets(report).count();
  expect(onScreen).toBeGreaterThan(3);
  // What follows a break stands at the head of the text of its sheet, also behind a break within a paragraph.
  const strays = await report.evaluate(() => {
    const top = (element: Element) => element.getBoundingClientRect().top;
    const heads = [...document.querySelectorAll('.sheet')].map(
      (sheet) => top(sheet) + (25 / 25.4) * 96,
    );
    const gaps = [...document.querySelectorAll('.page-gap')].map(
      (gap) => gap.getBoundingClientRect().bottom,
    );
    return [...gaps, ...[...document.querySelectorAll('.begins-page')].map(top)].filter(
      (y) => !heads.some((head) => Math.abs(head - y) < 3),
    );
  });
  expect(strays).toEqual([]);
  await expect(text(report).locator('span.page-gap')).not.toHaveCount(0);

  await header(report).getByRole('link', { name: 'Print' }).click();
  await expect(report.getByRole('status').filter({ hasText: `${onScreen} pages` })).toBeVisible();
  await expectAccessible(report);
  const path = await printedFile(report);
  expect((await readFile(path)).subarray(0, 5).toString()).toBe('%PDF-');

  // Read back with poppler: as many pages, of A4, the text as text in named faces, each on its page.
  const info = poppler('pdfinfo', path);
  expect(info).toMatch(new RegExp(`Pages:\\s+${onScreen}\\n`));
  expect(info).toMatch(/Page size:\s+59[45]\.\d+ x 84[12]\.\d+ pts|Page size:.*A4/);
  const pages = poppler('pdftotext', '-layout', path, '-').split('\f').slice(0, onScreen);
  pages.forEach((page, index) => {
    expect(page).toMatch(new RegExp(`${index + 1} ?/ ?${onScreen}`));
    expect(page.trimStart()).toMatch(/^Autumn monitoring report/);
  });
  expect(pages.filter((page) => page.includes('Table 1, continued')).length).toBeGreaterThan(0);
  const words = pages.join(' ').replace(/\s+/g, ' ');
  expect(words).toContain('All plots were counted between 5 and 8 October at low water.');
  expect(words).toContain('All plots 2,160 1,815 84% 42%');
  const fonts = poppler('pdffonts', path);
  expect(fonts).toMatch(/SourceSerif4/);
  expect(fonts).not.toMatch(/Type 3/);
});

test('printing can be stopped, and who may only look can print', async ({ product, browser }) => {
  const odile = await product.window(browser, 'Odile Marram');
  await reportCard(odile).click();
  await header(odile).getByRole('link', { name: 'Print' }).click();
  await odile.getByRole('button', { name: 'Save as PDF' }).click();
  await odile.getByRole('button', { name: 'Stop' }).click();
  await expect(odile.getByRole('button', { name: 'Save as PDF' })).toBeEnabled();
  const coming = odile.waitForEvent('download');
  await odile.getByRole('button', { name: 'Save as PDF' }).click();
  expect((await coming).suggestedFilename()).toBe('Autumn monitoring report.pdf');
  await odile.context().close();
});

test('widths of text are those that the browser draws', async ({ report }) => {
  // Tables far from the screen are drawn when there is nothing else to do.
  await expect.poll(() => report.locator('.placed-table td').count()).toBeGreaterThan(150);
  // An independent reader of the same fonts: the browser, without kerning.
  const drawn = await report.evaluate(async () => {
    await document.fonts.ready;
    const cells = [...document.querySelectorAll<HTMLTableCellElement>('.placed-table td')];
    return cells
      .filter((cell) => cell.textContent !== '' && getComputedStyle(cell).whiteSpace === 'pre')
      .map((cell) => {
        const range = document.createRange();
        range.selectNodeContents(cell);
        const style = getComputedStyle(cell);
        return {
          text: cell.textContent ?? '',
          family: style.fontFamily.split(',')[0]!.replaceAll('"', ''),
          size: Number.parseFloat(style.fontSize) * 0.75,
          bold: Number(style.fontWeight) >= 600,
          width: range.getBoundingClientRect().width,
        };
      });
  });
  expect(drawn.length).toBeGreaterThan(100);
  for (const { text: words, width, ...letters } of drawn) {
    expect(Math.abs(textWidth(words, letters) - width)).toBeLessThan(0.7);
  }
});

test('sizes are set by dragging: columns, facsimiles, charts', async ({ report }) => {
  const panel = report.getByRole('complementary');
  const drag = async (handle: ReturnType<Page['locator']>, by: { x: number; y: number }) => {
    const box = (await handle.boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await report.mouse.move(x, y);
    await report.mouse.down();
    await report.mouse.move(x + by.x / 2, y + by.y / 2);
    await report.mouse.move(x + by.x, y + by.y);
    await report.mouse.up();
  };
  const counts = placed(report, 'Planting counts by plot');
  const column = counts.getByRole('cell', { name: 'Common cordgrass' }).first();
  const before = (await column.boundingBox())!.width;
  await cleat(report, 'Planting counts by plot').click();
  // The second handle is that of the second column.
  await drag(text(report).locator('[data-column-handle]').nth(1), { x: 60, y: 0 });
  await expect.poll(async () => (await column.boundingBox())!.width).toBeGreaterThan(before + 55);
  // In a table that shares the page’s width the column keeps what was set; undo takes it back.
  const set = (await column.boundingBox())!.width;
  await unfold(panel, 'More on its look');
  await choice(panel, 'Column width', 'fit the page').click();
  await expect(counts.first()).toHaveCSS('width', /60\d/);
  expect(Math.abs((await column.boundingBox())!.width - set)).toBeLessThan(2);
  await text(report).press('Control+Z');
  await text(report).press('Control+Z');
  await expect.poll(async () => (await column.boundingBox())!.width).toBe(before);

  await choice(panel, 'Shown as', 'Facsimile').click();
  const facsimile = text(report).getByRole('img', { name: 'Planting counts by plot' });
  const whole = (await facsimile.boundingBox())!;
  await drag(text(report).locator('.cursor-nwse-resize'), { x: -200, y: -30 });
  await expect
    .poll(async () => (await facsimile.boundingBox())!.width)
    .toBeLessThan(whole.width - 190);
  const small = (await facsimile.boundingBox())!;
  expect(small.height / small.width).toBeCloseTo(whole.height / whole.width, 2);

  await choice(panel, 'Shown as', 'Chart').click();
  const chart = text(report).getByRole('img', { name: 'Planting counts by plot' });
  const first = (await chart.boundingBox())!;
  await drag(text(report).locator('.cursor-nwse-resize'), { x: 40, y: -80 });
  await expect
    .poll(async () => (await chart.boundingBox())!.height)
    .toBeLessThan(first.height - 70);
  await expect
    .poll(async () => (await chart.boundingBox())!.width)
    .toBeGreaterThan(first.width + 30);
});

test('a long table is measured beside the page: writing goes on, and it follows its look and its source', async ({
  product,
  desk,
}) => {
  const lines = (changed: string) => [
    'Gauge,' + Array.from({ length: 7 }, (_, at) => `Measure ${at + 1}`).join(','),
    ...Array.from({ length: 999 }, (_, row) =>
      [`G-${row + 1}`, ...Array.from({ length: 7 }, (_, at) => row * 10 + at)].join(','),
    ),
    `G-last,${changed},1,2,3,4,5,6`,
  ];
  const path = join(product.sources, 'monitoring/gauges.csv');
  await writeFile(path, lines('77').join('\r\n'));
  const area = { top: 1, left: 1, bottom: 1001, right: 8 };
  const id = await reportWith(desk, product, 'Gauges', [
    { name: 'Gauges', path: 'gauges.csv', sheet: 'gauges', area },
  ]);
  await desk.goto(`${product.address}/documents/${id}`);
  const table = placed(desk, 'Gauges');
  await expect(table.first()).toContainText('G-1');
  await expect(sheets(desk)).not.toHaveCount(1);
  const heading = table.first().getByRole('columnheader', { name: 'Measure 3' });
  await cleat(desk, 'Gauges').click();
  const pages = await sheets(desk).count();
  await choice(panel(desk), 'Look', 'of the document').click();
  await expect(heading).toHaveCSS('font-weight', '700');
  // It is as wide as the text now, and pages are broken for its new rows.
  await expect
    .poll(() => table.first().evaluate((each) => Math.round(each.getBoundingClientRect().width)))
    .toBeGreaterThan(550);
  await expect.poll(() => sheets(desk).count()).not.toBe(pages);
  await writeFile(path, lines('4242').join('\r\n'));
  await expect(header(desk)).toContainText('1 behind');
  await header(desk)
    .getByRole('button', { name: /Refresh/ })
    .click();
  await expect(header(desk)).toContainText('1 in step');
  await desk.locator('[data-scroll]').evaluate((pane) => pane.scrollTo(0, pane.scrollHeight));
  await expect(table.last()).toContainText('4,242');
});

test('pages stay as they are when text is measured anew with tables far from the screen', async ({
  product,
  desk,
}) => {
  const area = { top: 1, left: 1, bottom: 60, right: 2 };
  const tables = Array.from({ length: 8 }, (_, n) => ({
    name: `Tides ${n + 1}`,
    path: 'tide-gauge.csv',
    sheet: 'tide-gauge',
    area,
  }));
  const id = await reportWith(desk, product, 'Tides', tables);
  await desk.goto(`${product.address}/documents/${id}`);
  await expect(header(desk)).toContainText('8 in step');
  // Far tables come to be drawn when there is nothing else to do; the browser leaves them unpainted.
  await expect(text(desk).locator(':is(td, th)')).toHaveCount(
    8 * 60 * 2 + (await repeatedCells(desk)),
  );
  /** Where rows end before each break, table by table. */
  const breaks = () =>
    text(desk).evaluate((root) =>
      [...root.querySelectorAll('[data-tether-id]')].map((each) =>
        [...each.querySelectorAll('tbody')].map((body) => body.rows.length).join(' + '),
      ),
    );
  const before = await breaks();
  expect(before.filter((rows) => rows.includes('+')).length).toBeGreaterThan(4);
  await text(desk).getByRole('heading', { name: 'Tides 1' }).click();
  await desk.keyboard.press('End');
  await desk.keyboard.type('!');
  await saved(desk);
  expect(await breaks()).toEqual(before);
});

/** Cells of headers that stand once more at the head of a page. */
async function repeatedCells(page: Page): Promise<number> {
  const gaps = text(page).locator('[data-tether-id] .page-gap');
  await expect.poll(() => gaps.count()).toBeGreaterThan(6);
  return 2 * (await gaps.count());
}
