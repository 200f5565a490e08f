import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { DocumentDetail, Tether } from '@tether/contract';
import { setCell } from '@tether/demo';
import {
  changeSlip,
  cleat,
  expect,
  expectAccessible,
  header,
  openReport,
  placed,
  reportWith,
  test,
  unfold,
} from './fixtures.ts';

const COUNTS = 'monitoring/planting-counts.xlsx';
const block = (top: number, left: number, bottom: number, right: number) => ({
  top,
  left,
  bottom,
  right,
});

test('twenty objects, six sources: three changed, one held, one automatic', async ({
  product,
  desk,
}) => {
  const api = desk.context().request;
  await copyFile(
    join(product.sources, COUNTS),
    join(product.sources, 'monitoring/spring-counts.xlsx'),
  );
  // Two reports with nine objects each out of six sources, beside the demo report with two.
  const parts = [
    { path: 'planting-counts.xlsx', sheet: 'Counts', area: block(4, 1, 17, 7), name: 'Counts' },
    {
      path: 'planting-counts.xlsx',
      sheet: 'Counts',
      area: block(4, 1, 10, 4),
      name: 'First plots',
    },
    { path: 'planting-counts.xlsx', sheet: 'Counts', area: block(17, 1, 17, 7), name: 'All plots' },
    { path: 'boardwalk-piles.xlsx', sheet: 'Piles', area: block(4, 1, 15, 7), name: 'Piles' },
    { path: 'boardwalk-piles.xlsx', sheet: 'Piles', area: block(4, 1, 8, 5), name: 'First piles' },
    { path: 'grant-budget.ods', sheet: 'Budget', area: block(4, 1, 11, 5), name: 'Budget' },
    {
      path: 'visitor-counts.csv',
      sheet: 'visitor-counts',
      area: block(1, 1, 12, 2),
      name: 'Visitors',
    },
    { path: 'tide-gauge.csv', sheet: 'tide-gauge', area: block(1, 1, 6, 2), name: 'Tides' },
    { path: 'spring-counts.xlsx', sheet: 'Counts', area: block(4, 1, 9, 4), name: 'Spring' },
  ];
  const held = await reportWith(desk, product, 'Funders’ summary', parts);
  const automatic = await reportWith(desk, product, 'Board paper', parts);
  await api.patch(`${product.address}/api/documents/${automatic}`, {
    data: { mode: { kind: 'automatic' } },
  });

  // The ledger has all twenty of them.
  await desk.getByRole('link', { name: 'Ledger' }).click();
  const ledger = desk.getByRole('table', { name: 'Ledger' });
  await expect(desk.getByText('20 objects')).toBeVisible();
  await expectAccessible(desk);

  // One document is held, from its header.
  await desk.goto(`${product.address}/documents/${held}`);
  await header(desk).getByRole('button', { name: 'Hold' }).click();
  await expect(desk.getByText('Held by Ines Fallow since just now')).toBeVisible();

  // Three sources change.
  await product.save(COUNTS, [setCell('Counts', 'D8', 104)]);
  await product.save('works/boardwalk-piles.xlsx', [setCell('Piles', 'E5', 2.5)]);
  await product.save('monitoring/spring-counts.xlsx', [setCell('Counts', 'D6', 150)]);

  // The held document shows what it showed, and says how many are behind.
  await expect(header(desk)).toContainText('6 behind');
  await expect(header(desk).getByRole('button', { name: /^Refresh/ })).toBeDisabled();
  await expect(placed(desk, 'Counts').getByRole('cell', { name: '97', exact: true })).toBeVisible();

  // The automatic one took everything by itself.
  await desk.goto(`${product.address}/documents/${automatic}`);
  await expect(header(desk)).toContainText('9 in step');
  await expect(
    placed(desk, 'Counts').getByRole('cell', { name: '104', exact: true }),
  ).toBeVisible();

  // What stays is in the ledger, and in the log by whom or by itself.
  await desk.getByRole('link', { name: 'Ledger' }).click();
  await desk.getByLabel('Standing').selectOption('behind');
  await expect(desk.getByText('8 objects')).toBeVisible();
  await desk.getByLabel('Grouped by').selectOption('document');
  await expect(ledger.getByText('Funders’ summary 6')).toBeVisible();
  await desk.getByRole('link', { name: 'Log' }).click();
  await desk.getByLabel('By', { exact: true }).selectOption('nobody');
  await expect(desk.getByText('was refreshed automatically')).toHaveCount(6);
  await expectAccessible(desk);

  // Released, the held document asks like any other.
  await desk.goto(`${product.address}/documents/${held}`);
  await header(desk).getByRole('button', { name: 'Release' }).click();
  await header(desk).getByRole('button', { name: 'Refresh 6' }).click();
  await expect(header(desk)).toContainText('9 in step');
});

test('a mode is set in the panel, and an automatic change is marked until it was looked at', async ({
  product,
  report,
}) => {
  await cleat(report, 'Planting counts by plot').click();
  const panel = report.getByRole('complementary', { name: /Planting counts/ });
  await unfold(panel, 'When it refreshes');
  await panel.getByLabel('Refreshes').selectOption('automatic');
  await expect(panel).toContainText('As soon as the source is saved');
  await product.save(COUNTS, [setCell('Counts', 'D8', 104)]);
  const cell = placed(report, 'Planting counts by plot').getByRole('cell', { name: '104' });
  await expect(cell).toHaveClass(/fresh/);
  await expect(panel).toContainText('Since you last looked: 4 cells changed');
  await expect(panel).toContainText('automatically');

  // The marks are for those who work on it: they are printed when that is wished.
  await header(report).getByRole('link', { name: 'Print' }).click();
  await expect(report.getByText(/^\d+ pages?$/)).toBeVisible();
  await expect(cell).toHaveCSS('box-shadow', 'none');
  await report.getByRole('checkbox', { name: /Mark cells that changed/ }).click();
  await expect(cell).not.toHaveCSS('box-shadow', 'none');
  await report.emulateMedia({ media: 'print' });
  await expect(cell).not.toHaveCSS('box-shadow', 'none');
  await report.emulateMedia({ media: null });
  await expectAccessible(report);
  await report.getByRole('link', { name: 'Back to the document' }).click();
  await cleat(report, 'Planting counts by plot').click();
  await panel.getByRole('button', { name: 'I have looked' }).click();
  await expect(cell).not.toHaveClass(/fresh/);

  await panel.getByLabel('Refreshes').selectOption('at');
  await panel.getByLabel('At', { exact: true }).fill('06:45');
  await expect(panel).toContainText(/Next on .*06:45/);
  await expectAccessible(report);
});

test('a harmful automatic change waits and says why, on the desk and in the document', async ({
  product,
  report,
}) => {
  await cleat(report, 'Planting counts by plot').click();
  const panel = report.getByRole('complementary', { name: /Planting counts/ });
  await unfold(panel, 'When it refreshes');
  await panel.getByLabel('Refreshes').selectOption('automatic');
  await expect(panel).toContainText('As soon as the source is saved');
  await product.save(COUNTS, [setCell('Counts', 'D4', 'Alive')]);
  await expect(panel).toContainText('The header “Surviving” is gone.');
  await report.getByRole('link', { name: 'Desk', exact: true }).click();
  const needs = report.getByRole('region', { name: 'Needs you' });
  await expect(needs).toContainText('Waiting for a decision: The header “Surviving” is gone.');
  await needs.getByRole('link', { name: 'Look at the changes of Planting counts by plot' }).click();
  await changeSlip(report).getByRole('button', { name: 'Take', exact: true }).click();
  await expect(cleat(report, 'Planting counts by plot')).toContainText('in step');
});

test('one cell of a change is taken and the rest left behind', async ({ product, desk }) => {
  await product.save(COUNTS, [setCell('Counts', 'D8', 104), setCell('Counts', 'D10', 140)]);
  await expect(desk.getByRole('region', { name: 'Needs you' })).toContainText('behind');
  await openReport(desk);
  const slip = changeSlip(desk);
  await slip.getByRole('button', { name: 'Choose' }).click();
  await slip.getByRole('checkbox', { name: 'Take Surviving of SC-06' }).uncheck();
  await expectAccessible(desk);
  await slip.getByRole('button', { name: 'Take what is ticked' }).click();
  const table = placed(desk, 'Planting counts by plot');
  await expect(table.getByRole('cell', { name: '104', exact: true })).toBeVisible();
  await expect(table.getByRole('cell', { name: '140', exact: true })).toHaveCount(0);
  await expect(cleat(desk, 'Planting counts by plot')).toContainText('behind');
});

test('an earlier state is looked at, compared and gone back to; the log takes a step back', async ({
  product,
  report,
}) => {
  await product.save(COUNTS, [setCell('Counts', 'D8', 104)]);
  await header(report).getByRole('button', { name: 'Refresh 1' }).click();
  await cleat(report, 'Planting counts by plot').click();
  const panel = report.getByRole('complementary', { name: /Planting counts/ });
  await unfold(panel, 'What it showed before');
  await panel.getByRole('button', { name: 'All 2 states' }).click();
  const history = report.getByRole('dialog', { name: /States of/ });
  await history.getByRole('button', { name: /placed/ }).click();
  await expect(history.getByRole('row', { name: /SC-04 Surviving 97 → 104/ })).toBeVisible();
  await expectAccessible(report);
  await history.getByRole('button', { name: 'Go back to this state' }).click();
  await expect(panel).toContainText('Behind on purpose');
  const table = placed(report, 'Planting counts by plot');
  await expect(table.getByRole('cell', { name: '97', exact: true })).toBeVisible();
  await expect(header(report)).toContainText('1 behind');

  // Going back is a step like any other: it is taken back as well.
  await report.getByRole('link', { name: 'Log' }).click();
  const entry = report
    .getByRole('listitem')
    .filter({ hasText: 'went back to an earlier state of' });
  await entry.getByRole('button', { name: 'Take back' }).click();
  await expect(entry).toContainText('taken back');
  await report.getByRole('link', { name: 'Desk', exact: true }).click();
  await openReport(report);
  await expect(table.getByRole('cell', { name: '104', exact: true })).toBeVisible();
});

test('ten thousand rows: the ledger scrolls through them, and many are changed at once', async ({
  product,
  desk,
}) => {
  const api = desk.context().request;
  const documents = (await (
    await api.get(`${product.address}/api/documents`)
  ).json()) as DocumentDetail[];
  const [tether] = (await (
    await api.get(`${product.address}/api/documents/${documents[0]!.id}/tethers`)
  ).json()) as Tether[];
  await product.query(
    `insert into tethers (document_id, source_id, name, form, reach, base, placed)
     select document_id, source_id, 'Copy ' || lpad(g::text, 5, '0'), form, reach, base, true
     from tethers, generate_series(1, 10000) g where id = $1`,
    [tether!.id],
  );
  await desk.getByRole('link', { name: 'Ledger' }).click();
  await expect(desk.getByText('10,002 objects')).toBeVisible();
  const ledger = desk.getByRole('table', { name: 'Ledger' });
  await desk.getByRole('columnheader', { name: 'Object' }).getByRole('button').click();
  await expect(ledger.getByRole('row').nth(2)).toContainText('Copy 00001');
  const rows = ledger.getByRole('rowgroup');
  await rows.evaluate((element) => element.scrollTo(0, element.scrollHeight / 2));
  await expect(ledger.getByText('Copy 05000')).toBeVisible();
  // Only what is seen is there.
  expect(await ledger.getByRole('row').count()).toBeLessThan(60);
  await desk.getByLabel('Words in name').fill('Copy 0999');
  await expect(desk.getByText('11 objects')).toBeVisible();
  await desk.getByLabel('Choose the rows that are loaded').check();
  await desk.getByRole('button', { name: 'When they refresh' }).click();
  const box = desk.getByRole('dialog', { name: 'When 11 objects refresh' });
  await box.getByLabel('Refreshes').selectOption('manual');
  await box.getByRole('button', { name: 'Set it' }).click();
  await expect(desk.getByText('11 objects given another mode.')).toBeVisible();
  await expect(ledger.getByText('its own')).toHaveCount(11);

  // The question is kept as a view, and found again.
  await desk.getByRole('button', { name: 'Keep this view' }).click();
  await desk.getByLabel('Name of the view').fill('Last copies');
  await desk.getByRole('button', { name: 'Keep it' }).click();
  await desk.getByLabel('View', { exact: true }).selectOption('none');
  await expect(desk.getByText('10,002 objects')).toBeVisible();
  await desk.getByLabel('View', { exact: true }).selectOption('Last copies');
  await expect(desk.getByText('11 objects', { exact: true })).toBeVisible();
});
