import { readFile } from 'node:fs/promises';
import type { Locator } from '@playwright/test';
import { PDFDocument } from 'pdf-lib';
import {
  expect,
  expectAccessible,
  header,
  openReport,
  type Page,
  Product,
  printedFile,
  test as short,
  text,
} from '../fixtures.ts';

/** With the whole demo report: of several pages, its objects captioned. */
const test = short.extend({
  // biome-ignore lint/correctness/noEmptyPattern: Playwright reads which fixtures are needed from the pattern
  product: async ({}, use) => {
    const product = await Product.start('whole');
    await use(product);
    await product.stop();
  },
});

const saved = (page: Page) => expect(header(page)).toContainText('Saved');

/** Takes something out of the menu of the rail for what stands between paragraphs and at the foot of pages. */
async function choose(page: Page, item: string): Promise<void> {
  const rail = page.getByRole('toolbar', { name: 'Text' });
  await rail.getByRole('button', { name: 'Contents, footnote, page' }).click();
  await page.getByRole('menuitem', { name: item, exact: true }).click();
  // The menu gives the focus back a frame later: who types before that types nowhere.
  if (item === 'Footnote') await expect(text(page).locator('.note:focus')).toHaveCount(1);
  else await expect(text(page)).toBeFocused();
}

test('footnotes stand at the foot of their page, in order, and are written there', async ({
  report,
}) => {
  const notes = text(report).locator('.footnote');
  const words = notes.locator('.note');
  const first = text(report).getByText('Sallow Creek saltmarsh');
  await text(report).getByText('Plots with a survival below').click();
  await report.keyboard.press('End');
  await choose(report, 'Footnote');
  await expect(words).toBeFocused();
  await report.keyboard.type('As agreed in June.');
  await report.keyboard.press('Enter');
  await report.keyboard.type(' Written on.');
  await expect(text(report).locator('p', { hasText: 'Written on.' })).toHaveCount(1);

  await first.click();
  await report.keyboard.press('End');
  await choose(report, 'Footnote');
  await report.keyboard.type('At low water.');
  await report.keyboard.press('Escape');
  await expect(words).toHaveText(['At low water.', 'As agreed in June.']);
  expect(await notes.evaluateAll((all) => all.map((each) => each.dataset.number))).toEqual([
    '1',
    '2',
  ]);
  /** Whether each note stands on the sheet of its number, below all of that page’s text. */
  const stand = () =>
    notes.evaluateAll((all) =>
      all.map((each) => {
        const sheets = [...document.querySelectorAll('.sheet')].map((sheet) =>
          sheet.getBoundingClientRect(),
        );
        const on = (element: Element | null) => {
          const { top } = element!.getBoundingClientRect();
          return sheets.findIndex((sheet) => top >= sheet.top && top < sheet.bottom);
        };
        return [on(each.querySelector('sup')), on(each.querySelector('.note'))];
      }),
    );
  await expect.poll(stand).toEqual([
    [0, 0],
    [1, 1],
  ]);
  await expectAccessible(report);

  // Found and replaced like any words; undone like them.
  await report.keyboard.press('Control+z');
  await expect(words.first()).not.toHaveText('At low water.');
  await report.keyboard.press('Control+Shift+z');
  await expect(words.first()).toHaveText('At low water.');
  await saved(report);
  await report.reload();
  await expect(words).toHaveText(['At low water.', 'As agreed in June.']);

  // The whole note goes by one key where it is empty, or with its number.
  await words.first().click();
  await report.keyboard.press('Control+a');
  await report.keyboard.press('Backspace');
  await report.keyboard.press('Backspace');
  await expect(words).toHaveText(['As agreed in June.']);
});

test('two people write in one footnote', async ({ product, report, browser }) => {
  await text(report).getByText('Sallow Creek saltmarsh').click();
  await choose(report, 'Footnote');
  await report.keyboard.type('Counted at low water');
  await saved(report);
  const tam = await product.window(browser, 'Tam Reedsby');
  await openReport(tam);
  const [hers, his] = [report, tam].map((page) => text(page).locator('.note'));
  await expect(his!).toHaveText('Counted at low water');
  await his!.click();
  await tam.keyboard.press('Home');
  await tam.keyboard.type('All were ');
  await hers!.click();
  await report.keyboard.press('End');
  await report.keyboard.type(', by boat');
  for (const note of [hers!, his!]) {
    await expect(note).toHaveText('All were Counted at low water, by boat');
  }
  await tam.context().close();
});

test('landscape pages stand among portrait ones, on the screen and in the PDF', async ({
  report,
}) => {
  await text(report).getByText('Ten piles stand').click();
  await choose(report, 'Begin landscape pages');
  await text(report).getByText('Decking starts when').click();
  await choose(report, 'Begin portrait pages');
  const turned = () =>
    report
      .locator('.sheet')
      .evaluateAll((all) =>
        all.map((each) => (each.clientWidth > each.clientHeight ? 'landscape' : 'portrait')),
      );
  await expect.poll(turned).toEqual(['portrait', 'portrait', 'landscape', 'portrait']);
  // What stands on a sheet keeps within it.
  const isInside = () =>
    text(report).evaluate((root) => {
      const sheets = [...document.querySelectorAll('.sheet')].map((each) =>
        each.getBoundingClientRect(),
      );
      return [...root.querySelectorAll(':scope > p, [data-table]')].every((each) => {
        const { top, left, right } = each.getBoundingClientRect();
        const sheet = sheets.find((one) => top >= one.top && top < one.bottom);
        return sheet && left >= sheet.left && right <= sheet.right;
      });
    });
  await expect.poll(isInside).toBe(true);
  await saved(report);

  await report.goto(`${report.url()}/print`);
  await expect(report.locator('[data-print-ready="4"]')).toBeAttached();
  await expect(report.getByRole('button', { name: 'Print', exact: true })).toBeDisabled();
  const bytes = await readFile(await printedFile(report));
  const pages = (await PDFDocument.load(bytes)).getPages();
  expect(pages.map((page) => page.getWidth() > page.getHeight())).toEqual([
    false,
    false,
    true,
    false,
  ]);
});

test('a captioned object is dragged with its caption, and a row made higher by hand', async ({
  report,
}) => {
  const figure = text(report).locator('figure.captioned').first();
  const heading = text(report).getByRole('heading', { name: 'Planting and survival' });
  expect(await isAbove(figure, heading)).toBe(false);
  await figure
    .locator('td')
    .nth(20)
    .dragTo(heading, { targetPosition: { x: 5, y: 3 } });
  await expect.poll(() => isAbove(figure, heading)).toBe(true);
  await expect(figure).toContainText('Plants set and surviving on the twelve plots');
  await report.keyboard.press('Control+z');
  await expect.poll(() => isAbove(figure, heading)).toBe(false);

  const row = figure.locator('tr', { hasText: 'SC-04' });
  const height = () => row.evaluate((each) => each.clientHeight);
  const before = await height();
  await row.locator('td').first().click();
  await row.locator('td').first().hover();
  const handle = report.locator('[data-row-handle]');
  const box = (await handle.boundingBox())!;
  await report.mouse.move(box.x + 6, box.y + box.height / 2);
  await report.mouse.down();
  await report.mouse.move(box.x + 6, box.y + box.height / 2 + 30, { steps: 4 });
  await report.mouse.up();
  await expect.poll(height).toBeGreaterThan(before + 20);
  await report.keyboard.press('Control+z');
  await expect.poll(height).toBe(before);
});

/** Whether one thing stands above another. */
async function isAbove(one: Locator, other: Locator): Promise<boolean> {
  const [a, b] = await Promise.all([one.boundingBox(), other.boundingBox()]);
  return a!.y < b!.y;
}
