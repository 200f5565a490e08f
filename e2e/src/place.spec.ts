import type { Page } from '@playwright/test';
import { dragCells, expect, header, placed, test } from './fixtures.ts';

async function openPlace(report: Page) {
  await header(report).getByRole('button', { name: 'Place' }).click();
  const place = report.getByRole('dialog', { name: 'Place a live table' });
  await place
    .getByRole('region', { name: 'Monitoring' })
    .getByRole('button', { name: /planting-counts/ })
    .click();
  await expect(place.getByRole('application')).toContainText('SC-01');
  return place;
}

test('a typed reference is read as it is typed, and a bad one is told', async ({ report }) => {
  const place = await openPlace(report);
  const cells = place.getByLabel('Cells', { exact: true });
  const button = place.getByRole('button', { name: 'Place it' });
  for (const [typed, sentence] of [
    ['B2:', '“B2:” is not a cell reference.'],
    ['A1048577', '“A1048577” lies outside the sheet.'],
    ['Plots!A1:B2', 'The workbook has no sheet “Plots”.'],
    ['A:XFD', 'more than one placed table can show'],
  ] as const) {
    await cells.fill(typed);
    await expect(place).toContainText(sentence);
    await expect(button).toBeDisabled();
  }
  await cells.fill('notes!A4:B6');
  await expect(place.getByRole('tab', { name: 'Notes' })).toHaveAttribute('aria-selected', 'true');
  await expect(place.getByTestId('preview')).toContainText('Goose grazing');
  await button.click();
  await expect(placed(report, 'Notes: SC-04')).toBeVisible();
});

test('cells are taken with the keyboard alone', async ({ report }) => {
  const place = await openPlace(report);
  await place.getByRole('application').focus();
  await report.keyboard.press('ArrowDown');
  for (let n = 0; n < 3; n++) await report.keyboard.press('ArrowDown');
  for (let n = 0; n < 2; n++) await report.keyboard.press('Shift+ArrowDown');
  for (let n = 0; n < 3; n++) await report.keyboard.press('Shift+ArrowRight');
  await expect(place.getByLabel('Cells', { exact: true })).toHaveValue('Counts!A4:D6');
  await expect(place.getByTestId('preview')).toContainText('SC-02');
  await report.keyboard.press('Escape');
  await expect(place).toBeHidden();
});

test('all filled cells are taken with one press; a drag goes in any direction', async ({
  report,
}) => {
  const place = await openPlace(report);
  await place.getByRole('button', { name: 'Take all filled cells (A1:G17)' }).click();
  await expect(place).toContainText('17 rows, 7 columns');
  await dragCells(report, 'Counts', 'C9', 'A5');
  await expect(place.getByLabel('Cells', { exact: true })).toHaveValue('Counts!A5:C9');
});

test('a source is found by a few letters of its name', async ({ report }) => {
  await header(report).getByRole('button', { name: 'Place' }).click();
  const place = report.getByRole('dialog');
  await place.getByLabel('Find a source').fill('works pile');
  await expect(place.getByRole('button', { name: /boardwalk-piles/ })).toHaveCount(2);
  await expect(place.getByRole('button', { name: /planting-counts/ })).toHaveCount(0);
  await place.getByLabel('Find a source').fill('nothing like it');
  await expect(place).toContainText('No source has that in its name.');
});
