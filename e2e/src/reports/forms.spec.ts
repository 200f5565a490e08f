import type { Page } from '@playwright/test';
import { setCell } from '@tether/demo';
import {
  changeSlip,
  choice,
  cleat,
  dragCells,
  expect,
  expectAccessible,
  header,
  openPlace,
  placed,
  reportCard,
  test,
  text,
  unfold,
} from '../fixtures.ts';

const panel = (page: Page) => page.getByRole('complementary');
const chart = (page: Page, name: string) => text(page).getByRole('img', { name });
const saved = (page: Page) => expect(header(page)).toContainText('Saved');

test('an object is turned into a chart and back without losing its tether', async ({
  product,
  report,
}) => {
  await cleat(report, 'Planting counts by plot').click();
  await choice(panel(report), 'Shown as', 'Chart').click();
  await expect(chart(report, 'Planting counts by plot')).toBeVisible();
  await expect(panel(report)).toContainText('The row of totals is not drawn.');
  await choice(panel(report), 'Drawn as', 'Bars').click();
  await expect(panel(report)).toContainText('Shares and amounts stand on one axis');
  await panel(report).getByLabel('Title').fill('Plots in autumn');
  await expectAccessible(report);
  await saved(report);

  await report.reload();
  await expect(chart(report, 'Planting counts by plot')).toBeVisible();
  await cleat(report, 'Planting counts by plot').click();
  await expect(panel(report).getByLabel('Title')).toHaveValue('Plots in autumn');
  await expect(choice(panel(report), 'Drawn as', 'Bars')).toBeChecked();

  // It follows its source as before.
  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 104)]);
  await expect(panel(report)).toContainText('behind');
  await panel(report).getByRole('button', { name: 'Refresh', exact: true }).click();
  await expect(header(report)).toContainText('2 in step');

  await choice(panel(report), 'Shown as', 'Table').click();
  await expect(placed(report, 'Planting counts by plot')).toContainText('104');
  await report.getByRole('button', { name: 'Undo' }).click();
  await expect(chart(report, 'Planting counts by plot')).toBeVisible();
});

test('a value stands in a sentence and follows its cell', async ({ product, report }) => {
  await text(report).getByText('Decking starts when').click();
  await report.keyboard.press('Control+End');
  await report.keyboard.type(' Surviving in SC-04: ');
  await expect(text(report)).toContainText('Surviving in SC-04:');
  const place = await openPlace(report);
  await expect(place.getByRole('application')).toContainText('SC-04');
  await dragCells(report, 'Counts', 'D8', 'D8');
  await place.getByRole('radio', { name: 'Value' }).click();
  await expect(place.getByTestId('preview')).toContainText('97');
  await place.getByLabel('Name', { exact: true }).fill('Survivors of SC-04');
  await place.getByRole('button', { name: 'Place it' }).click();
  const value = text(report).locator('[data-object="Survivors of SC-04"]');
  await expect(value).toHaveText('97');
  await panel(report).getByLabel('Words after').fill(' plants');
  await panel(report).getByLabel('Number format').selectOption('0.0');
  await expect(value).toHaveText('97.0 plants');
  // Its cleat takes no room, so that lines break where they break in print.
  const [whole, words] = await value.evaluate((element) =>
    [element.parentElement!, element].map((each) => each.getBoundingClientRect().width),
  );
  expect(whole).toBe(words);
  await saved(report);

  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 104)]);
  await expect(header(report)).toContainText('2 behind');
  await expect(value).toHaveText('97.0 plants');
  await header(report)
    .getByRole('button', { name: /Refresh/ })
    .click();
  await expect(value).toHaveText('104.0 plants');
  await report.reload();
  await expect(value).toHaveText('104.0 plants');

  // What was placed is what stands in the text, not a copy of it.
  const tethers = await report.evaluate(async () => {
    const id = location.pathname.split('/').at(-1);
    return (await (await fetch(`/api/documents/${id}/tethers`)).json()) as { placed: boolean }[];
  });
  expect(tethers.map(({ placed: isPlaced }) => isPlaced)).toEqual([true, true, true]);

  // Into a table of its own and back into a line.
  await text(report)
    .getByRole('button', { name: /^Survivors of SC-04/ })
    .click();
  await choice(panel(report), 'Shown as', 'Table').click();
  await expect(placed(report, 'Survivors of SC-04')).toContainText('104');
  await choice(panel(report), 'Shown as', 'Value').click();
  await expect(value).toHaveText('104.0 plants');
  await expect(header(report)).toContainText('3 in step');

  // The cell of another plot that comes to stand there is not taken for its own.
  await product.save('monitoring/planting-counts.xlsx', [
    { kind: 'insert row', sheet: 'Counts', row: 6, values: ['SC-13', 'Sea aster', 150, 120] },
  ]);
  await expect(header(report)).toContainText('2 behind');
  await header(report).getByRole('button', { name: 'See the changes' }).click();
  const changes = changeSlip(report).getByRole('table', { name: 'Changes in Survivors of SC-04' });
  await expect(changes).toContainText('These cells stand at “SC-03” instead of “SC-04”');
  await expect(changes.getByRole('row', { name: /SC-03 Surviving 104/ })).toBeVisible();
});

test('a tag leads to the source at its cells', async ({ report }) => {
  await cleat(report, 'Boardwalk piles as driven').click();
  await choice(panel(report), 'Shown as', 'Tag').click();
  const tag = text(report).getByRole('link', { name: /boardwalk-piles\.xlsx/ });
  await expect(tag).toContainText('Piles!A4:G15');
  await saved(report);
  await tag.click();
  await expect(report).toHaveURL(/\/sources\/.*cells=A4/);
  await expect(report.getByRole('application')).toContainText('Piles!A4:G15 taken');
});

test('cells without numbers say so instead of a chart', async ({ report }) => {
  const place = await openPlace(report);
  await place.getByRole('tab', { name: 'Notes' }).click();
  await place.getByRole('button', { name: /Take all filled cells/ }).click();
  await place.getByRole('radio', { name: 'Chart', exact: true }).click();
  await expect(place.getByTestId('preview')).toContainText(
    'There are no numbers in these cells to draw.',
  );
});

test('a document with every form opens from the desk, and who may only look can change none', async ({
  product,
  report,
  browser,
}) => {
  await cleat(report, 'Planting counts by plot').click();
  await choice(panel(report), 'Shown as', 'Chart').click();
  await cleat(report, 'Boardwalk piles as driven').click();
  await choice(panel(report), 'Shown as', 'Value').click();
  await saved(report);
  const odile = await product.window(browser, 'Odile Marram');
  await openReportOf(odile);
  await cleat(odile, 'Planting counts by plot').click();
  await expect(choice(panel(odile), 'Shown as', 'Table')).toBeDisabled();
  await odile.context().close();
});

async function openReportOf(page: Page): Promise<void> {
  await reportCard(page).click();
  await expect(chart(page, 'Planting counts by plot')).toBeVisible();
}

test('a table follows the look of the report where wanted, and keeps that through a refresh', async ({
  product,
  report,
}) => {
  const table = placed(report, 'Planting counts by plot');
  const heading = table.getByRole('columnheader', { name: 'Surviving' });
  await expect(heading).toHaveCSS('background-color', 'rgb(11, 79, 92)');
  await cleat(report, 'Planting counts by plot').click();
  await choice(panel(report), 'Look', 'of the document').click();
  await expect(heading).toHaveCSS('background-color', 'rgba(0, 0, 0, 0)');
  await expect(heading).toHaveCSS('font-family', /Source Serif/);
  await unfold(panel(report), 'More on its look');
  await expect(choice(panel(report), 'Column width', 'fit the page')).toBeChecked();
  await choice(panel(report), 'Font', 'source').click();
  await expect(heading).toHaveCSS('font-family', /Carlito/);
  // White letters of the dark header would be lost on white paper.
  await expect(heading).toHaveCSS('color', 'rgb(16, 36, 43)');
  await expect(choice(panel(report), 'Look', 'of the document')).not.toBeChecked();
  await expect(choice(panel(report), 'Look', 'of the source')).not.toBeChecked();
  await expectAccessible(report);
  await saved(report);

  await product.save('monitoring/planting-counts.xlsx', [setCell('Counts', 'D8', 104)]);
  await expect(panel(report)).toContainText('behind');
  await panel(report).getByRole('button', { name: 'Refresh', exact: true }).click();
  await expect(table).toContainText('104');
  await expect(heading).toHaveCSS('background-color', 'rgba(0, 0, 0, 0)');
  await report.reload();
  await expect(heading).toHaveCSS('background-color', 'rgba(0, 0, 0, 0)');
  await cleat(report, 'Planting counts by plot').click();
  await choice(panel(report), 'Look', 'of the source').click();
  await expect(heading).toHaveCSS('background-color', 'rgb(11, 79, 92)');
  await report.getByRole('button', { name: 'Undo' }).click();
  await expect(heading).toHaveCSS('background-color', 'rgba(0, 0, 0, 0)');
});

test('series and axes of a chart are chosen, and stay after a reload', async ({ report }) => {
  await cleat(report, 'Planting counts by plot').click();
  await choice(panel(report), 'Shown as', 'Chart').click();
  const figures = text(report).getByRole('table', { name: 'Figures of Planting counts by plot' });
  const heads = () => figures.getByRole('columnheader').allTextContents();
  await expect(figures).toBeAttached();
  expect(await heads()).toEqual(['Point', 'Planted', 'Surviving', 'Survival', 'Cover']);
  await panel(report).getByRole('button', { name: 'Series and points' }).click();
  const series = panel(report).getByRole('list', { name: 'Series' });
  await series.getByRole('button', { name: 'Cover: drawn' }).click();
  await series.getByRole('button', { name: 'Surviving: earlier' }).click();
  await expect.poll(heads).toEqual(['Point', 'Surviving', 'Planted', 'Survival']);
  await expect(
    series.getByRole('button', { name: 'Survival: by the second axis' }),
  ).toHaveAttribute('aria-pressed', 'true');
  await panel(report).getByLabel('Points named').selectOption({ label: 'by Species' });
  await expect(figures.getByRole('rowheader').first()).toHaveText('Common cordgrass');

  await panel(report).getByRole('button', { name: 'Axes' }).click();
  await panel(report).getByLabel('Values: title').fill('Plants');
  const greatest = panel(report).getByLabel('Greatest value').first();
  await greatest.fill('150');
  await greatest.press('Enter');
  await expect(panel(report)).toContainText('outside of its axis');
  await saved(report);
  await report.reload();
  await expect.poll(heads).toEqual(['Point', 'Surviving', 'Planted', 'Survival']);
  await cleat(report, 'Planting counts by plot').click();
  await unfold(panel(report), 'Axes');
  await unfold(panel(report), 'Series and points');
  await expect(panel(report).getByLabel('Values: title')).toHaveValue('Plants');
  await panel(report).getByRole('button', { name: 'As they are found in the cells' }).click();
  await expect.poll(heads).toEqual(['Point', 'Planted', 'Surviving', 'Survival', 'Cover']);
});

test('every way to draw a chart can be changed into every other', async ({ report }) => {
  const errors: string[] = [];
  report.on('pageerror', (error) => errors.push(error.message));
  await cleat(report, 'Planting counts by plot').click();
  await choice(panel(report), 'Shown as', 'Chart').click();
  const kinds = await panel(report)
    .getByRole('radiogroup', { name: 'Drawn as' })
    .getByRole('radio')
    .allInnerTexts();
  expect(kinds.length).toBeGreaterThan(6);
  const draw = async (kind: string) => {
    await choice(panel(report), 'Drawn as', kind).click();
    await expect(choice(panel(report), 'Drawn as', kind)).toBeChecked();
  };
  // A walk over all ordered pairs.
  for (const [at, first] of kinds.entries()) {
    for (const second of kinds.slice(at + 1)) {
      for (const kind of [first, second]) {
        await draw(kind);
        await expect(chart(report, 'Planting counts by plot')).toBeVisible();
      }
    }
    await draw(first);
  }
  await expect(text(report).getByRole('alert')).toHaveCount(0);
  await expect(placed(report, 'Boardwalk piles as driven')).toBeVisible();
  expect(errors).toEqual([]);
});

test('an object that cannot be drawn says so in its own box, and everything else stands', async ({
  product,
  desk,
}) => {
  // A state of figures that no reader makes: its merged cells are missing.
  let spoilt = '';
  await desk.route('**/api/snapshots/*', async (route) => {
    const response = await route.fetch();
    const snapshot = await response.json();
    if (snapshot.sheet === 'Counts') {
      spoilt = route.request().url();
      snapshot.merges = null;
    }
    await route.fulfill({ json: snapshot });
  });
  // What was fetched before is forgotten.
  await desk.reload();
  await desk.getByRole('link', { name: 'Autumn monitoring report' }).first().click();
  const fault = text(desk).getByRole('alert');
  await expect(fault).toContainText('This object could not be drawn here');
  expect(spoilt).not.toBe('');
  await expect(placed(desk, 'Boardwalk piles as driven').first()).toBeVisible();
  await desk.getByRole('link', { name: 'Ledger' }).click();
  await desk.unroute('**/api/snapshots/*');
  await desk.goto(product.address);
  await desk.getByRole('link', { name: 'Autumn monitoring report' }).first().click();
  await expect(placed(desk, 'Planting counts by plot')).toBeVisible();
});
