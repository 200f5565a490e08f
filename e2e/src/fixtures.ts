import { execFileSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { cp, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { type Browser, test as base, expect, type Locator, type Page } from '@playwright/test';
import type { DocumentCard, DocumentDetail, SourceFolder, Tether } from '@tether/contract';
import type { Area } from '@tether/core';
import { type ColleagueEdit, DEMO_PASSWORD, type SavingHabit, saveAsColleague } from '@tether/demo';
import { type Form, isInline } from '@tether/documents';
import pg from 'pg';
import { Host } from './host.ts';

type DemoSize = 'short' | 'whole';

/** The people of the demo, and the names by which they sign in. */
const SIGN_IN_NAMES = { 'Ines Fallow': 'ines', 'Tam Reedsby': 'tam', 'Odile Marram': 'odile' };
type PersonName = keyof typeof SIGN_IN_NAMES;

/** A demo that was loaded once in this process, to be copied. */
interface LoadedDemo {
  database: string;
  sources: string;
}
const loadedDemos = new Map<DemoSize, Promise<LoadedDemo>>();
let databases = 0;

/** Makes a database, as a copy of another where one is named; gives its address. */
async function createDatabase(template: string | null): Promise<string> {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('These tests need a database: run them with npm test.');
  const name = `e2e_${process.pid}_${Date.now()}_${databases++}`;
  await inDatabase(admin, `create database ${name}${template ? ` template ${template}` : ''}`);
  const url = new URL(admin);
  url.pathname = name;
  return url.href;
}

async function inDatabase(url: string, query: string, values: unknown[] = []): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(query, values);
  await client.end();
}

/** Files of a demo that were not read for the search yet. */
async function unreadSources(url: string): Promise<number> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<{ unread: number }>(
    'select count(*)::integer as unread from sources where noted_hash is null or noted_hash is distinct from hash',
  );
  await client.end();
  return rows[0]!.unread;
}

/** A running product of a test's own: database, sources and server. */
export class Product {
  private constructor(
    private readonly databaseUrl: string,
    /** Where its source folders lie. */
    readonly sources: string,
    private readonly host: Host,
  ) {}

  /** With a short report, or the whole demo: a copy of what was loaded once. */
  static async start(demo: DemoSize = 'short'): Promise<Product> {
    const host = Host.ofThisProcess();
    let loaded = loadedDemos.get(demo);
    if (!loaded) {
      loaded = Product.load(host, demo);
      loadedDemos.set(demo, loaded);
    }
    const from = await loaded;
    const url = await createDatabase(from.database);
    const sources = await mkdtemp(join(tmpdir(), 'tether-e2e-'));
    await cp(from.sources, sources, { recursive: true });
    await inDatabase(url, 'update source_folders set root = replace(root, $1, $2)', [
      from.sources,
      sources,
    ]);
    const product = new Product(url, sources, host);
    await product.serve();
    return product;
  }

  /** Loads the demo into a database and a folder that others are copied from. */
  private static async load(host: Host, demo: DemoSize): Promise<LoadedDemo> {
    const url = await createDatabase(null);
    const sources = await mkdtemp(join(tmpdir(), 'tether-e2e-demo-'));
    process.once('exit', () => rmSync(sources, { recursive: true, force: true }));
    const product = new Product(url, sources, host);
    await product.serve(demo);
    // A file that goes before it was read for the first time could not be told from others.
    await expect.poll(() => unreadSources(url), { timeout: 60_000 }).toBe(0);
    await host.stop();
    return { database: new URL(url).pathname.slice(1), sources };
  }

  private serve(demo: DemoSize = 'short'): Promise<void> {
    const { databaseUrl, sources } = this;
    return this.host.serve({ databaseUrl, sources, office: `${sources}-office`, demo });
  }

  get address(): string {
    return `http://localhost:${this.host.port}`;
  }

  /** What the server said until now. */
  get said(): string {
    return this.host.said;
  }

  /** Stops the server, also its process, and starts it again on the same port and data. */
  async restart(): Promise<void> {
    await this.host.end();
    await this.serve();
  }

  /** Puts data into the database that would take too long by hand. */
  query(text: string, values: unknown[] = []): Promise<void> {
    return inDatabase(this.databaseUrl, text, values);
  }

  /** Takes the database away from the server, or gives it back. */
  async setDatabase(isThere: boolean): Promise<void> {
    const name = new URL(this.databaseUrl).pathname.slice(1);
    const admin = process.env.TEST_DATABASE_URL!;
    await inDatabase(admin, `alter database ${name} allow_connections ${isThere}`);
    if (isThere) return;
    await inDatabase(
      admin,
      'select pg_terminate_backend(pid) from pg_stat_activity where datname = $1',
      [name],
    );
  }

  /** A colleague changes a source and saves it. */
  save(path: string, edits: ColleagueEdit[], habit?: SavingHabit): Promise<void> {
    return saveAsColleague(join(this.sources, path), edits, habit);
  }

  /**
   * A window of its own with a person signed in, on the desk or with a document open. Signing in by hand is a story of its
   * own: here it is asked of the server.
   */
  async window(browser: Browser, person: PersonName, document?: RegExp): Promise<Page> {
    const context = await browser.newContext();
    const { request } = context;
    const data = { signInName: SIGN_IN_NAMES[person], password: DEMO_PASSWORD };
    const signedIn = await request.post(`${this.address}/api/sign-in`, { data });
    expect(signedIn.ok()).toBe(true);
    const page = await context.newPage();
    if (!document) {
      await page.goto(this.address);
      await expect(page.getByRole('heading', { name: 'Needs you' })).toBeVisible();
      return page;
    }
    const cards = await (await request.get(`${this.address}/api/documents`)).json();
    const card = (cards as DocumentCard[]).find(({ name }) => document.test(name))!;
    await page.goto(`${this.address}/documents/${card.id}`);
    return page;
  }

  async stop(): Promise<void> {
    await this.host.stop();
    await rm(this.sources, { recursive: true, force: true });
    await rm(`${this.sources}-office`, { recursive: true, force: true });
  }
}

export const test = base.extend<{ product: Product; desk: Page; report: Page }>({
  // biome-ignore lint/correctness/noEmptyPattern: Playwright reads which fixtures are needed from the pattern
  product: async ({}, use, info) => {
    const product = await Product.start();
    await use(product);
    if (info.status !== info.expectedStatus) {
      await writeFile(info.outputPath('server.log'), product.said);
    }
    await product.stop();
  },
  /** The desk of the programme officer. */
  desk: async ({ product, browser }, use) => {
    const page = await product.window(browser, 'Ines Fallow');
    await use(page);
    await leave(page);
  },
  /** The demo report, opened by the programme officer. */
  report: async ({ product, browser }, use) => {
    const page = await product.window(browser, 'Ines Fallow', /^Autumn monitoring report/);
    await expectReport(page);
    await use(page);
    await leave(page);
  },
});

/** Closes a window. What a story keeps from it or fails on purpose may still be on its way: that fails no story any more. */
async function leave(page: Page): Promise<void> {
  await page.unrouteAll({ behavior: 'ignoreErrors' });
  await page.context().close();
}

export { expect, type Page };

/** From the desk into the demo report. */
export async function openReport(page: Page): Promise<void> {
  await reportCard(page).click();
  await expectReport(page);
}

async function expectReport(page: Page): Promise<void> {
  await expect(text(page)).toContainText('Sallow Creek');
  await expect(placed(page, 'Planting counts by plot')).toBeVisible();
}

/** The demo report among the documents of the desk: other pages list links to it as well. */
export function reportCard(page: Page): Locator {
  return page
    .getByRole('region', { name: 'Documents' })
    .getByRole('link', { name: /Autumn monitoring report/ });
}

/** One of the choices that a panel shows side by side, such as a form or a look. */
export function choice(panel: Locator, group: string, option: string): Locator {
  return panel
    .getByRole('radiogroup', { name: group, exact: true })
    .getByRole('radio', { name: option, exact: true });
}

/** Unfolds a section of the panel, and does nothing to one that is unfolded. */
export async function unfold(panel: Locator, title: string): Promise<void> {
  const head = panel.getByRole('button', { name: new RegExp(`^${title}`) });
  if ((await head.getAttribute('aria-expanded')) === 'false') await head.click();
}

/** The text of the open report. */
export function text(page: Page) {
  return page.getByRole('textbox', { name: /^Text of/ });
}

/** A placed table in the text. */
export function placed(page: Page, name: string) {
  return text(page).getByRole('table', { name });
}

/** Keeps answers of an address from the page: `asked` tells that something was asked there, `letGo` lets them on. */
export async function holdBack(page: Page, address: RegExp) {
  let letGo = () => {};
  const held = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  await page.route(address, async (route) => {
    const response = await route.fetch();
    await held;
    await route.fulfill({ response });
  });
  return { asked: page.waitForRequest(address), letGo };
}

/** The cleat of a placed object. */
export function cleat(page: Page, name: string) {
  return text(page).getByRole('button', { name: new RegExp(`^${name}: `) });
}

/** The header of the open document. */
export function header(page: Page) {
  return page.getByRole('region', { name: 'Document' });
}

/** The strip with the changes. */
export function changeSlip(page: Page) {
  return page.getByRole('region', { name: 'Change slip' });
}

/** Fails when the page has what axe calls a violation of WCAG 2.2 A or AA, or a heading that leaves out a level. */
export async function expectAccessible(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page })
    .options({ rules: { 'heading-order': { enabled: true } } })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  const told = violations.map(
    ({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`,
  );
  expect(told).toEqual([]);
}

/** Drags from one cell of the sheet grid to another; rows and columns count from 1, in view at the start. */
export async function dragCells(
  page: Page,
  sheet: string,
  from: string,
  to: string,
): Promise<void> {
  const grid = page.getByRole('application', { name: `Cells of ${sheet}` });
  const [start, end] = [await centreOf(grid, from), await centreOf(grid, to)];
  await page.mouse.move(start.x, start.y);
  await page.mouse.down();
  await page.mouse.move((start.x + end.x) / 2, (start.y + end.y) / 2);
  await page.mouse.move(end.x, end.y);
  await page.mouse.up();
}

async function centreOf(grid: ReturnType<Page['getByRole']>, cell: string) {
  const [, letters, row] = /^([A-Z]+)(\d+)$/.exec(cell)!;
  const header = grid.locator('[data-column]').filter({ hasText: new RegExp(`^${letters}$`) });
  const line = grid.locator('[data-row]').filter({ hasText: new RegExp(`^${row}$`) });
  // Cells have their place once the sizes of the sheet are known.
  await expect(header).toBeVisible();
  const [across, down] = [(await header.boundingBox())!, (await line.boundingBox())!];
  return { x: across.x + across.width / 2, y: down.y + down.height / 2 };
}

/** Opens Place and in it a source, by its folder and a part of its name. */
export async function openPlace(report: Page, folder = 'Monitoring', file = /planting-counts/) {
  await header(report).getByRole('button', { name: 'Place' }).click();
  const place = report.getByRole('dialog', { name: 'Place' });
  await place.getByRole('region', { name: folder }).getByRole('button', { name: file }).click();
  await expect(place.getByRole('application')).toBeVisible();
  return place;
}

/** The file that a page ready for print is saved as. */
export async function printedFile(page: Page): Promise<string> {
  const coming = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as PDF' }).click();
  return (await coming).path();
}

/** The file that pages ready for print are saved as, one by one: an archive where there are several. */
export async function savedPages(page: Page, as: 'SVG' | 'PNG', dots?: string): Promise<string> {
  await page.getByRole('button', { name: 'Save pages as …' }).click();
  await page.getByRole('radio', { name: as }).click();
  if (dots) await page.getByLabel('Dots').selectOption(dots);
  const coming = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  return (await coming).path();
}

/** What one of poppler's programs says of a printed file. */
export function poppler(program: string, ...options: string[]): string {
  return execFileSync(program, options, { encoding: 'utf8' });
}

/** An object to be placed by the interface for programs: cells of a source, in a form. */
export interface WantedObject {
  name: string;
  /** Of the source, below its folder. */
  path: string;
  sheet: string;
  area: Area;
  form?: Form;
}

/** Makes a report in which objects stand, each below a heading with its name; gives its id. */
export async function reportWith(
  page: Page,
  product: Product,
  name: string,
  objects: readonly WantedObject[],
): Promise<string> {
  const api = page.context().request;
  const at = (path: string) => `${product.address}/api${path}`;
  const sourceIds = new Map<string, string>();
  for (const path of new Set(objects.map((each) => each.path))) {
    const find = async () => {
      const folders = (await (await api.get(at('/sources'))).json()) as SourceFolder[];
      const all = folders.flatMap(({ sources }) => sources);
      const found = all.find((each) => each.path === path && each.state === 'present');
      if (found) sourceIds.set(path, found.id);
      return found !== undefined;
    };
    await expect.poll(find).toBe(true);
  }
  const made = await api.post(at('/documents'), { data: { name } });
  const { id, version } = (await made.json()) as DocumentDetail;
  const content: object[] = [];
  for (const { name: title, path, sheet, area, form = 'table' } of objects) {
    const placed = await api.post(at(`/documents/${id}/tethers`), {
      data: {
        sourceId: sourceIds.get(path),
        reach: { kind: 'block', sheet, area },
        name: title,
        form,
      },
    });
    expect(placed.ok()).toBe(true);
    const tether = (await placed.json()) as Tether;
    const attrs = { tetherId: tether.id, copyOf: null, form };
    content.push({
      type: 'heading',
      attrs: { level: 2 },
      content: [{ type: 'text', text: title }],
    });
    content.push(
      isInline(form)
        ? { type: 'paragraph', content: [{ type: 'placedInline', attrs }] }
        : { type: 'placedObject', attrs },
    );
  }
  content.push({ type: 'paragraph' });
  const saved = await api.put(at(`/documents/${id}/content`), {
    data: { version, content: { type: 'doc', content } },
  });
  expect(saved.ok()).toBe(true);
  return id;
}
