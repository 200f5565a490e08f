import { setCell } from '@tether/demo';
import {
  changeSlip,
  cleat,
  dragCells,
  expect,
  header,
  placed,
  reportCard,
  test,
  text,
} from './fixtures.ts';

const COUNTS = 'monitoring/planting-counts.xlsx';

test('a live table, from the file on disk to the screen and back into step', async ({
  product,
  report,
}) => {
  await expect(header(report)).toContainText('2 in step');
  await expect(cleat(report, 'Planting counts by plot')).toContainText('in step');
  const row = placed(report, 'Planting counts by plot').getByRole('row', { name: /SC-04/ });
  await expect(row).toContainText('97');

  // A colleague saves other figures: the screen says so with no reload.
  await product.save(COUNTS, [setCell('Counts', 'D8', 104), setCell('Counts', 'D11', 58)]);
  await expect(cleat(report, 'Planting counts by plot')).toContainText('behind');
  await expect(header(report)).toContainText('1 behind');
  // Until somebody takes the change the document shows what it showed.
  await expect(row).toContainText('97');

  await header(report).getByRole('button', { name: 'See the changes' }).click();
  const changes = changeSlip(report).getByRole('table', {
    name: 'Changes in Planting counts by plot',
  });
  await expect(changes.getByRole('row', { name: /SC-04 Surviving 97 → 104 \+7/ })).toBeVisible();
  await expect(changes.getByRole('row', { name: /SC-07 Surviving 61 → 58 −3/ })).toBeVisible();
  await expect(
    changes.getByRole('row', { name: /Total Surviving 1,815 → 1,819 \+4/ }),
  ).toBeVisible();

  await header(report).getByRole('button', { name: 'Refresh 1' }).click();
  await expect(cleat(report, 'Planting counts by plot')).toContainText('in step');
  await expect(header(report)).toContainText('2 in step');
  await expect(row).toContainText('104');
  await expect(changeSlip(report)).toContainText('Nothing is behind');
  await changeSlip(report).getByRole('button', { name: 'Close the change slip' }).click();

  // The user writes around the table and places a second one out of another workbook.
  await text(report).getByText('All other plots: no work').click();
  await report.keyboard.press('End');
  await report.keyboard.press('Enter');
  await report.keyboard.press('Enter');
  await report.keyboard.type('The drive log is set out below.');
  await header(report).getByRole('button', { name: 'Place' }).click();
  const place = report.getByRole('dialog', { name: 'Place' });
  await place
    .getByRole('region', { name: 'Works' })
    .getByRole('button', { name: /boardwalk-piles/ })
    .click();
  await place.getByRole('tab', { name: 'Drive log' }).click();
  await expect(place.getByRole('application', { name: 'Cells of Drive log' })).toContainText(
    'P-05',
  );
  await dragCells(report, 'Drive log', 'A4', 'D9');
  await expect(place.getByLabel('Cells', { exact: true })).toHaveValue("'Drive log'!A4:D9");
  await expect(place.getByLabel('Name', { exact: true })).toHaveValue(
    'Drive log: Pile, Driven on, Blows …',
  );
  await expect(place.getByTestId('preview')).toContainText('P-05');
  await place.getByLabel('Name', { exact: true }).fill('Blows of the first piles');
  await place.getByRole('button', { name: 'Place it' }).click();
  const second = placed(report, 'Blows of the first piles');
  await expect(second.getByRole('row', { name: /P-05/ })).toContainText('15 Sep 2026');
  await expect(header(report)).toContainText('3 in step');
  await expect(header(report)).toContainText('Saved');

  // All of it is there after a restart of the server, and the screen that stayed open goes on being live.
  await product.restart();
  await product.save('works/boardwalk-piles.xlsx', [setCell('Drive log', 'C5', 25)]);
  await expect(cleat(report, 'Blows of the first piles')).toContainText('behind');
  await report.reload();
  await expect(text(report)).toContainText('The drive log is set out below.');
  await expect(second.getByRole('row', { name: /P-05/ })).toBeVisible();
  await expect(changeSlip(report)).toContainText('1 object has changed in the source');

  // What happened is in the log with its change slip.
  await report.getByRole('link', { name: 'Log' }).click();
  const entry = report
    .getByRole('listitem')
    .filter({ hasText: 'Ines Fallow refreshed Planting counts by plot' });
  await entry.getByRole('button', { name: 'Change slip' }).click();
  await expect(entry.getByRole('row', { name: /SC-04 Surviving 97 → 104 \+7/ })).toBeVisible();
});

test('on opening a document that is behind: take all, choose, or leave', async ({
  product,
  desk,
}) => {
  await product.save(COUNTS, [setCell('Counts', 'D8', 104)]);
  await product.save('works/boardwalk-piles.xlsx', [setCell('Piles', 'E5', 2.5)]);
  const needs = desk.getByRole('region', { name: 'Needs you' });
  await expect(needs.getByRole('listitem')).toHaveCount(2);
  const card = reportCard(desk);
  await expect(card).toContainText('2 behind');

  await card.click();
  const slip = changeSlip(desk);
  await expect(slip).toContainText('2 objects have changed in the source since the last refresh');
  await slip.getByRole('button', { name: 'Leave' }).click();
  await expect(slip).toBeHidden();
  await expect(header(desk)).toContainText('2 behind');

  // What was left is not asked again: it waits to be called for.
  await desk.reload();
  await header(desk).getByRole('button', { name: 'See the changes' }).click();
  await expect(slip).toContainText('Left by Ines Fallow');
  await slip.getByRole('button', { name: 'Choose' }).click();
  await slip.getByRole('checkbox', { name: /Planting counts/ }).uncheck();
  await slip.getByRole('button', { name: 'Take 1 of 2' }).click();
  await expect(cleat(desk, 'Boardwalk piles as driven')).toContainText('in step');
  await expect(cleat(desk, 'Planting counts by plot')).toContainText('behind');

  // Nor does the desk, until the source changes again.
  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  await expect(needs).toContainText('every object is in step');
  await product.save(COUNTS, [setCell('Counts', 'D8', 105)]);
  await needs.getByRole('button', { name: 'Refresh Planting counts by plot' }).click();
  await expect(card).toContainText('2 in step');
});

test('take all, and a click on a change lights up its cell', async ({ product, desk }) => {
  await product.save(COUNTS, [setCell('Counts', 'D8', 104)]);
  await expect(desk.getByRole('region', { name: 'Needs you' })).toContainText(
    'behind: 4 cells changed',
  );
  await reportCard(desk).click();
  await changeSlip(desk)
    .getByRole('row', { name: /SC-04 Surviving/ })
    .getByRole('button')
    .click();
  const cell = placed(desk, 'Planting counts by plot').getByRole('cell', {
    name: '97',
    exact: true,
  });
  await expect(cell).toHaveClass(/flash/);
  await expect(cell).toBeInViewport();
  await changeSlip(desk).getByRole('button', { name: 'Take', exact: true }).click();
  await expect(header(desk)).toContainText('2 in step');
});

test('an inserted row reads as one inserted row', async ({ product, report }) => {
  await product.save(COUNTS, [
    { kind: 'insert row', sheet: 'Counts', row: 9, values: ['SC-13', 'Sea aster', 150, 120] },
  ]);
  await cleat(report, 'Planting counts by plot').click();
  const panel = report.getByRole('complementary', { name: 'Object Planting counts by plot' });
  await expect(panel).toContainText('1 row inserted');
  await panel.getByRole('button', { name: 'See the changes' }).click();
  await expect(changeSlip(report)).toContainText('Row inserted: SC-13 · Sea aster · 150 · 120');
});
