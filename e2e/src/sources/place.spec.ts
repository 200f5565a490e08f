import { setCell } from '@tether/demo';
import {
  cleat,
  dragCells,
  expect,
  expectAccessible,
  header,
  holdBack,
  openPlace,
  placed,
  test,
  unfold,
} from '../fixtures.ts';

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

test('no cell moves away under the pointer while the widths of the sheet are on their way', async ({
  report,
}) => {
  // What tells the widths is asked for with the first row of all columns.
  const { letGo } = await holdBack(report, /\/cells\?.*reference=A1%3A[A-Z]+1$/);
  const place = await openPlace(report);
  const grid = place.getByRole('application');
  await expect(grid).toContainText('SC-04');
  await expect(grid.getByText('SC-04')).toBeHidden();
  await expect(grid).toHaveAttribute('aria-busy', 'true');
  await grid.click({ position: { x: 220, y: 150 } });
  await expect(place.getByLabel('Cells', { exact: true })).toHaveValue('');
  letGo();
  await expect(grid.getByText('SC-04')).toBeVisible();
  await dragCells(report, 'Counts', 'D8', 'D8');
  await expect(place.getByLabel('Cells', { exact: true })).toHaveValue('Counts!D8');
});

test('a source is found by a few letters of its name', async ({ report }) => {
  await header(report).getByRole('button', { name: 'Place' }).click();
  const place = report.getByRole('dialog');
  await place.getByLabel('Find a source').fill('works pile');
  await expect(place.getByRole('button', { name: /boardwalk-piles/ })).toHaveCount(2);
  await expect(place.getByRole('button', { name: /planting-counts/ })).toHaveCount(0);
  await place.getByLabel('Find a source').fill('nothing like it');
  await expect(place).toContainText('No file, sheet or header has that in its name.');
});

test('every reach can be chosen, with what it takes and what to know', async ({
  product,
  report,
}) => {
  const place = await openPlace(report);
  const preview = place.getByTestId('preview');
  const warnings = place.getByRole('list', { name: 'To know' });
  const choose = (name: string) => place.getByRole('radio', { name, exact: true }).click();

  await dragCells(report, 'Counts', 'A4', 'D7');
  await expect(warnings).toContainText('The data go on below it, in rows 8 to 17');
  await choose('Growing block');
  await expect(place).toContainText('A4:D17: 14 rows, 4 columns');
  await expect(warnings).toContainText('Row 17 is a total');
  await warnings.getByRole('button', { name: 'Take it too' }).click();
  await expect(place).toContainText('A4:G17: 14 rows, 7 columns');

  await choose('Picked columns');
  await expect(preview).toContainText('tick the columns');
  await place.getByRole('checkbox', { name: 'Plot' }).check();
  await place.getByRole('checkbox', { name: 'Cover' }).check();
  await expect(place).toContainText('14 rows, 2 columns');
  await expect(preview).not.toContainText('Species');

  await choose('Block');
  await dragCells(report, 'Counts', 'D17', 'D17');
  await expect(place.getByLabel('Name', { exact: true })).toHaveValue(
    'Counts: All plots, Surviving',
  );
  await expect(warnings).toContainText('The workbook calls it “PlantsSurviving”');
  await warnings.getByRole('button', { name: 'Take it by its name' }).click();
  await expect(place.getByRole('radio', { name: 'Name or table' })).toBeChecked();
  await expect(place.getByLabel('Name', { exact: true })).toHaveValue('PlantsSurviving');
  await place
    .getByRole('button', { name: /^PlotCounts/ })
    .last()
    .click();
  await expect(place.getByLabel('Name', { exact: true })).toHaveValue('PlotCounts');

  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'M40', 'check this')]);
  await choose('Whole sheet, trimmed');
  await expect(warnings).toContainText('M40 stands far from the data and is left out');
  await expect(place).toContainText('A1:G17: 17 rows, 7 columns');
  await place.getByLabel('Name', { exact: true }).fill('All of it');
  await place.getByRole('button', { name: 'Place it' }).click();
  await expect(placed(report, 'All of it')).toContainText('Planting counts, Sallow Creek');
});

test('a press on the button counts while the source is read anew, and while its preview comes', async ({
  product,
  report,
}) => {
  const place = await openPlace(report);
  const button = place.getByRole('button', { name: 'Place it' });
  await dragCells(report, 'Counts', 'A4', 'D7');
  await expect(place.getByTestId('preview')).toContainText('SC-03');

  // The source changes, and is read for the preview, between pressing the button and letting it go.
  const { asked, letGo } = await holdBack(report, /\/take$/);
  await button.hover();
  await report.mouse.down();
  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D5', 977)]);
  await asked;
  await report.mouse.up();
  letGo();
  await expect(placed(report, 'Counts: Plot, Species')).toContainText('977');

  await openPlace(report);
  const next = await holdBack(report, /\/take$/);
  await place.getByLabel('Cells', { exact: true }).fill('B4:C6');
  await next.asked;
  await report.keyboard.press('Enter');
  await expect(button).toBeDisabled();
  next.letGo();
  await expect(placed(report, 'Counts: Species')).toBeVisible();
});

test('a preview that was on its way when the source changed is not left standing', async ({
  product,
  report,
}) => {
  const place = await openPlace(report);
  const { asked, letGo } = await holdBack(report, /\/take$/);
  await place.getByLabel('Cells', { exact: true }).fill('A4:D9');
  await asked;
  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 977)]);
  letGo();
  await expect(place.getByTestId('preview')).toContainText('977');
});

test('a suggested name does not come between somebody and what they type', async ({ report }) => {
  const place = await openPlace(report);
  const name = place.getByLabel('Name', { exact: true });
  const { asked, letGo } = await holdBack(report, /\/take$/);
  await place.getByLabel('Cells', { exact: true }).fill('A4:D7');
  await asked;
  await name.focus();
  letGo();
  await expect(place.getByTestId('preview')).toContainText('SC-03');
  await expect(name).toHaveValue('');
  await report.keyboard.type('Alive');
  await expect(name).toHaveValue('Alive');
  await name.fill('');
  await expect(place.getByRole('button', { name: 'Place it' })).toBeDisabled();
});

test('what an object takes is changed from its panel', async ({ product, report }) => {
  await cleat(report, 'Planting counts by plot').click();
  const panel = report.getByRole('complementary');
  await unfold(panel, 'Where it comes from');
  await expect(panel).toContainText('Name or table.');
  await panel.getByRole('button', { name: 'Change what it takes' }).click();
  const place = report.getByRole('dialog', { name: 'What Planting counts by plot takes' });
  await place.getByRole('radio', { name: 'Growing block' }).click();
  await expect(place).toContainText('A4:G17: 14 rows');
  await place.getByRole('button', { name: 'Take this instead' }).click();
  await expect(panel).toContainText('Growing block.');
  await expect(panel).toContainText('Counts!A4:G4 and below');

  // A row under the last one now arrives, and nothing falls out at the bottom.
  await product.save('monitoring/planting-counts.xlsx', [
    { kind: 'insert row', sheet: 'Counts', row: 9, values: ['SC-13', 'Sea aster', 150, 120] },
  ]);
  await expect(panel).toContainText('1 row inserted');
  await expect(panel).not.toContainText('removed');
  await panel.getByRole('button', { name: 'Refresh', exact: true }).click();
  const table = placed(report, 'Planting counts by plot');
  await expect(table).toContainText('SC-13');
  await expect(table).toContainText('All plots');
});

test('a block of the sheet is offered as an outline to click', async ({ report }) => {
  const place = await openPlace(report);
  await place.getByRole('button', { name: 'Block A4:G17' }).click();
  await expect(place.getByLabel('Cells', { exact: true })).toHaveValue('Counts!A4:G17');
});

test('the sources show their sheets and where their cells are used', async ({ desk }) => {
  await desk.getByRole('link', { name: 'Sources' }).click();
  await desk
    .getByRole('region', { name: 'Monitoring' })
    .getByRole('button', { name: /planting-counts/ })
    .click();
  await expect(desk.getByRole('application')).toContainText('SC-12');
  const about = desk.getByRole('complementary', { name: 'About this source' });
  await expect(about).toContainText('Planting counts by plot');
  await about.getByRole('button', { name: 'PlotCounts' }).last().click();
  await desk.getByRole('tab', { name: 'Notes' }).click();
  await expect(desk.getByRole('application')).toContainText('Goose grazing');
  await desk.getByRole('tab', { name: 'Counts' }).click();
  await expectAccessible(desk);
  await desk
    .getByRole('application')
    .getByRole('button', { name: 'Autumn monitoring report' })
    .click();
  await expect(placed(desk, 'Planting counts by plot')).toBeVisible();
  await expect(desk.getByRole('complementary')).toContainText('planting-counts.xlsx');
});
