import { copyFile, rename } from 'node:fs/promises';
import { join } from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { setCell } from '@tether/demo';
import {
  changeSlip,
  choice,
  cleat,
  dragCells,
  expect,
  header,
  openReport,
  Product,
  test,
  text,
  unfold,
} from './fixtures.ts';

const COUNTS = 'monitoring/planting-counts.xlsx';

async function picture(page: Page, name: string): Promise<void> {
  await page.evaluate(() => document.fonts.ready.then(() => undefined));
  await page.screenshot({ path: `docs/screenshots/${name}.png`, animations: 'disabled' });
}

/** Brings the panel to so many pixels below the head of what an object looks like. */
async function scrollPanel(panel: Locator, below: number): Promise<void> {
  const head = panel.getByRole('heading', { name: 'How it looks' });
  await head.evaluate((element, pixels) => {
    const scroller = element.closest('aside')!;
    scroller.scrollTop +=
      element.getBoundingClientRect().top - scroller.getBoundingClientRect().top - 12 + pixels;
  }, below);
}

test('a figure corrected where it stands', async ({ product, report }) => {
  const table = text(report).getByRole('table', { name: 'Planting counts by plot' });
  const panel = report.getByRole('complementary');
  await cleat(report, 'Planting counts by plot').click();
  await unfold(panel, 'Writing back');
  await unfold(panel, 'How it looks');
  await panel.getByRole('button', { name: 'How it looks' }).click();
  await panel.getByRole('button', { name: 'Unlock all cells' }).click();
  for (const [row, typed] of [
    [4, '104'],
    [5, '140'],
  ] as const) {
    await table.locator(`[data-cell="${row},3"]`).dblclick();
    await expect(report.getByRole('textbox', { name: /^Correction of/ })).toBeFocused();
    await report.keyboard.type(typed);
    await report.keyboard.press('Enter');
    await expect(table.locator(`[data-cell="${row},3"]`)).toHaveText(typed);
    await report.keyboard.press('Escape');
  }
  await product.save(COUNTS, [setCell('Counts', 'D9', 120)]);
  await expect(panel).toContainText('The source changed it too');
  await expect(panel.getByRole('button', { name: 'Write back' })).toBeVisible();
  await panel.getByRole('button', { name: 'Write back' }).scrollIntoViewIfNeeded();
  await picture(report, 'write-back');
});

test('pictures', async ({ product, desk }) => {
  await product.save(COUNTS, [setCell('Counts', 'D8', 104), setCell('Counts', 'D11', 58)]);
  await rename(
    join(product.sources, 'works/boardwalk-piles.xlsx'),
    join(product.sources, 'works/piles.away'),
  );
  const needs = desk.getByRole('region', { name: 'Needs you' });
  await expect(needs.getByRole('listitem')).toHaveCount(2);

  await openReport(desk);
  await expect(changeSlip(desk)).toContainText('SC-04');
  await cleat(desk, 'Planting counts by plot').click();
  await desk.locator('[data-scroll]').evaluate((element) => {
    element.scrollTop = 390;
  });
  await picture(desk, 'workbench-behind');

  await changeSlip(desk).getByRole('button', { name: 'Take', exact: true }).click();
  await changeSlip(desk).getByRole('button', { name: 'Close the change slip' }).click();
  const panel = desk.getByRole('complementary');
  const toPlace = async (top: number, panelTop: number) => {
    await desk.locator('[data-scroll]').evaluate((element, to) => {
      element.scrollTop = to;
    }, top);
    await scrollPanel(panel, panelTop);
  };
  await choice(panel, 'Look', 'of the document').click();
  await choice(panel, 'Shown as', 'Chart').click();
  await expect(desk.getByRole('img', { name: 'Planting counts by plot' })).toBeVisible();
  await toPlace(390, 60);
  await choice(panel, 'Shown as', 'Table').click();
  await choice(panel, 'Look', 'of the source').click();
  await cleat(desk, 'Boardwalk piles as driven').click();
  await picture(desk, 'workbench-adrift');
  await rename(
    join(product.sources, 'works/piles.away'),
    join(product.sources, 'works/boardwalk-piles.xlsx'),
  );
  await expect(header(desk)).toContainText('2 in step');

  await header(desk).getByRole('button', { name: 'Place' }).click();
  const place = desk.getByRole('dialog');
  await place
    .getByRole('region', { name: 'Works' })
    .getByRole('button', { name: /boardwalk-piles/ })
    .click();
  await expect(place.getByRole('application')).toContainText('P-05');
  await dragCells(desk, 'Piles', 'A4', 'E14');
  await expect(place.getByTestId('preview')).toContainText('P-10');
  await picture(desk, 'place');
  await desk.keyboard.press('Escape');

  await desk.getByRole('link', { name: 'Sources' }).click();
  await desk
    .getByRole('region', { name: 'Monitoring' })
    .getByRole('button', { name: /planting-counts/ })
    .click();
  await expect(desk.getByRole('complementary')).toContainText('Planting counts by plot');
  await expect(desk.getByRole('application')).toContainText('SC-12');
  // A figure and a formula wait to be saved.
  const counts = desk.getByRole('application');
  await counts.locator('[data-at="D8"]').click();
  await desk.keyboard.type('120');
  await desk.keyboard.press('Enter');
  await desk.keyboard.type('=D8+26');
  await desk.keyboard.press('Enter');
  await expect(counts.locator('[data-at="D9"]')).toHaveText('146');
  await expect(desk.getByRole('region', { name: 'Waiting to be saved' })).toContainText('=D8+26');
  await picture(desk, 'sources');
  await desk.getByRole('button', { name: 'Let all mine go' }).click();

  await expect(desk.getByRole('img', { name: /^Note/ })).toBeVisible();
  await desk
    .getByRole('complementary')
    .getByRole('button', { name: 'Planted and surviving' })
    .click();
  await expect(desk.getByRole('complementary').getByRole('img')).toBeVisible();
  await desk.getByRole('application').evaluate((element) => {
    element.scrollLeft = 470;
  });
  await expect(desk.getByRole('application').getByRole('img', { name: /^Chart/ })).toBeVisible();
  await picture(desk, 'sources-chart');

  await desk
    .getByRole('region', { name: 'Monitoring' })
    .getByRole('button', { name: /tide-gauge/ })
    .click();
  await expect(desk.getByLabel('Fields end at')).toBeVisible();
  await desk.getByLabel('Find a source').fill('surv');
  await expect(desk.getByRole('button', { name: 'Surviving on Counts' })).toBeVisible();
  await picture(desk, 'sources-text');
  await desk.getByLabel('Find a source').fill('');

  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  await openReport(desk);
  const give = async (object: string, form: string, as: string, words: string) => {
    await cleat(desk, object).click();
    await choice(panel, 'Shown as', form).click();
    await choice(panel, 'Caption', as).click();
    await desk.keyboard.type(words);
  };
  await give(
    'Boardwalk piles as driven',
    'Facsimile',
    'figure',
    'Piles as driven, from the works file',
  );
  await give('Planting counts by plot', 'Table', 'table', 'Plants set and surviving in October');
  await choice(panel, 'Look', 'of the document').click();
  await desk.getByRole('cell', { name: 'SC-07', exact: true }).click();
  const bar = desk.getByRole('group', { name: /^Look of/ });
  await bar.getByRole('button', { name: 'Its row' }).click();
  await bar.getByRole('button', { name: 'Bold' }).click();
  await bar.getByRole('button', { name: 'Fill: as it was' }).click();
  await desk.getByRole('button', { name: 'Fill: Sand' }).click();
  await toPlace(390, 0);
  await expect(header(desk)).toContainText('Saved');
  await header(desk).getByRole('link', { name: 'Print' }).click();
  await expect(desk.getByText(/^\d+ pages?$/)).toBeVisible();
  await desk.locator('[data-print-ready]').evaluate((element) => {
    element.scrollTop = 640;
  });
  await picture(desk, 'print');

  await desk.getByRole('link', { name: 'Log' }).click();
  await desk.getByRole('button', { name: 'Change slip' }).first().click();
  await expect(desk.getByRole('table')).toContainText('SC-04');
  await picture(desk, 'log');
});

test('pictures of the whole demo', async ({ browser }) => {
  const product = await Product.start('whole');
  const page = await product.window(browser, 'Ines Fallow');
  const needs = page.getByRole('region', { name: 'Needs you' });
  await product.save(COUNTS, [setCell('Counts', 'D8', 104), setCell('Counts', 'D11', 58)]);
  await expect(needs.getByRole('listitem').first()).toBeVisible();
  await expect(page.locator('.page-paper [data-mark]').first()).toBeAttached();
  await expect(page.locator('[data-pending]')).toHaveCount(0);
  await picture(page, 'desk');
  await product.save(COUNTS, [setCell('Counts', 'D8', 97), setCell('Counts', 'D11', 61)]);
  await expect(needs).toContainText('Nothing to do');

  const open = (name: RegExp) =>
    page.getByRole('region', { name: 'Documents' }).getByRole('link', { name }).first().click();
  await open(/Boardwalk sheet/);
  await page.locator('[data-mark="P-03"] path').first().click();
  await unfold(page.getByRole('complementary'), 'Its rows as marks');
  await picture(page, 'drawing');
  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  await open(/Funders/);
  await page.getByRole('button', { name: 'Slide 4', exact: true }).click();
  await expect(page.locator('canvas').first()).toBeVisible();
  await expect(page.locator('[data-pending]')).toHaveCount(0);
  await picture(page, 'slides');
  await page.getByRole('link', { name: 'Present' }).click();
  await page.goto(`${page.url()}?speaker`);
  await expect(page.getByRole('status').filter({ hasText: 'Slide 1' })).toBeVisible();
  await page.keyboard.press('PageDown');
  await expect(page.getByRole('status').filter({ hasText: 'Slide 2' })).toBeVisible();
  await expect(page.locator('canvas').first()).toBeVisible();
  await expect(page.locator('[data-pending], .animate-pulse')).toHaveCount(0);
  await picture(page, 'presenting');
  await page.goto(product.address);
  await openReport(page);
  const tam = await product.window(browser, 'Tam Reedsby');
  await openReport(tam);
  await text(tam).getByText('All plots were counted').click();
  await tam.keyboard.press('Home');
  await tam.keyboard.press('Shift+End');
  await expect(text(page).locator('.caret')).toBeVisible();
  await picture(page, 'writing-together');
  await tam.context().close();
  const scroller = page.locator('[data-scroll]');
  await header(page).getByRole('button', { name: 'Alongside' }).click();
  await expect(page.getByRole('application')).toContainText('SC-12');
  await product.save(
    COUNTS,
    [5, 6, 8, 9, 11, 14].map((row) => setCell('Counts', `D${row}`, 60 + 9 * row)),
  );
  await expect(header(page)).toContainText('behind');
  await scroller.evaluate((element) => {
    element.scrollTop = 480;
  });
  await expect(page.locator('[data-cord][data-standing=behind]').first()).toBeAttached();
  await expect(page.getByRole('img', { name: 'Planted and surviving' })).toBeVisible();
  await picture(page, 'alongside');
  await page.getByRole('button', { name: 'Close alongside' }).click();

  await cleat(page, 'Visitors by month').click();
  const panel = page.getByRole('complementary');
  await expect(panel).toContainText('A season of 12 steps');
  await scroller.evaluate((element) => {
    element.scrollTop = 2330;
  });
  await scrollPanel(panel, 60);
  await expect(page.getByRole('img', { name: 'Visitors by month' })).toBeVisible();
  await picture(page, 'forecast');

  // The history of an object, with two refreshes by different roads.
  await cleat(page, 'Planting counts by plot').click();
  await header(page)
    .getByRole('button', { name: /^Refresh \d/ })
    .click();
  await expect(header(page)).toContainText('9 in step');
  await unfold(panel, 'When it refreshes');
  await panel.getByLabel('Refreshes').selectOption('automatic');
  await product.save(COUNTS, [setCell('Counts', 'D8', 140)]);
  await expect(panel).toContainText('automatically');
  await unfold(panel, 'What it showed before');
  await panel.getByRole('button', { name: 'All 3 states' }).click();
  const history = page.getByRole('dialog', { name: /States of/ });
  await history.getByRole('button', { name: /placed/ }).click();
  await expect(history.getByRole('row', { name: /SC-04 Surviving/ })).toBeVisible();
  await picture(page, 'history');
  await page.keyboard.press('Escape');

  await page.getByRole('link', { name: 'Ledger' }).click();
  await page.getByLabel('Grouped by').selectOption('source');
  await page.getByLabel('Choose Plants surviving').first().check();
  await page.getByLabel('Choose Planted and surviving').first().check();
  await expect(page.getByText('2 chosen')).toBeVisible();
  await picture(page, 'ledger');

  // What its objects would take from the file of the next season.
  const spring = 'monitoring/counts of spring.xlsx';
  await copyFile(join(product.sources, COUNTS), join(product.sources, spring));
  await product.save(spring, [setCell('Counts', 'D8', 71), setCell('Counts', 'C17', 2400)]);
  await page.getByRole('link', { name: 'Sources', exact: true }).click();
  await expect(page.getByRole('button', { name: /counts of spring/ })).toBeVisible();
  await page.getByRole('button', { name: /planting-counts/ }).click();
  await page.getByRole('button', { name: 'Tie them to another file …' }).click();
  const box = page.getByRole('dialog');
  await box.getByLabel('Tie them to').selectOption({ label: 'Monitoring/counts of spring.xlsx' });
  await expect(box.getByRole('button', { name: /^Tie \d+ objects$/ })).toBeVisible();
  await picture(page, 'relinking');
  await page.context().close();
  await product.stop();
});
