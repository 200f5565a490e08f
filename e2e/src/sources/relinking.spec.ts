import { copyFile, mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
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
  unfold,
} from '../fixtures.ts';

const OBJECT = 'Planting counts by plot';
const sourceButton = (page: Page, name: RegExp) =>
  page.getByRole('region', { name: 'Monitoring' }).getByRole('button', { name });

test('a file that is moved while its report is open is followed, and what is saved there arrives', async ({
  product,
  report,
}) => {
  const folder = join(product.sources, 'monitoring');
  await mkdir(join(folder, 'autumn'));
  await rename(join(folder, 'planting-counts.xlsx'), join(folder, 'autumn', 'Counts 2026.xlsx'));
  await report.getByRole('link', { name: 'Log', exact: true }).click();
  await expect(report.getByRole('main')).toContainText(
    'From Monitoring/planting-counts.xlsx to Monitoring/autumn/Counts 2026.xlsx',
  );
  await report.goBack();
  await expect(cleat(report, OBJECT)).toContainText('in step');
  await product.save('monitoring/autumn/Counts 2026.xlsx', [setCell('Counts', 'D8', 104)]);
  await expect(cleat(report, OBJECT)).toContainText('behind');
  await cleat(report, OBJECT).click();
  const panel = report.getByRole('complementary');
  await expect(panel).toContainText('Counts 2026.xlsx');

  // From the object itself: what it would take of another file, and left as it is.
  await panel.getByRole('button', { name: 'Where it comes from' }).click();
  await panel.getByRole('button', { name: 'Tie it to another file …' }).click();
  const box = report.getByRole('dialog');
  await box.getByLabel('Tie it to').selectOption({ label: 'Monitoring/tide-gauge.csv' });
  const objects = box.getByRole('list', { name: 'Objects' });
  await expect(objects.getByRole('listitem')).toHaveCount(1);
  await expect(objects).toContainText('It stays as it is.');
  await box.getByRole('button', { name: 'Leave it' }).click();
  await expect(box).toBeHidden();
});

test('a file that went and was changed is offered with the reasons; its objects are tied to it, and the log takes it back', async ({
  product,
  desk,
}) => {
  const folder = join(product.sources, 'monitoring');
  await copyFile(join(folder, 'planting-counts.xlsx'), join(folder, 'counts of autumn.xlsx'));
  await product.save('monitoring/counts of autumn.xlsx', [setCell('Counts', 'D8', 111)]);
  await rm(join(folder, 'planting-counts.xlsx'));
  await desk.getByRole('link', { name: 'Sources', exact: true }).click();
  await expect(sourceButton(desk, /planting-counts.*missing/)).toBeVisible();
  await sourceButton(desk, /planting-counts/).click();
  const offered = desk.getByRole('list', { name: 'Files that may be it' });
  await expect(offered).toContainText(/\d\d % of what it holds is the same\./);
  await expect(offered).toContainText('It lies in the same folder.');
  await expectAccessible(desk);
  await offered.getByRole('button', { name: /counts of autumn/ }).click();

  const box = desk.getByRole('dialog');
  const objects = box.getByRole('list', { name: 'Objects' });
  await expect(objects).toContainText('Different from what it shows: 4 cells changed');
  await expectAccessible(desk);
  // Nothing chosen is nothing done; chosen again it is.
  const tick = objects.getByRole('checkbox', { name: OBJECT });
  await tick.click();
  await expect(box.getByRole('button', { name: 'Tie', exact: true })).toBeDisabled();
  await tick.click();
  await box.getByRole('button', { name: 'Tie 1 object' }).click();
  await expect(box).toBeHidden();
  await expect(desk.getByRole('main')).toContainText('No object takes from it.');

  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  const needs = desk.getByRole('region', { name: 'Needs you' });
  await expect(needs).toContainText('behind: 4 cells changed');
  await needs.getByRole('link', { name: OBJECT }).click();
  // What it shows stays until it is refreshed.
  await expect(placed(desk, OBJECT)).toContainText('1,815');
  await header(desk).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(placed(desk, OBJECT)).toContainText('1,829');

  await desk.getByRole('link', { name: 'Log', exact: true }).click();
  const entry = desk
    .getByRole('listitem')
    .filter({ hasText: 'From Monitoring/planting-counts.xlsx' });
  await entry.getByRole('button', { name: 'Take back' }).click();
  await expect(entry).toContainText('taken back');
});

const PLOTS = [
  'Plot,Planted,Surviving',
  ...Array.from({ length: 8 }, (_, at) => `SC-${at + 1},${240 + at * 7},${97 + at * 11}`),
];

test('rows that come in above a block are followed; a copy of it makes that somebody must look', async ({
  product,
  desk,
}) => {
  const file = join(product.sources, 'monitoring/plots.csv');
  const save = (lines: string[]) => writeFile(file, `${lines.join('\n')}\n`);
  await save(PLOTS);
  const area = { top: 1, left: 1, bottom: 9, right: 3 };
  const id = await reportWith(desk, product, 'Plots', [
    { name: 'Plots as counted', path: 'plots.csv', sheet: 'plots', area },
  ]);
  await desk.goto(`${product.address}/documents/${id}`);
  await expect(cleat(desk, 'Plots as counted')).toContainText('in step');
  await cleat(desk, 'Plots as counted').click();
  const panel = desk.getByRole('complementary');
  await panel.getByRole('button', { name: 'Where it comes from' }).click();
  await expect(panel).toContainText('plots!A1:C9');

  await save([
    'Sallow Creek',
    '',
    ...PLOTS.map((line) => line.replace('SC-2,247,108', 'SC-2,247,5')),
  ]);
  await expect(panel).toContainText('plots!A3:C11');
  await expect(panel).toContainText('1 cell changed');
  await header(desk).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(
    placed(desk, 'Plots as counted').getByRole('cell', { name: '5', exact: true }),
  ).toBeVisible();

  // The table and a copy of it, both lower down.
  const now = PLOTS.map((line) => line.replace('SC-2,247,108', 'SC-2,247,5'));
  await save(['Sallow Creek', '', '', '', ...now, '', '', ...now]);
  await expect(cleat(desk, 'Plots as counted')).toContainText('reshaped');
  await expect(panel).toContainText('What it shows may stand at plots!A5:C13 now.');
  await expect(panel).toContainText('stand elsewhere too');
  // Still the right figures, whatever stands at the old place.
  await expect(placed(desk, 'Plots as counted')).toContainText('SC-8');
  await expectAccessible(desk);

  // Old and new side by side, and then it is chosen.
  await panel.getByRole('button', { name: 'Compare with plots!A5:C13' }).click();
  const box = desk.getByRole('dialog');
  await expect(box.getByRole('table', { name: 'What stands at plots!A5:C13' })).toContainText(
    'SC-8',
  );
  await expectAccessible(desk);
  await box.getByRole('button', { name: 'Take it from here' }).click();
  await expect(box).toBeHidden();
  await expect(cleat(desk, 'Plots as counted')).toContainText('in step');
  await expect(panel).toContainText('plots!A5:C13');
});

test('a report is carried forward to the next quarter: its files are suggested, and what changes is seen before', async ({
  product,
  desk,
}) => {
  const folder = join(product.sources, 'monitoring');
  await rename(join(folder, 'planting-counts.xlsx'), join(folder, 'Counts Q3 2026.xlsx'));
  await desk.getByRole('link', { name: 'Sources', exact: true }).click();
  await expect(sourceButton(desk, /Counts Q3 2026.*changed/)).toBeVisible();
  await expect(sourceButton(desk, /planting-counts/)).toHaveCount(0);
  await copyFile(join(folder, 'Counts Q3 2026.xlsx'), join(folder, 'Counts Q4 2026.xlsx'));
  await product.save('monitoring/Counts Q4 2026.xlsx', [setCell('Counts', 'D8', 111)]);
  await expect(sourceButton(desk, /Counts Q4 2026.*changed/)).toBeVisible();
  await desk.getByRole('link', { name: 'Desk', exact: true }).click();

  await desk.getByRole('button', { name: 'More for Autumn monitoring report' }).click();
  await desk.getByRole('button', { name: 'Carry forward …' }).click();
  const box = desk.getByRole('dialog');
  const sources = box.getByRole('list', { name: 'Its sources' });
  const counts = sources
    .getByRole('listitem')
    .filter({ has: desk.locator('p', { hasText: 'Counts Q3 2026.xlsx' }) });
  await expect(counts.getByLabel('becomes').locator('option:checked')).toHaveText(
    'Monitoring/Counts Q4 2026.xlsx',
  );
  await expect(counts).toContainText('Different from what it shows: 4 cells changed');
  await expectAccessible(desk);
  await box.getByLabel('Its name').fill('Winter monitoring report');
  await box.getByRole('button', { name: 'Carry forward' }).click();
  await expect(box).toContainText('of it takes from the new files');
  await box.getByRole('link', { name: 'Winter monitoring report' }).click();

  await expect(cleat(desk, OBJECT)).toContainText('behind');
  await header(desk).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(placed(desk, OBJECT)).toContainText('1,829');
  // The old report is as it was.
  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  await desk
    .getByRole('link', { name: /Autumn monitoring report/ })
    .first()
    .click();
  await expect(cleat(desk, OBJECT)).toContainText('frozen');
  await expect(placed(desk, OBJECT)).toContainText('1,815');
});

test('a document leaves with its sources and comes back tied to its copies', async ({
  product,
  desk,
}) => {
  const card = desk.getByRole('button', { name: 'More for Autumn monitoring report' });
  await card.click();
  await desk.getByRole('button', { name: 'Pack with its sources …' }).click();
  const packing = desk.getByRole('dialog');
  await expect(packing.getByRole('list', { name: 'Files' })).toContainText(
    'Monitoring/planting-counts.xlsx',
  );
  await expectAccessible(desk);
  const download = desk.waitForEvent('download');
  await packing.getByRole('link', { name: 'Save the bundle' }).click();
  const bundle = await download;
  expect(bundle.suggestedFilename()).toBe('Autumn monitoring report.bundle.zip');
  const file = join(product.sources, bundle.suggestedFilename());
  await bundle.saveAs(file);

  // Since then the source went on: what is opened is as it was packed.
  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 111)]);
  await expect(desk.getByRole('region', { name: 'Needs you' })).toContainText('behind');
  await desk.getByLabel('Bundle to open').setInputFiles(file);
  const opening = desk.getByRole('dialog');
  const sources = opening.getByRole('list', { name: 'Its sources' });
  await expect(sources).toContainText('Monitoring/planting-counts.xlsx');
  await expectAccessible(desk);
  await opening.getByLabel('Its name here').fill('Report for the funder');
  await opening.getByLabel('Copies go into').selectOption('Works');
  await expect(sources).toContainText(
    'is put in as Works/Report for the funder/Monitoring/planting-counts.xlsx',
  );
  await opening.getByRole('button', { name: 'Open it' }).click();
  await opening.getByRole('link', { name: 'Report for the funder' }).click();
  await expect(placed(desk, OBJECT)).toContainText('1,815');
  await expect(header(desk)).toContainText('in step');
  await expect(header(desk)).not.toContainText('behind');

  // What is saved in the copy is seen here, and not where it was packed.
  const copy = 'works/Report for the funder/Monitoring/planting-counts.xlsx';
  await product.save(copy, [setCell('Counts', 'D8', 100)]);
  await header(desk).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(placed(desk, OBJECT)).toContainText('1,818');

  // What is no bundle says so.
  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  await desk
    .getByLabel('Bundle to open')
    .setInputFiles({ name: 'odd.zip', mimeType: 'application/zip', buffer: Buffer.from('odd') });
  await expect(desk.getByRole('dialog')).toContainText('“odd.zip” is not a bundle');
});

test('an object is moored in its workbook from the panel, and let go again', async ({
  product,
  desk,
}) => {
  const path = 'planting-counts.xlsx';
  const area = { top: 4, left: 1, bottom: 10, right: 4 };
  const id = await reportWith(desk, product, 'Half the plots', [
    { name: 'First plots', path, sheet: 'Counts', area },
  ]);
  await desk.goto(`${product.address}/documents/${id}`);
  await cleat(desk, 'First plots').click();
  const panel = desk.getByRole('complementary');
  await unfold(panel, 'Where it comes from');
  await panel.getByRole('button', { name: 'Moor it in the workbook' }).click();
  await expect(panel).toContainText('Moored: a hidden name in the workbook keeps these cells');
  await expectAccessible(desk);

  // Played by the stand-in office: rows come in above, and the workbook itself says where the cells are now.
  await desk.getByRole('link', { name: 'The office outside' }).click();
  await desk.getByRole('button', { name: 'Rows come in above a row' }).click();
  await desk.getByLabel('File', { exact: true }).selectOption(`monitoring/${path}`);
  await desk.getByLabel(/^Sheet and row/).fill('Counts!2');
  await desk.getByLabel(/^How many/).fill('3');
  await expectAccessible(desk);
  await desk.getByRole('button', { name: 'Do it' }).click();
  await expect(desk.getByRole('main')).toContainText('1 step can be undone');
  await desk.goto(`${product.address}/documents/${id}`);
  await cleat(desk, 'First plots').click();
  await unfold(panel, 'Where it comes from');
  await expect(panel).toContainText('Counts!A7:D13');
  await expect(cleat(desk, 'First plots')).toContainText('in step');
  await panel.getByRole('button', { name: 'Take the mooring out' }).click();
  await expect(panel.getByRole('button', { name: 'Moor it in the workbook' })).toBeVisible();

  // What cannot be done says why; undone, all is as it was.
  await desk.getByRole('link', { name: 'The office outside' }).click();
  await desk.getByRole('button', { name: 'The file of the next month' }).click();
  await desk.getByLabel('File', { exact: true }).selectOption(`monitoring/${path}`);
  await desk.getByRole('button', { name: 'Do it' }).click();
  await expect(desk.getByRole('main')).toContainText('names no month, quarter or year');
});

test('a column that is renamed after rows came in above is asked about, and taken from where it stands', async ({
  product,
  desk,
}) => {
  const path = 'planting-counts.xlsx';
  const area = { top: 4, left: 1, bottom: 16, right: 4 };
  const id = await reportWith(desk, product, 'Plots of autumn', [
    { name: 'All plots', path, sheet: 'Counts', area },
  ]);
  await desk.goto(`${product.address}/documents/${id}`);
  await expect(cleat(desk, 'All plots')).toContainText('in step');
  await desk.getByRole('link', { name: 'The office outside' }).click();
  const office = async (act: string, fields: Record<string, string>) => {
    await desk.getByRole('button', { name: act }).click();
    await desk.getByLabel('File', { exact: true }).selectOption(`monitoring/${path}`);
    for (const [label, words] of Object.entries(fields)) {
      await desk.getByLabel(new RegExp(`^${label}`)).fill(words);
    }
    await desk.getByRole('button', { name: 'Do it' }).click();
    await expect(desk.getByRole('status').filter({ hasText: 'Done.' })).toBeVisible();
  };
  await office('A colleague saves other figures', {
    'Cells and what they hold': 'Counts!D4=Alive',
  });
  await desk.goto(`${product.address}/documents/${id}`);
  await expect(cleat(desk, 'All plots')).toContainText('behind');
  await desk.getByRole('link', { name: 'The office outside' }).click();
  await office('Rows come in above a row', { 'Sheet and row': 'Counts!2', 'How many': '2' });
  await desk.goto(`${product.address}/documents/${id}`);
  await cleat(desk, 'All plots').click();
  const panel = desk.getByRole('complementary');
  await unfold(panel, 'Where it comes from');
  await expect(panel).toContainText('Counts!A6:D18');
  await header(desk).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(placed(desk, 'All plots')).toContainText('Alive');
  await expect(placed(desk, 'All plots').getByRole('row')).toHaveCount(13);
});

test('chosen objects are tied to another file from the ledger', async ({ product, desk }) => {
  await copyFile(
    join(product.sources, 'monitoring/planting-counts.xlsx'),
    join(product.sources, 'works/counts of spring.xlsx'),
  );
  await product.save('works/counts of spring.xlsx', [setCell('Counts', 'D8', 90)]);
  await desk.getByRole('link', { name: 'Sources', exact: true }).click();
  await expect(desk.getByRole('button', { name: /counts of spring/ })).toBeVisible();
  await desk.getByRole('link', { name: 'Ledger', exact: true }).click();
  await desk.getByRole('checkbox', { name: new RegExp(OBJECT) }).click();
  await desk.getByRole('button', { name: 'Tie to another file …' }).click();
  const box = desk.getByRole('dialog');
  await box.getByLabel('Tie it to').selectOption({ label: 'Works/counts of spring.xlsx' });
  await box.getByRole('button', { name: 'Tie 1 object' }).click();
  await expect(box).toBeHidden();
  await expect(desk.getByRole('main')).toContainText('counts of spring.xlsx');
});
