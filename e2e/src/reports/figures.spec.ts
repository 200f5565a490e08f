import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import exceljs from 'exceljs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { cleat, expect, expectAccessible, openPlace, placed, test } from '../fixtures.ts';

/** A workbook of levels: narrow columns, two tiers of headers, formulas that nobody computed, a table with a style. */
async function levels(): Promise<Uint8Array> {
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Levels');
  sheet.addRow(['Creek', 'Level', null, 'Total']);
  sheet.addRow([null, 'low', 'high', null]);
  sheet.addRow(['North', 98765432.1, 0.3129617, { formula: 'SUM(B3:C3)' }]);
  sheet.addRow([null, 4.25, 123456789012, { formula: 'SUM(B4:C4)' }]);
  sheet.addRow(['South', 2.5, 1234567, { formula: 'SUM(B5:C5)' }]);
  sheet.getCell('C5').numFmt = '#,##0.00';
  for (const merge of ['A1:A2', 'B1:C1', 'D1:D2', 'A3:A4']) sheet.mergeCells(merge);
  sheet.getColumn(2).width = 10;
  sheet.getColumn(3).width = 6;
  const styled = book.addWorksheet('Styled');
  styled.addTable({
    name: 'Gauges',
    ref: 'A1',
    headerRow: true,
    style: { theme: 'TableStyleMedium2', showRowStripes: true },
    columns: [{ name: 'Gauge' }, { name: 'Level' }],
    rows: [
      ['G-1', 1.2],
      ['G-2', 1.4],
      ['Gauge at the old sluice', 1.6],
    ],
  });
  styled.getRow(2).height = 60;
  styled.getCell('A2').alignment = { textRotation: 90 };
  styled.getRow(3).hidden = true;
  book.addWorksheet('Spoilt').addRow(['Gauge', 'Level']);
  const files = unzipSync(new Uint8Array(await book.xlsx.writeBuffer()));
  // The library writes zeros for what it did not compute.
  const part = 'xl/worksheets/sheet1.xml';
  const text = strFromU8(files[part]!).replace(/(<\/f>)<v>0?<\/v>/g, '$1');
  files[part] = strToU8(text);
  return zipSync(files);
}

/** Spoils the packed bytes of a part, so that it cannot be unpacked any more. */
function spoil(bytes: Uint8Array, part: string): Uint8Array {
  const file = Buffer.from(bytes);
  const name = file.indexOf(part);
  const start = name + part.length + file.readUInt16LE(name - 2);
  file.fill(0xff, start, start + 40);
  return file;
}

test('figures of a source are whole, or said not to be', async ({ product, report }) => {
  await writeFile(join(product.sources, 'monitoring/levels.xlsx'), await levels());
  const place = await openPlace(report, 'Monitoring', /levels/);
  const grid = place.getByRole('application');
  // Rounded into its column, its whole value behind it; hash marks where not even that fits.
  await expect(grid.getByText('98765432', { exact: true })).toBeVisible();
  await expect(grid.getByText('98765432.1')).toHaveCount(1);
  await expect(grid.getByText(/^#+$/).first()).toBeVisible();
  await expect(grid.getByTitle('not computed').first()).toBeVisible();
  await place.getByRole('radio', { name: 'Block', exact: true }).click();
  await place.getByLabel('Cells', { exact: true }).fill('A1:D5');
  await expect(place).toContainText('3 formulas have no stored value');
  const header = place.getByLabel('Header', { exact: true });
  await expect(header.locator('option').first()).toHaveText('rows 1 to 2 (as it reads)');
  await expectAccessible(report);
  await header.selectOption({ label: 'row 1' });
  await header.selectOption('found');
  await place.getByRole('textbox', { name: 'Name' }).fill('Levels of two creeks');
  await place.getByRole('button', { name: 'Place it' }).click();
  const table = placed(report, 'Levels of two creeks');
  await expect(table.locator('thead tr')).toHaveCount(2);
  await expect(table.getByRole('cell', { name: 'North' })).toHaveAttribute('rowspan', '2');
  await expect(table.locator('tbody tr').nth(1).locator('td')).toHaveCount(3);
  await expect(table.getByTitle('not computed')).toHaveCount(3);
});

test('tables wear their style, and a sheet that is spoilt says so', async ({ product, desk }) => {
  const bytes = spoil(await levels(), 'xl/worksheets/sheet3.xml');
  await writeFile(join(product.sources, 'monitoring/levels.xlsx'), bytes);
  await desk.getByRole('link', { name: 'Sources' }).click();
  const file = desk
    .getByRole('region', { name: 'Monitoring' })
    .getByRole('button', { name: /levels/ });
  await expect(file).toContainText('cannot be read in part');
  await file.click();
  await desk.getByRole('tab', { name: 'Styled' }).click();
  const head = desk.locator('[data-at]').filter({ hasText: /^Gauge$/ });
  await expect(head).toHaveCSS('background-color', 'rgb(79, 129, 189)');
  // Rows stand in proportion to those of the source: the second is four times as high, the third hidden.
  const heightOf = async (row: number) => {
    const line = desk.locator(`[data-row="${row}"]`);
    return (await line.boundingBox())!.height;
  };
  expect(await heightOf(2)).toBe(4 * (await heightOf(1)));
  expect(await heightOf(3)).toBe(3);
  await desk.locator('[data-at="B2"]').click();
  await expect(desk.getByRole('application')).toContainText('Styled!B2 taken');
  await expect(desk.getByText('G-1', { exact: true })).toHaveCSS('writing-mode', 'vertical-rl');
  await desk.getByRole('tab', { name: 'Spoilt' }).click();
  await expect(desk.getByRole('main')).toContainText('cannot be unpacked');
  await expect(desk.getByRole('main')).not.toContainText('The sheet is empty');
  await expectAccessible(desk);
  expect((await readFile(join(product.sources, 'monitoring/levels.xlsx'))).length).toBe(
    bytes.length,
  );
});

test('a placed table turns letters as the source does, and a text that is cut ends in a sign', async ({
  product,
  report,
}) => {
  await writeFile(join(product.sources, 'monitoring/levels.xlsx'), await levels());
  const place = await openPlace(report, 'Monitoring', /levels/);
  await place.getByRole('tab', { name: 'Styled' }).click();
  await place.getByLabel('Cells', { exact: true }).fill('A1:B4');
  await place.getByRole('textbox', { name: 'Name' }).fill('Two gauges');
  await place.getByRole('button', { name: 'Place it' }).click();
  const table = placed(report, 'Two gauges');
  await expect(table.getByText('G-1', { exact: true })).toHaveCSS('writing-mode', 'vertical-rl');
  const cut = table.getByTitle('Gauge at the old sluice');
  await expect(cut).toHaveCSS('text-overflow', 'ellipsis');
  await expect(table.getByTitle('G-1')).toHaveCount(0);
});

test('a block that would lose its total leads to a growing one', async ({ product, report }) => {
  const place = await openPlace(report);
  await place.getByLabel('Cells', { exact: true }).fill('Counts!A4:G17');
  await expect(place).toContainText('“PlotCounts”');
  await place.getByRole('button', { name: /Take a growing block/ }).click();
  await expect(place.getByRole('radio', { name: 'Growing block' })).toBeChecked();
  await place.getByRole('textbox', { name: 'Name' }).fill('Counts that grow');
  await place.getByRole('button', { name: 'Place it' }).click();
  await expect(placed(report, 'Counts that grow')).toContainText('All plots');
  await product.save('monitoring/planting-counts.xlsx', [
    { kind: 'insert row', sheet: 'Counts', row: 4, values: ['Counted in October'] },
  ]);
  await expect(cleat(report, 'Counts that grow')).toHaveText('in step');
});

test('an empty report has the caret in it', async ({ desk }) => {
  await desk.getByRole('button', { name: 'New document' }).click();
  await desk.getByLabel('Name of the new document').fill('Spring');
  await desk.keyboard.press('Enter');
  await expect(desk.getByRole('textbox', { name: /Text of/ })).toBeFocused();
  await desk.keyboard.type('The second season');
  await expect(desk.getByText('The second season')).toBeVisible();
});

test('the window itself does not scroll while an object is selected', async ({ report }) => {
  await cleat(report, 'Planting counts by plot').click();
  await expect(report.getByRole('complementary')).toBeVisible();
  const beyond = () =>
    report.evaluate(() => {
      const { scrollHeight, scrollWidth, clientHeight, clientWidth } = document.documentElement;
      return [scrollHeight - clientHeight, scrollWidth - clientWidth];
    });
  expect(await beyond()).toEqual([0, 0]);
});

test('what is odd in a text is told where it is looked at', async ({ product, desk }) => {
  const lines = ['Gauge,Note', 'G-1,"dry', 'G-2,wet', ''].join('\n');
  await writeFile(join(product.sources, 'monitoring/gauges.csv'), lines);
  await desk.getByRole('link', { name: 'Sources' }).click();
  await desk
    .getByRole('region', { name: 'Monitoring' })
    .getByRole('button', { name: /gauges/ })
    .click();
  const about = desk.getByRole('complementary', { name: 'About this source' });
  await expect(about).toContainText('A quotation mark in row 2 is opened and not closed');
  await expect(desk.getByRole('application')).toContainText('G-2');
  await expectAccessible(desk);
});
