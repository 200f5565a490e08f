import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import {
  choice,
  cleat,
  expect,
  expectAccessible,
  header,
  openPlace,
  test,
  text,
} from '../fixtures.ts';

const VISITORS = 'monitoring/visitor-counts.csv';

/** Places the months of the gate counter as a chart behind the first paragraph below the counts. */
async function placeVisitors(report: Page, cells = 'A1:B70') {
  await text(report).getByText('Plots with a survival below').click();
  const place = await openPlace(report, 'Monitoring', /visitor-counts/);
  await place.getByLabel('Cells', { exact: true }).fill(cells);
  await place.getByLabel('Name', { exact: true }).fill('Visitors by month');
  await place.getByRole('radio', { name: 'Chart', exact: true }).click();
  await place.getByRole('button', { name: 'Place it' }).click();
  await expect(place).toBeHidden();
  await expect(text(report).getByRole('img', { name: 'Visitors by month' })).toBeVisible();
}

test('a series is carried on, in a chart and in a table, and follows its source', async ({
  product,
  report,
}) => {
  await placeVisitors(report);
  const panel = report.getByRole('complementary');
  await panel.getByText('Continue with a forecast').click();
  await expect(panel.getByRole('status').last()).toContainText('A season of 12 steps');
  await expect(panel.getByRole('status').last()).toContainText(/α [<\d.]+ β [<\d.]+ γ [<\d.]+/);
  await expectAccessible(report);
  await panel.getByLabel('Steps to forecast').fill('3');
  await panel.getByLabel('Steps to forecast').press('Enter');
  await panel.getByLabel('Confidence').fill('80');
  await panel.getByLabel('Confidence').press('Enter');

  // The same in a table: what comes after stands below, slanted, with its bounds.
  await choice(panel, 'Shown as', 'Table').click();
  const table = text(report).getByRole('table', { name: 'Visitors by month' });
  await expect(table.first()).toContainText('lower 80 %');
  const row = table.getByRole('row', { name: /2026-10-01/ });
  await row.scrollIntoViewIfNeeded();
  const figures = async () => (await row.getByRole('cell').allTextContents()).slice(1).map(Number);
  const [mean, lower, upper] = await figures();
  expect(lower!).toBeLessThan(mean!);
  expect(upper!).toBeGreaterThan(mean!);
  await expect(row.getByRole('cell').first()).toHaveCSS('font-style', 'italic');
  await expect(table.getByRole('row', { name: /2026-12-01/ })).toBeVisible();
  await expect(table.getByRole('row', { name: /2027-01-01/ })).toHaveCount(0);

  // Other figures in the source: the forecast is computed anew when they are taken.
  const lines = ['Month,Visitors'];
  for (let month = 0; month < 69; month++) {
    const date = new Date(Date.UTC(2021, month, 1)).toISOString().slice(0, 10);
    lines.push(`${date},${5_000 + 10 * month + (month % 12) * 100}`);
  }
  await writeFile(join(product.sources, VISITORS), lines.join('\n'));
  await expect(cleat(report, 'Visitors by month')).toContainText('behind');
  expect(await figures()).toEqual([mean, lower, upper]);
  await header(report).getByRole('button', { name: 'Refresh 1' }).click();
  // 5,000 + 10 x 69 + 9 x 100: the series is exact, and so are its bounds.
  await expect.poll(figures).toEqual([6_590, 6_590, 6_590]);
});

test('what cannot be carried on says so', async ({ report }) => {
  await placeVisitors(report, 'A1:B4');
  const panel = report.getByRole('complementary');
  await panel.getByText('Continue with a forecast').click();
  await expect(panel).toContainText('There are 3 values, too few to carry on: 5 are needed.');
  await panel.getByLabel('Season').selectOption('of a set length');
  await expect(panel).toContainText('24 are needed');
  await panel.getByLabel('Season length').fill('4');
  await panel.getByLabel('Season length').press('Enter');
  await expect(panel).toContainText('9 are needed');
  // The chart stays as it is, and undo takes the forecast away.
  await expect(text(report).getByRole('img', { name: 'Visitors by month' })).toBeVisible();
  await panel.getByText('Continue with a forecast').click();
  await expect(panel.getByLabel('Season')).toHaveCount(0);
});
