import { rename } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { setCell } from '@tether/demo';
import {
  changeSlip,
  cleat,
  expect,
  expectAccessible,
  header,
  openReport,
  placed,
  test,
  unfold,
} from './fixtures.ts';

const COUNTS = 'Planting counts by plot';
const COUNTS_FILE = 'monitoring/planting-counts.xlsx';
const needs = (page: Page) => page.getByRole('region', { name: 'Needs you' });

test('whatever needs somebody is dealt with by one press from the desk', async ({
  product,
  desk,
}) => {
  // Adrift: looked for again.
  const file = join(product.sources, COUNTS_FILE);
  await rename(file, `${file}.away`);
  await expect(needs(desk)).toContainText('is not there any more');
  await desk.getByRole('button', { name: `Look again for ${COUNTS}` }).click();
  await expect(needs(desk)).toContainText('is not there any more');
  await rename(`${file}.away`, file);
  await expect(needs(desk)).toContainText('Nothing to do: every object is in step');

  // Behind in a held document: released, then refreshed.
  await openReport(desk);
  await header(desk).getByRole('button', { name: 'Hold' }).click();
  await product.save(COUNTS_FILE, [setCell('Counts', 'D8', 104)]);
  await expect(header(desk)).toContainText('1 behind');
  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  await expectAccessible(desk);
  await needs(desk).getByRole('button', { name: 'Release' }).click();
  await needs(desk)
    .getByRole('button', { name: `Refresh ${COUNTS}` })
    .click();
  await expect(needs(desk)).toContainText('Nothing to do: every object is in step');

  // Waiting: its changes are shown where it stands.
  await product.query(`update documents set mode = '{"kind": "automatic"}'`);
  await product.save(COUNTS_FILE, [setCell('Counts', 'D4', 'Alive')]);
  await expect(needs(desk)).toContainText('The header “Surviving” is gone.');
  await desk.getByRole('link', { name: `Look at the changes of ${COUNTS}` }).click();
  await expect(changeSlip(desk)).toContainText('Alive');
});

test('a report opens at its object, however long its page takes to be there', async ({
  product,
  desk,
}) => {
  // A page that is made a moment after another was shown is not shown before that was seen, and the shortest timers are
  // over meanwhile. Here they are over whenever something that was made is put into the page.
  await desk.addInitScript(() => {
    const { setTimeout } = window;
    const shortest: (() => void)[] = [];
    window.setTimeout = ((run: () => void, after?: number, ...rest: unknown[]) =>
      after === 1 ? shortest.push(run) : setTimeout(run, after, ...rest)) as typeof setTimeout;
    for (const put of ['appendChild', 'insertBefore'] as const) {
      const own = Node.prototype[put] as (...args: unknown[]) => Node;
      Node.prototype[put] = function (this: Node, ...args: unknown[]) {
        if (this.isConnected) for (const run of shortest.splice(0)) run();
        return own.apply(this, args);
      } as never;
    }
  });
  await product.save(COUNTS_FILE, [setCell('Counts', 'D8', 104)]);
  await desk.reload();
  await needs(desk).getByRole('link', { name: COUNTS }).first().click();
  await expect(placed(desk, COUNTS)).toContainText('1,815');
  await expect(desk.getByRole('complementary', { name: `Object ${COUNTS}` })).toBeVisible();
  await header(desk).getByRole('button', { name: 'Refresh' }).click();
  await expect(placed(desk, COUNTS)).toContainText('1,822');
});

test('a page of which a part could not be fetched says so, and is loaded again by one press', async ({
  desk,
}) => {
  await desk.route('**/assets/Ledger-*.js', (route) => route.abort());
  await desk.getByRole('link', { name: 'Ledger', exact: true }).click();
  await expect(desk.getByRole('heading', { name: 'This page stopped working' })).toBeVisible();
  await expect(desk.getByRole('main')).toContainText('dynamically imported module');
  await expectAccessible(desk);
  await desk.unroute('**/assets/Ledger-*.js');
  await desk.getByRole('button', { name: 'Load the page again' }).click();
  await expect(desk.getByRole('heading', { name: 'Ledger' })).toBeVisible();
});

test('thousands of needs are there at once, and come as one goes down', async ({
  product,
  desk,
}) => {
  await product.query(`
    insert into tethers (document_id, source_id, name, reach, base, placed, standing, reason)
    select t.document_id, t.source_id, 'Object ' || n, t.reach, t.base, true, 'adrift', '{"code":"source-missing","message":"It is gone.","hint":"Put it back."}'
    from (select * from tethers order by id limit 1) t, generate_series(1, 10000) n`);
  await desk.reload();
  await expect(needs(desk)).toContainText('10,000 objects');
  await expect(needs(desk).getByRole('listitem')).toHaveCount(100);
  await needs(desk).getByRole('button', { name: 'More' }).scrollIntoViewIfNeeded();
  await expect(needs(desk).getByRole('listitem')).not.toHaveCount(100);
  await expectAccessible(desk);
});

test('an idle screen says when the database is away, and when the server is', async ({
  product,
  desk,
}) => {
  // Something that was told shows that its stream of events stands.
  await product.save(COUNTS_FILE, [setCell('Counts', 'D8', 104)]);
  await expect(needs(desk)).toContainText('behind');
  await expect(desk.getByText('The server has lost its database')).toHaveCount(0);
  await product.setDatabase(false);
  await expect(desk.getByText('The server has lost its database, trying again')).toBeVisible();
  await product.setDatabase(true);
  await expect(desk.getByText('The server has lost its database')).toHaveCount(0);
  await needs(desk)
    .getByRole('button', { name: `Refresh ${COUNTS}` })
    .click();
  await expect(needs(desk)).toContainText('Nothing to do: every object is in step');
});

test('what is left or kept is seen everywhere, with its date, until somebody lets it follow again', async ({
  product,
  report,
}) => {
  await product.save(COUNTS_FILE, [setCell('Counts', 'D8', 104)]);
  await expect(header(report)).toContainText('1 behind');
  await header(report).getByRole('button', { name: 'See the changes' }).click();
  await expect(changeSlip(report)).toContainText('104');
  await changeSlip(report).getByRole('button', { name: 'Leave' }).click();
  await expect(changeSlip(report)).toHaveCount(0);
  await expect(cleat(report, COUNTS)).toContainText('behind, left');
  await cleat(report, COUNTS).click();
  const panel = report.getByRole('complementary');
  await expect(panel).toContainText(/Left by Ines Fallow \d+ \w+ \d{4}, \d\d:\d\d:\d\d/);
  await expectAccessible(report);
  await report.getByRole('link', { name: 'Ledger' }).click();
  await expect(report.getByRole('table', { name: 'Ledger' })).toContainText('behind, left');
  await report.goBack();
  await cleat(report, COUNTS).click();
  await panel.getByRole('button', { name: 'Follow its source again' }).click();
  await expect(cleat(report, COUNTS)).toHaveText('behind');

  await panel.getByRole('button', { name: 'Refresh', exact: true }).click();
  await expect(cleat(report, COUNTS)).toHaveText('in step');
  await unfold(panel, 'What it showed before');
  await panel.getByRole('button', { name: 'All 2 states' }).click();
  const states = report.getByRole('dialog', { name: `States of ${COUNTS}` });
  // States of the same minute are told apart.
  await expect(states.getByRole('list', { name: 'States' })).toContainText(/\d\d:\d\d:\d\d/);
  await states.getByRole('list', { name: 'States' }).getByRole('button').last().click();
  await states.getByRole('button', { name: 'Go back to this state' }).click();
  await expect(cleat(report, COUNTS)).toContainText('behind on purpose');
  await expect(panel).toContainText(/Behind on purpose: it shows its state of \d+ \w+ \d{4}/);
  // The source passes through what is shown: it is kept all the same.
  await product.save(COUNTS_FILE, [setCell('Counts', 'D8', 97)]);
  await expect(cleat(report, COUNTS)).toContainText('in step, kept on purpose');
  await panel.getByRole('button', { name: 'Follow its source again' }).click();
  await expect(cleat(report, COUNTS)).toHaveText('in step');
});

test('what was done to many is told step by step, and taken back as one from the log', async ({
  product,
  desk,
}) => {
  await product.query(`
    insert into tethers (document_id, source_id, name, reach, base, placed)
    select t.document_id, t.source_id, 'Object ' || n, t.reach, t.base, true
    from (select * from tethers order by id limit 1) t, generate_series(1, 170) n`);
  await desk.getByRole('link', { name: 'Ledger' }).click();
  await expect(desk.getByText('172 objects')).toBeVisible();
  await desk.getByRole('checkbox', { name: 'Choose the rows that are loaded' }).click();
  const acts = desk.getByRole('toolbar', { name: 'The chosen objects' });
  const all = acts.getByRole('button', { name: /Choose all/ });
  if (await all.isVisible()) await all.click();
  await acts.getByRole('button', { name: 'Freeze', exact: true }).click();
  await expect(desk.getByText('172 objects frozen.')).toBeVisible();
  await desk.getByRole('link', { name: 'Log' }).click();
  await desk.getByRole('button', { name: 'Take back all 172' }).first().click();
  await expect(desk.getByText(/\d+ of 172 …/).first()).toBeVisible();
  // One after the other, each a step of its own.
  await expect(desk.getByText('172 taken back').first()).toBeVisible({ timeout: 60_000 });
  await expectAccessible(desk);

  // Further down nothing is missing, whatever comes meanwhile.
  await desk.getByRole('button', { name: 'Earlier' }).click();
  const lines = desk.getByRole('listitem');
  await expect.poll(() => lines.count()).toBeGreaterThan(90);
  const before = await lines.count();
  await product.query(
    `insert into log_entries (kind, summary) select 'waits', 'Entry ' || n from generate_series(1, 40) n`,
  );
  // The last of them is told to the screen: a name that was changed.
  const api = `${product.address}/api/documents`;
  const [{ id }] = await (await desk.request.get(api)).json();
  await desk.request.patch(`${api}/${id}`, { data: { name: 'Renamed meanwhile' } });
  await expect(desk.getByText('to “Renamed meanwhile”')).toBeVisible();
  await expect(lines).toHaveCount(before + 41);
});
