import type { AddressInfo } from 'node:net';
import { createServer, connect as dial, type Server, type Socket } from 'node:net';
import type { Tether } from '@tether/contract';
import { setCell } from '@tether/demo';
import {
  cleat,
  expect,
  expectAccessible,
  header,
  openReport,
  placed,
  test,
  unfold,
} from './fixtures.ts';

const COUNTS = 'monitoring/planting-counts.xlsx';

/** Stands between a browser and the server, and can fall silent on streams of events, as a network does in a sleep. */
class SilentWire {
  private readonly server: Server;
  private readonly streams = new Set<Socket>();
  private readonly all = new Set<Socket>();

  private constructor(to: number) {
    this.server = createServer((browser) => {
      const product = dial(to, '127.0.0.1');
      this.all.add(browser).add(product);
      browser.on('data', (data) => {
        if (data.includes('GET /api/events')) this.streams.add(product);
      });
      browser.pipe(product).pipe(browser);
      for (const end of [browser, product]) end.on('error', () => end.destroy());
    });
  }

  static async to(port: number): Promise<SilentWire> {
    const wire = new SilentWire(port);
    await new Promise<void>((resolve) => wire.server.listen(0, '127.0.0.1', resolve));
    return wire;
  }

  get address(): string {
    return `http://localhost:${(this.server.address() as AddressInfo).port}`;
  }

  /** The streams that are open now stay open, and nothing comes through them any more. */
  fallSilent(): number {
    for (const stream of this.streams) {
      stream.unpipe();
      stream.resume();
    }
    return this.streams.size;
  }

  close(): void {
    for (const end of this.all) end.destroy();
    this.server.close();
  }
}

test('after a sleep in which the stream of events died, the standings come without reloading', async ({
  product,
  browser,
}) => {
  const wire = await SilentWire.to(Number(new URL(product.address).port));
  const page = await (await browser.newContext()).newPage();
  await page.clock.install();
  await page.goto(wire.address);
  await page.getByRole('button', { name: 'Ines Fallow' }).click();
  await openReport(page);
  await expect(header(page)).toContainText('2 in step');
  expect(wire.fallSilent()).toBeGreaterThan(0);
  await product.save(COUNTS, [setCell('Counts', 'D8', 104)]);
  const report = page.url().split('/').at(-1);
  const standings = async () => {
    const path = `/api/documents/${report}/tethers`;
    const answer = await page.context().request.get(product.address + path);
    return ((await answer.json()) as Tether[]).map(({ standing }) => standing).sort();
  };
  await expect.poll(standings).toEqual(['behind', 'in step']);
  // Nobody told the page, and it cannot know.
  await expect(header(page)).toContainText('2 in step');
  await page.clock.fastForward('00:40');
  await expect(header(page)).toContainText('1 behind');
  await page.context().close();
  wire.close();
});

test('a source says when its objects refresh, and one of them says otherwise', async ({
  product,
  desk,
}) => {
  await desk.getByRole('link', { name: 'Sources' }).click();
  await desk.getByRole('button', { name: /planting-counts/ }).click();
  const section = desk.getByRole('region', { name: 'When its objects refresh' });
  await section.getByLabel('Refreshes').selectOption('automatic');
  await expect(section).toContainText('As soon as the source is saved');
  await expectAccessible(desk);

  await desk.getByRole('link', { name: 'Desk', exact: true }).click();
  await openReport(desk);
  await cleat(desk, 'Planting counts by plot').click();
  const panel = desk.getByRole('complementary', { name: /Planting counts/ });
  await unfold(panel, 'When it refreshes');
  await expect(panel.getByLabel('Refreshes')).toHaveValue('inherited');
  await product.save(COUNTS, [setCell('Counts', 'D8', 104)]);
  const counts = placed(desk, 'Planting counts by plot');
  await expect(counts.getByRole('cell', { name: '104', exact: true })).toBeVisible();

  await panel.getByLabel('Refreshes').selectOption('manual');
  await expect(panel).toContainText('Never by itself.');
  await product.save(COUNTS, [setCell('Counts', 'D8', 105)]);
  await expect(header(desk)).toContainText('1 behind');
  await expect(counts.getByRole('cell', { name: '104', exact: true })).toBeVisible();
});

test('a timetable that reaches its time refreshes while the report is open', async ({
  product,
  report,
}) => {
  await cleat(report, 'Planting counts by plot').click();
  const panel = report.getByRole('complementary', { name: /Planting counts/ });
  await unfold(panel, 'When it refreshes');
  await panel.getByLabel('Refreshes').selectOption('every');
  await panel.getByLabel('Every').fill('5');
  await panel.getByLabel('Every').press('Enter');
  await expect(panel).toContainText(/Next /);
  await product.save(COUNTS, [setCell('Counts', 'D8', 104)]);
  await expect(header(report)).toContainText('1 behind');
  // Its time has come. The next one is later than that, if perhaps by less than this story takes.
  const came = Date.now();
  await product.query(
    `update tethers set next_due = now() - interval '1 second' where next_due is not null`,
  );
  await expect(
    placed(report, 'Planting counts by plot').getByRole('cell', { name: '104', exact: true }),
  ).toBeVisible();
  await expect(header(report)).toContainText('2 in step');
  await expect(panel).toContainText('by timetable');
  const api = report.context().request;
  const id = report.url().split('/').at(-1);
  const tethers: Tether[] = await (
    await api.get(`${product.address}/api/documents/${id}/tethers`)
  ).json();
  const due = tethers.find(({ nextDue }) => nextDue !== null)!.nextDue!;
  expect(new Date(due).getTime()).toBeGreaterThan(came);
});
