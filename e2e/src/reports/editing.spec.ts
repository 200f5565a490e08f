import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Locator } from '@playwright/test';
import { setCell } from '@tether/demo';
import {
  cleat,
  expect,
  expectAccessible,
  header,
  type Page,
  placed,
  reportWith,
  test,
  text,
  unfold,
} from '../fixtures.ts';

const COUNTS = 'Planting counts by plot';
const FILE = 'monitoring/planting-counts.xlsx';

/** A cell of the table, by its row and column counted from 0. */
const cell = (page: Page, row: number, column: number): Locator =>
  placed(page, COUNTS).locator(`[data-cell="${row},${column}"]`);
const panel = (page: Page) => page.getByRole('complementary', { name: `Object ${COUNTS}` });
const field = (page: Page, ref: string) =>
  page.getByRole('textbox', { name: `Correction of ${ref}` });

async function unlock(page: Page): Promise<void> {
  await cleat(page, COUNTS).click();
  await unfold(panel(page), 'Writing back');
  await panel(page).getByRole('button', { name: 'Unlock all cells' }).click();
  await expect(panel(page)).toContainText('All its cells can be corrected here');
}

async function correct(
  page: Page,
  place: [number, number],
  ref: string,
  typed: string,
): Promise<void> {
  await cell(page, ...place).dblclick();
  await expect(field(page, ref)).toBeFocused();
  await page.keyboard.type(typed);
  await page.keyboard.press('Enter');
  await expect(field(page, ref)).toHaveCount(0);
  await page.keyboard.press('Escape');
  await expect(cell(page, ...place)).toHaveText(typed);
}

test('two figures are corrected, one of them contested, written back, seen in another report, and taken back', async ({
  product,
  report,
  browser,
}) => {
  const totals = await reportWith(report, product, 'Totals', [
    {
      name: 'All plots',
      path: 'planting-counts.xlsx',
      sheet: 'Counts',
      area: { top: 17, left: 1, bottom: 17, right: 4 },
    },
  ]);
  await product.query(`update documents set mode = '{"kind": "automatic"}' where name = 'Totals'`);
  await unlock(report);
  await correct(report, [4, 3], 'D8', '104');
  // What follows is shown with it, and the source stays as it is.
  await expect(cell(report, 13, 3)).toHaveText('1,822');
  await expect(cell(report, 13, 3)).toHaveAttribute('data-edit', 'provisional');
  await expect(cleat(report, COUNTS)).toContainText('edited here');
  await correct(report, [5, 3], 'D9', '140');
  await expect(cell(report, 13, 3)).toHaveText('1,830');

  await product.save(FILE, [setCell('Counts', 'D9', 120)]);
  await expect(cleat(report, COUNTS)).toContainText('contested');
  const edits = panel(report).getByRole('listitem');
  await expect(edits.filter({ hasText: 'D9' })).toContainText('The source changed it too');
  await expect(edits.filter({ hasText: 'D9' }).getByRole('definition')).toHaveText([
    '132',
    '120',
    '140',
  ]);
  const write = panel(report).getByRole('button', { name: 'Write back' });
  await expect(write).toBeDisabled();
  await expectAccessible(report);
  await edits.getByRole('button', { name: 'Keep yours' }).click();
  await expect(panel(report)).toContainText('Writes 2 cells into planting-counts.xlsx');
  await write.click();
  await expect(cleat(report, COUNTS)).toContainText('in step');
  await expect(cell(report, 13, 3)).toHaveText('1,830');
  await expect(panel(report).getByRole('button', { name: 'Write back' })).toHaveCount(0);

  const tam = await product.window(browser, 'Tam Reedsby');
  await tam.goto(`${product.address}/documents/${totals}`);
  await expect(placed(tam, 'All plots')).toContainText('1,830');

  await report.getByRole('link', { name: 'Log', exact: true }).click();
  const entry = report.getByRole('listitem').filter({ hasText: 'wrote back' });
  await expect(entry).toContainText('D8 97 → 104, D9 120 → 140');
  await entry.getByRole('button', { name: 'Take back' }).click();
  // The cells that were written, not the file: what the colleague had saved stands again.
  await expect(placed(tam, 'All plots')).toContainText('1,803');
  await tam.context().close();
});

test('a cell is typed in as in any grid: a wrong entry says what is expected, a formula asks first', async ({
  product,
  report,
}) => {
  const before = await readFile(join(product.sources, FILE));
  // Locked, letters go nowhere, and it says what to do.
  await cell(report, 4, 3).click();
  await report.keyboard.type('1');
  await expect(
    report.getByRole('status').filter({ hasText: 'Nothing was typed over' }),
  ).toContainText('Writing back');
  await unlock(report);
  await cell(report, 4, 3).click();
  await report.keyboard.type('1');
  await expect(field(report, 'D8')).toBeFocused();
  await report.keyboard.type('0x');
  await report.keyboard.press('Enter');
  await expect(report.getByText('“10x” is no number, and a number stands here.')).toBeVisible();
  await report.keyboard.press('Escape');
  await expect(field(report, 'D8')).toHaveCount(0);
  await expect(cell(report, 4, 3)).toHaveText('97');

  await cell(report, 4, 3).click();
  await report.keyboard.type('9');
  await report.keyboard.type('9');
  await report.keyboard.press('Tab');
  await expect(cell(report, 4, 4)).toHaveClass(/picked/);
  // Survival is a formula.
  await report.keyboard.press('Enter');
  const asks = report.getByRole('group', { name: 'A formula gives this figure' });
  await expect(asks).toContainText('=D8/C8');
  await asks.getByRole('button', { name: 'Leave the formula' }).click();
  await expect(asks).toHaveCount(0);
  await expect(cell(report, 4, 3)).toHaveText('99');
  await expect(cell(report, 4, 3)).toHaveAttribute('data-edit', 'edited');
  // What stands above is filled down; in a hurry nothing is typed into the wrong cell.
  await cell(report, 5, 3).click();
  await report.keyboard.press('ControlOrMeta+d');
  await expect(field(report, 'D9')).toHaveValue('99');
  await report.keyboard.press('Escape');
  await cell(report, 9, 3).click();
  for (const typed of ['61', '62', '63']) {
    await report.keyboard.type(typed);
    await report.keyboard.press('Enter');
  }
  await expect(cell(report, 9, 3)).toHaveText('61');
  await expect(cell(report, 10, 3)).toHaveText('62');
  await expect(cell(report, 11, 3)).toHaveText('63');

  // Who goes elsewhere has not thrown away what was typed.
  await cell(report, 5, 3).click();
  await report.keyboard.type('133');
  await text(report).getByRole('heading').first().click();
  await expect(cell(report, 5, 3)).toHaveText('133');
  await expect(field(report, 'D9')).toHaveCount(0);
  await cell(report, 5, 3).click();
  await report.keyboard.type('x');
  await text(report).getByRole('heading').first().click();
  await expect(report.getByText('“x” is no number, and a number stands here.')).toBeVisible();
  await field(report, 'D9').press('Escape');
  await expect(cell(report, 5, 3)).toHaveText('133');

  // By keys alone: arrows pick, Enter opens, Delete opens it empty.
  await cell(report, 7, 3).click();
  await report.keyboard.press('ArrowDown');
  await expect(cell(report, 8, 3)).toHaveClass(/picked/);
  await report.keyboard.press('Enter');
  await expect(field(report, 'D12')).toHaveValue('88');
  await report.keyboard.press('Escape');
  await report.keyboard.press('ArrowLeft');
  await expect(cell(report, 8, 2)).toHaveClass(/picked/);
  await report.keyboard.press('Delete');
  await expect(field(report, 'C12')).toHaveValue('');
  await report.keyboard.press('Escape');
  await expect(cell(report, 8, 2)).toHaveText('120');

  // A column of figures out of another program.
  await cell(report, 6, 3).dblclick();
  await expect(field(report, 'D10')).toBeFocused();
  await field(report, 'D10').evaluate((element) => {
    const data = new DataTransfer();
    data.setData('text/plain', '142\n62\n');
    element.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    );
  });
  await expect(cell(report, 6, 3)).toHaveText('142');
  await expect(cell(report, 7, 3)).toHaveText('62');
  await expect(panel(report)).toContainText('Writes 7 cells');

  // All of them can be written from the header, in one go.
  await header(report).getByRole('button', { name: 'Write back 7 corrections' }).click();
  const all = report.getByRole('dialog', { name: 'Write back 7 corrections' });
  await expect(all).toContainText('7 cells from Planting counts by plot');
  await expect(all.getByRole('button', { name: 'Write 7 cells into 1 file' })).toBeEnabled();
  await expectAccessible(report);
  await report.keyboard.press('Escape');
  await expect(all).toHaveCount(0);

  await panel(report)
    .getByRole('listitem')
    .filter({ hasText: 'D10' })
    .getByRole('button', { name: 'Let it go' })
    .click();
  await expect(cell(report, 6, 3)).toHaveText('141');
  // Nothing of that went into the source, nor into the text of the report.
  expect(await readFile(join(product.sources, FILE))).toEqual(before);
  await expect(header(report)).toContainText('Saved');
  await expect(text(report)).not.toContainText('10x');
});

test('who may only look cannot correct, and sees what was corrected', async ({
  product,
  report,
  browser,
}) => {
  await unlock(report);
  await correct(report, [4, 3], 'D8', '104');
  const odile = await product.window(browser, 'Odile Marram');
  await odile
    .getByRole('region', { name: 'Documents' })
    .getByRole('link', { name: /Autumn/ })
    .click();
  await expect(cell(odile, 4, 3)).toHaveText('104');
  await cleat(odile, COUNTS).click();
  await unfold(panel(odile), 'Writing back');
  await expect(panel(odile).getByRole('button', { name: 'Write back' })).toBeDisabled();
  await expect(panel(odile).getByRole('button', { name: 'Lock them again' })).toBeDisabled();
  await cell(odile, 4, 3).dblclick();
  await expect(field(odile, 'D8')).toHaveCount(0);
  await odile.context().close();
});
