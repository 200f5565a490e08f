import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { setCell } from '@tether/demo';
import {
  choice,
  expect,
  expectAccessible,
  header,
  openPlace,
  openReport,
  placed,
  test,
  text,
  unfold,
} from '../fixtures.ts';

async function openSources(page: Page, folder: string, file: RegExp): Promise<void> {
  await page.getByRole('link', { name: 'Sources', exact: true }).click();
  await page.getByRole('region', { name: folder }).getByRole('button', { name: file }).click();
}
const about = (page: Page) => page.getByRole('complementary', { name: 'About this source' });
const grid = (page: Page) => page.getByRole('application');

test('an open document shows its sheets, and a table is placed out of it', async ({ desk }) => {
  await openSources(desk, 'Finance', /grant-budget/);
  await expect(grid(desk)).toContainText('Sluice repair');
  await expect(grid(desk).getByText('-£2,140')).toHaveCSS('color', 'rgb(179, 38, 30)');
  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  await openReport(desk);
  const place = await openPlace(desk, 'Finance', /grant-budget/);
  await place.getByRole('application').getByRole('button', { name: 'GrantBudget' }).click();
  await expect(place.getByTestId('preview')).toContainText('Boardwalk');
  await place.getByLabel('Name', { exact: true }).fill('Budget');
  await place.getByRole('button', { name: 'Place it' }).click();
  await expect(placed(desk, 'Budget')).toContainText('£45,480');
});

test('charts, notes and rules of a workbook are shown', async ({ desk }) => {
  await openSources(desk, 'Monitoring', /planting-counts/);
  const chart = grid(desk).getByRole('img', { name: 'Chart Planted and surviving' });
  await expect(chart).toBeAttached();
  await expect(
    grid(desk).getByRole('img', { name: 'Note: Fence mended on 9 October.' }),
  ).toBeVisible();
  await expect(about(desk)).toContainText('2 conditional formats');
  await expect(about(desk)).toContainText('takes a whole number between 0 and 1000');
  await about(desk).getByRole('button', { name: 'Planted and surviving' }).click();
  await expect(about(desk).getByRole('img', { name: 'Chart Planted and surviving' })).toBeVisible();
  await expectAccessible(desk);
});

test('a chart of the source is taken over with its cells, follows them, and can be seen as a table', async ({
  product,
  report,
}) => {
  const place = await openPlace(report);
  await place.getByRole('button', { name: 'The chart Planted and surviving' }).click();
  await expect(place.getByRole('radio', { name: 'Chart of the source' })).toBeChecked();
  await expect(place.getByRole('radio', { name: 'Chart', exact: true })).toBeChecked();
  await expect(place.getByTestId('preview').getByRole('img')).toBeVisible();
  await expect(place.getByLabel('Name', { exact: true })).toHaveValue('Planted and surviving');
  await expectAccessible(report);
  await place.getByRole('button', { name: 'Place it' }).click();
  await expect(text(report).getByRole('img', { name: 'Planted and surviving' })).toBeVisible();
  const panel = report.getByRole('complementary');
  await unfold(panel, 'Where it comes from');
  await expect(panel).toContainText('Chart of the source.');
  await expect(choice(panel, 'Drawn', 'as in the source')).toBeChecked();
  await expect(header(report)).toContainText('Saved');

  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 104)]);
  await expect(header(report)).toContainText('2 behind');
  await header(report)
    .getByRole('button', { name: /Refresh/ })
    .click();
  await expect(header(report)).toContainText('3 in step');
  await choice(panel, 'Shown as', 'Table').click();
  const table = placed(report, 'Planted and surviving');
  await expect(table).toContainText('104');
  // What stands between the cells of the chart is no part of it.
  await expect(table).not.toContainText('Sea purslane');
  await choice(panel, 'Shown as', 'Chart').click();
  await choice(panel, 'Drawn', 'as set here').click();
  await expect(choice(panel, 'Drawn as', 'Columns')).toBeChecked();
});

test('a header is found on whatever sheet it stands', async ({ desk }) => {
  await desk.getByRole('link', { name: 'Sources', exact: true }).click();
  await desk.getByLabel('Find a source').fill('blows');
  await desk.getByRole('button', { name: 'Blows on Drive log' }).click();
  await expect(desk.getByRole('tab', { name: 'Drive log' })).toHaveAttribute(
    'aria-selected',
    'true',
  );
  await expect(grid(desk)).toContainText('Accepted');
  await desk.getByLabel('Find a source').fill('no such thing');
  await expect(desk.getByText('No file, sheet or header has that in its name.')).toBeVisible();
});

test('how a text is read is shown and can be overruled', async ({ desk }) => {
  await openSources(desk, 'Monitoring', /tide-gauge/);
  await expect(about(desk)).toContainText('Found by looking at the text.');
  const ends = about(desk).getByLabel('Fields end at');
  await expect(ends).toHaveValue(',');
  await ends.selectOption('semicolon');
  await expect(grid(desk)).toContainText('Time,Level (m),Surge (m)');
  await expect(about(desk)).toContainText('1 of these is not as found by looking.');
  await expectAccessible(desk);
  await about(desk).getByRole('button', { name: 'Back to what was found' }).click();
  await expect(grid(desk)).not.toContainText('Time,Level (m),Surge (m)');
  await expect(ends).toHaveValue(',');
});

test('a folder is added, gets a file and another name, and goes again', async ({
  product,
  desk,
}) => {
  await mkdir(join(product.sources, 'level-survey'));
  await writeFile(join(product.sources, 'level-survey/pegs.csv'), 'Peg,Level\nA,1.20\nB,1.31\n');
  await desk.getByRole('link', { name: 'Sources', exact: true }).click();
  await desk.getByRole('button', { name: 'Add a folder' }).click();
  const box = desk.getByRole('dialog');
  await expectAccessible(desk);

  // A place that may not be used is told, and nothing is lost.
  await box.getByLabel('Path on the server').fill('/etc');
  await box.getByRole('button', { name: 'Add it' }).click();
  await expect(box.getByRole('alert')).toContainText('may not use “/etc”');

  await box.getByRole('button', { name: 'level-survey' }).click();
  await expect(box.getByLabel('Path on the server')).toHaveValue(
    join(product.sources, 'level-survey'),
  );
  await box.getByLabel('Name').fill('Level survey');
  await box.getByRole('button', { name: 'Add it' }).click();
  const folder = desk.getByRole('region', { name: 'Level survey' });
  await expect(folder.getByRole('button', { name: /pegs\.csv/ })).toBeVisible();

  await folder.getByLabel('File for Level survey').setInputFiles({
    name: 'bench marks.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('Mark,Height\nSluice sill,2.04\n'),
  });
  await desk.getByRole('button', { name: 'Put it there' }).click();
  await folder.getByRole('button', { name: /bench marks\.csv/ }).click();
  await expect(grid(desk)).toContainText('Sluice sill');

  // A file that is there already stays.
  await folder.getByLabel('File for Level survey').setInputFiles({
    name: 'pegs.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('other\n'),
  });
  await desk.getByRole('button', { name: 'Put it there' }).click();
  await expect(box.getByRole('alert')).toContainText('There is a file “pegs.csv”');
  await box.getByRole('button', { name: 'Cancel' }).click();

  await folder.getByRole('button', { name: 'Actions for Level survey' }).click();
  await desk.getByRole('menuitem', { name: 'Rename …' }).click();
  await box.getByLabel('Name').fill('Pegs and marks');
  await box.getByRole('button', { name: 'Rename' }).click();
  const renamed = desk.getByRole('region', { name: 'Pegs and marks' });
  await expect(renamed.getByRole('button', { name: /pegs\.csv/ })).toBeVisible();

  await renamed.getByRole('button', { name: 'Actions for Pegs and marks' }).click();
  await desk.getByRole('menuitem', { name: 'Stop watching it …' }).click();
  await box.getByRole('button', { name: 'Stop watching it' }).click();
  await expect(renamed).toHaveCount(0);

  const used = desk.getByRole('region', { name: 'Monitoring' });
  await used.getByRole('button', { name: 'Actions for Monitoring' }).click();
  await desk.getByRole('menuitem', { name: 'Stop watching it …' }).click();
  await box.getByRole('button', { name: 'Stop watching it' }).click();
  await expect(box.getByRole('alert')).toContainText('Autumn monitoring report');
  await box.getByRole('button', { name: 'Keep it' }).click();
  await expect(used).toBeVisible();
});

test('who may only look has nothing to change at the sources', async ({ product, browser }) => {
  const odile = await product.window(browser, 'Odile Marram');
  await openSources(odile, 'Monitoring', /tide-gauge/);
  await expect(about(odile).getByLabel('Fields end at')).toBeDisabled();
  await expect(odile.getByRole('button', { name: 'Add a folder' })).toHaveCount(0);
  await expect(odile.getByRole('button', { name: /Do something/ })).toHaveCount(0);
  await odile.context().close();
  const tam = await product.window(browser, 'Tam Reedsby');
  await tam.getByRole('link', { name: 'Sources', exact: true }).click();
  await tam.getByRole('button', { name: 'Actions for Works' }).click();
  await expect(tam.getByRole('menuitem')).toHaveCount(1);
  await tam.context().close();
});
