import { rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setCell } from '@tether/demo';
import { cleat, expect, header, placed, test } from '../fixtures.ts';

test('a source that goes missing puts its object adrift with the reason; it finds back', async ({
  product,
  report,
}) => {
  const file = join(product.sources, 'monitoring/planting-counts.xlsx');
  await rename(file, `${file}.away`);
  await expect(cleat(report, 'Planting counts by plot')).toContainText('adrift');
  await expect(header(report)).toContainText('1 adrift');
  await cleat(report, 'Planting counts by plot').click();
  const panel = report.getByRole('complementary');
  await expect(panel).toContainText('The file “planting-counts.xlsx” is not there any more.');
  await expect(panel).toContainText('Put the file back');
  // The last good figures stay in the text.
  await expect(placed(report, 'Planting counts by plot')).toContainText('1,815');
  await rename(`${file}.away`, file);
  await expect(cleat(report, 'Planting counts by plot')).toContainText('in step');
});

test('a spoilt workbook is told on the desk and in Place, and nothing breaks', async ({
  product,
  desk,
}) => {
  await writeFile(join(product.sources, 'works/boardwalk-piles.xlsx'), 'not a workbook at all');
  const needs = desk.getByRole('region', { name: 'Needs you' });
  await expect(needs).toContainText('is not a workbook that can be read');
  await needs.getByRole('link', { name: 'Boardwalk piles as driven' }).click();
  await expect(placed(desk, 'Boardwalk piles as driven')).toContainText('47.40');
  await header(desk).getByRole('button', { name: 'Place' }).click();
  const place = desk.getByRole('dialog');
  await place
    .getByRole('region', { name: 'Works' })
    .getByRole('button', { name: /boardwalk-piles/ })
    .click();
  await expect(place.getByRole('alert')).toContainText('Save it as an Office Open XML workbook');
  await place
    .getByRole('region', { name: 'Monitoring' })
    .getByRole('button', { name: /planting-counts/ })
    .click();
  await expect(place.getByRole('application')).toContainText('Planting counts, Sallow Creek');
});

test('an object whose source changes while its change slip is open is not refreshed unseen', async ({
  product,
  report,
}) => {
  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 104)]);
  await expect(header(report)).toContainText('1 behind');
  // The request carries what was seen: here an older state than the server has.
  await report.route('**/api/tethers/refresh', async (route) => {
    await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 105)]);
    await route.continue();
  });
  await header(report).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(header(report)).toContainText('The source changed again while you were looking.');
  await report.unroute('**/api/tethers/refresh');
  await header(report).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(
    placed(report, 'Planting counts by plot').getByRole('row', { name: /SC-04/ }),
  ).toContainText('105');
});
