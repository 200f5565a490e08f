import { copyFile, mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, describe, expect, test } from '@jest/globals';
import type {
  Carried,
  CarrySeen,
  LogEntry,
  RelinkSeen,
  SourceCandidate,
  SourceFolder,
  Tether,
} from '@tether/contract';
import { formatArea } from '@tether/core';
import { saveAsColleague, setCell } from '@tether/demo';
import { sql } from 'drizzle-orm';
import exceljs from 'exceljs';
import { eventually, startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
let server: TestServer;
let ines: Awaited<ReturnType<TestServer['as']>>;

async function begin() {
  server = await startTestServer();
  ines = await server.as('ines');
}
afterEach(() => server?.stop());

const COUNTS = 'planting-counts.xlsx';
const at = (...parts: string[]) => join(server.sources, 'monitoring', ...parts);
const sources = async () =>
  ((await ines.get('/api/sources')).body as SourceFolder[]).flatMap((folder) => folder.sources);
const sourceAt = async (path: string) => (await sources()).find((each) => each.path === path);
const log = async (): Promise<LogEntry[]> => (await ines.get('/api/log')).body.entries;
const tethers = async (): Promise<Tether[]> => {
  const [{ id }] = (await ines.get('/api/documents')).body;
  return (await ines.get(`/api/documents/${id}/tethers`)).body;
};
const ofSource = async (id: string) => (await tethers()).filter(({ source }) => source.id === id);
/** Waits until a file is known as a source and what it holds is noted. */
async function known(path: string) {
  const source = await eventually(
    () => sourceAt(path),
    (each) => each?.state === 'present',
  );
  await server.keeper.idle();
  return source!;
}
async function gone(path: string) {
  return eventually(
    () => sourceAt(path),
    (each) => each === undefined || each.state === 'missing',
  );
}

describe('a file that went elsewhere as it was', () => {
  test('is followed, whatever it is called there', async () => {
    await begin();
    const before = (await sourceAt(COUNTS))!;
    const tied = (await ofSource(before.id)).length;
    expect(tied).toBeGreaterThan(0);
    await mkdir(at('autumn'));
    await rename(at(COUNTS), at('autumn', 'Counts of October.xlsx'));
    await eventually(
      () => sourceAt('autumn/Counts of October.xlsx'),
      (each) => each?.id === before.id && each.state === 'present',
    );
    await eventually(
      () => ofSource(before.id),
      (each) => each.length === tied && each.every(({ standing }) => standing === 'in step'),
    );
    expect(await sourceAt(COUNTS)).toBeUndefined();
    const [moved] = (await log()).filter(({ kind }) => kind === 'source moved');
    expect(moved!.summary).toBe(
      'From Monitoring/planting-counts.xlsx to Monitoring/autumn/Counts of October.xlsx: the file is the same byte for byte.',
    );
    // What is saved there now is seen.
    await saveAsColleague(at('autumn', 'Counts of October.xlsx'), [setCell('Counts', 'D8', 101)]);
    await eventually(
      () => ofSource(before.id),
      (each) => each.some(({ standing }) => standing !== 'in step'),
    );
  }, 60_000);

  test('is not, where somebody typed into the file that came: that is not lost', async () => {
    await begin();
    const before = (await sourceAt(COUNTS))!;
    await copyFile(at(COUNTS), at('copy.xlsx'));
    const copy = await known('copy.xlsx');
    const { hash } = (await ines.get(`/api/sources/${copy.id}/contents`)).body;
    const cells = [{ row: 8, column: 4, typed: '104', seen: null }];
    const writing = { decimal: '.', dates: 'day first' };
    const entered = { hash, sheet: 'Counts', cells, writing };
    await ines.put(`/api/sources/${copy.id}/entries`).send(entered).expect(200);
    await rm(at(COUNTS));
    await gone(COUNTS);
    await server.keeper.idle();
    expect((await sourceAt(COUNTS))!.id).toBe(before.id);
    const { entries } = (await ines.get(`/api/sources/${copy.id}/entries`)).body;
    expect(entries).toMatchObject([{ typed: '104' }]);
  }, 60_000);

  test('is not, where two came that are the same; both are offered', async () => {
    await begin();
    const before = (await sourceAt(COUNTS))!;
    await copyFile(at(COUNTS), at('one.xlsx'));
    await copyFile(at(COUNTS), at('two.xlsx'));
    await known('one.xlsx');
    await known('two.xlsx');
    await rm(at(COUNTS));
    await gone(COUNTS);
    await server.keeper.idle();
    expect((await sourceAt(COUNTS))!.id).toBe(before.id);
    const offered: SourceCandidate[] = (await ines.get(`/api/sources/${before.id}/candidates`))
      .body;
    expect(offered.slice(0, 2).map(({ path }) => path)).toEqual([
      'Monitoring/one.xlsx',
      'Monitoring/two.xlsx',
    ]);
    expect(offered[0]).toMatchObject({ isCertain: false });
    expect(offered[0]!.reasons).toContain('Another file is the same byte for byte.');
  }, 60_000);
});

describe('a file that went elsewhere and was changed', () => {
  /** The counts under another name, with two rows above and another figure. */
  async function changed(): Promise<void> {
    const book = new exceljs.Workbook();
    await book.xlsx.readFile(at(COUNTS));
    const sheet = book.getWorksheet('Counts')!;
    sheet.spliceRows(1, 0, [], []);
    sheet.getCell('D10').value = 101;
    sheet.name = 'Counts 2026';
    await book.xlsx.writeFile(at('final counts.xlsx'));
    await rm(at(COUNTS));
  }

  test('is offered with the reasons, and its objects are tied to it in one step that can be taken back', async () => {
    await begin();
    const before = (await sourceAt(COUNTS))!;
    await changed();
    const now = await known('final counts.xlsx');
    await gone(COUNTS);
    const [first]: SourceCandidate[] = (await ines.get(`/api/sources/${before.id}/candidates`))
      .body;
    expect(first).toMatchObject({ sourceId: now.id, path: 'Monitoring/final counts.xlsx' });
    expect(first!.reasons[0]).toMatch(/% of what it holds is the same\.$/);

    const seen: RelinkSeen[] = (await ines.get(`/api/sources/${before.id}/relink/${now.id}`)).body;
    const tied = await ofSource(before.id);
    expect(seen.map(({ id }) => id).sort()).toEqual(tied.map(({ id }) => id).sort());
    const table = seen.find(({ how }) => how === 'elsewhere')!;
    expect(table.place).toContain('Counts 2026');
    // The library that wrote it left the name pointing at a sheet that is not there.
    expect(table.reasons[0]).toBe('The name PlotCounts is not there: a block takes its place.');
    expect(table.reasons.join(' ')).toContain('It stands on the sheet');
    // The library that wrote it dropped nothing that is compared, but a figure is other.
    expect(table.summary).not.toBeNull();

    const objects = seen.flatMap(({ id, reach }) => (reach ? [{ id, reach }] : []));
    const done = await ines
      .post(`/api/sources/${before.id}/relink`)
      .send({ to: now.id, objects })
      .expect(200);
    expect(done.body).toEqual({ changed: objects.length, refused: [] });
    const after = await eventually(
      () => ofSource(now.id),
      (each) =>
        each.length === objects.length && each.every(({ standing }) => standing !== 'adrift'),
    );
    // What they show stays; what is other there they are behind by.
    expect(after.find(({ id }) => id === table.id)!.base).toBe(
      tied.find(({ id }) => id === table.id)!.base,
    );
    const [entry] = (await log()).filter(({ kind }) => kind === 'relinked');
    expect(entry).toMatchObject({ canTakeBack: true, source: 'Monitoring/final counts.xlsx' });
    await ines.post(`/api/log/${entry!.id}/take-back`).send({}).expect(200);
    await eventually(
      () => ofSource(before.id),
      (each) => each.length > 0,
    );
  }, 60_000);

  test('needs the right to change, and another source that is there', async () => {
    await begin();
    const own = (await sourceAt(COUNTS))!;
    const seen: RelinkSeen[] = (
      await ines.get(`/api/sources/${own.id}/relink/${(await sourceAt('tide-gauge.csv'))!.id}`)
    ).body;
    expect(seen.every(({ how }) => how === 'not found')).toBe(true);
    expect(seen[0]!.fault).not.toBeNull();
    const body = {
      to: own.folderId,
      objects: [{ id: seen[0]!.id, reach: { kind: 'name', name: 'x', sheet: null } }],
    };
    await ines.post(`/api/sources/${own.id}/relink`).send(body).expect(404);
    await ines.get(`/api/sources/${own.id}/relink/nowhere`).expect(404);
    const odile = await server.as('odile');
    await odile.post(`/api/sources/${own.id}/relink`).send(body).expect(403);
  }, 60_000);
});

describe('cells that stand elsewhere in their sheet', () => {
  const PLOTS = [
    ['Plot', 'Planted', 'Surviving'],
    ...Array.from({ length: 8 }, (_, at) => [`SC-${at + 1}`, 240 + at * 7, 97 + at * 11]),
  ];
  const csv = (rows: readonly (readonly (string | number)[])[]) =>
    `${rows.map((row) => row.join(',')).join('\n')}\n`;
  const WAITING = [[''], [''], ...PLOTS];

  /** An object that shows the plots as a fixed block of a text. */
  async function placed(): Promise<Tether> {
    await begin();
    await writeFile(at('plots.csv'), csv(PLOTS));
    const source = await known('plots.csv');
    const [{ id }] = (await ines.get('/api/documents')).body;
    const area = { top: 1, left: 1, bottom: 9, right: 3 };
    const reach = { kind: 'block', sheet: 'plots', area };
    const made = await ines
      .post(`/api/documents/${id}/tethers`)
      .send({ sourceId: source.id, reach, name: 'Plots' })
      .expect(201);
    return made.body;
  }
  const now = async (id: string) => (await tethers()).find((each) => each.id === id)!;
  const areaOf = ({ reach }: Tether) => (reach.kind === 'block' ? formatArea(reach.area) : null);

  test('are followed where nothing is lost, and what is new at them is what it is behind by', async () => {
    const { id } = await placed();
    const above = [['Planting'], [''], ...PLOTS];
    await writeFile(at('plots.csv'), csv(above));
    const moved = await eventually(
      () => now(id),
      (each) => areaOf(each) === 'A3:C11',
    );
    expect(moved).toMatchObject({ standing: 'in step', places: null });
    const [entry] = (await log()).filter(({ kind }) => kind === 'reach followed');
    expect(entry!.summary).toContain('From plots!A1:C9 to plots!A3:C11.');
    // A figure changes, and a row comes in above.
    const next = above.map((row) => (row[0] === 'SC-2' ? ['SC-2', 247, 5] : row));
    await writeFile(at('plots.csv'), csv([['Sallow Creek'], ...next]));
    const behind = await eventually(
      () => now(id),
      (each) => areaOf(each) === 'A4:C12',
    );
    expect(behind).toMatchObject({ standing: 'behind', summary: '1 cell changed' });
  }, 60_000);

  test('are not shown as right where two places look alike: it is said, and nothing is taken', async () => {
    const { id } = await placed();
    await ines.put(`/api/tethers/${id}/mode`).send({ mode: { kind: 'automatic' } });
    const base = (await now(id)).base;
    await writeFile(at('plots.csv'), csv([...WAITING, [''], [''], ...PLOTS]));
    const asked = await eventually(
      () => now(id),
      ({ standing }) => standing === 'reshaped',
    );
    expect(asked).toMatchObject({ base, pending: null });
    expect(areaOf(asked)).toBe('A1:C9');
    expect(asked.reason!.message).toBe('What it shows may stand at plots!A3:C11 now.');
    expect(asked.places!.map(({ where }) => where)).toEqual(['plots!A3:C11', 'plots!A14:C22']);
    // Somebody chooses the second one: it is taken from there.
    const [, second] = asked.places!;
    await ines.patch(`/api/tethers/${id}`).send({ reach: second!.reach }).expect(200);
    const chosen = await eventually(
      () => now(id),
      ({ standing }) => standing === 'in step',
    );
    expect(chosen).toMatchObject({ places: null, reason: null });
    expect(areaOf(chosen)).toBe('A14:C22');
  }, 60_000);

  test('stay where they are when somebody says so; then it is compared with what stands there', async () => {
    const { id } = await placed();
    await writeFile(at('plots.csv'), csv([...WAITING, [''], [''], ...PLOTS]));
    await eventually(
      () => now(id),
      ({ standing }) => standing === 'reshaped',
    );
    await ines.post(`/api/tethers/${id}/stays`).expect(200);
    const behind = await eventually(
      () => now(id),
      ({ standing }) => standing === 'behind',
    );
    expect(areaOf(behind)).toBe('A1:C9');
    // Nobody says so of one about which there is no doubt.
    await ines.post(`/api/tethers/${id}/stays`).expect(409);
  }, 60_000);

  test('of a text that is called otherwise now are known by its one sheet, a single cell too', async () => {
    const { id, source } = await placed();
    const [{ id: documentId }] = (await ines.get('/api/documents')).body;
    const cell = { top: 3, left: 2, bottom: 3, right: 2 };
    const one: Tether = (
      await ines
        .post(`/api/documents/${documentId}/tethers`)
        .send({
          sourceId: source.id,
          reach: { kind: 'block', sheet: 'plots', area: cell },
          name: 'One',
        })
        .expect(201)
    ).body;
    await rename(at('plots.csv'), at('plots 2026-10.csv'));
    await eventually(
      () => Promise.all([now(id), now(one.id)]),
      (both) =>
        both.every(
          ({ reach, standing }) =>
            reach.kind === 'block' && reach.sheet === 'plots 2026-10' && standing === 'in step',
        ),
    );
    // The next one, in which everything is other.
    await writeFile(
      at('plots 2026-11.csv'),
      csv(PLOTS.map((row) => row.map((_, nth) => `${nth} x`))),
    );
    const next = await known('plots 2026-11.csv');
    // As if both stood in the text.
    await server.db.execute(sql`update tethers set placed = true where id in (${id}, ${one.id})`);
    const seen: RelinkSeen[] = (await ines.get(`/api/sources/${source.id}/relink/${next.id}`)).body;
    expect(seen.map(({ how }) => how)).toEqual(['as it is', 'as it is']);
    expect(seen.map(({ place }) => place)).toContain("'plots 2026-11'!B3");
  }, 60_000);

  test('only figures change: it stays where it is', async () => {
    const { id } = await placed();
    await writeFile(
      at('plots.csv'),
      csv(PLOTS.map((row, nth) => (nth === 0 ? row : [row[0]!, 1, nth]))),
    );
    const behind = await eventually(
      () => now(id),
      ({ standing }) => standing === 'behind',
    );
    expect([areaOf(behind), behind.warnings]).toEqual(['A1:C9', []]);
  }, 60_000);
});

describe('a document carried forward', () => {
  test('is a copy tied to the files of the next period; the old one keeps what it shows', async () => {
    await begin();
    const q3 = 'Counts Q3 2026.xlsx';
    const q4 = 'Counts Q4 2026.xlsx';
    const own = (await sourceAt(COUNTS))!;
    await rename(at(COUNTS), at(q3));
    await eventually(
      () => sourceAt(q3),
      (each) => each?.id === own.id && each.state === 'present',
    );
    await copyFile(at(q3), at(q4));
    await saveAsColleague(at(q4), [setCell('Counts', 'D8', 111)]);
    const next = await known(q4);
    const [old] = (await ines.get('/api/documents')).body;
    const seen: CarrySeen = (await ines.get(`/api/documents/${old.id}/carry-forward`)).body;
    const mine = seen.sources.find(({ id }) => id === own.id)!;
    expect(mine.next).toEqual({ id: next.id, path: `Monitoring/${q4}` });
    expect(seen.sources.filter((each) => each.next !== null)).toHaveLength(1);

    const body = {
      name: 'Winter monitoring report',
      freezes: true,
      sources: [{ from: own.id, to: next.id }],
    };
    const carried: Carried = (
      await ines.post(`/api/documents/${old.id}/carry-forward`).send(body).expect(201)
    ).body;
    expect(carried).toMatchObject({ tied: mine.objects, left: [] });
    const fresh = await eventually(
      async () =>
        ((await ines.get(`/api/documents/${carried.documentId}/tethers`)).body as Tether[]).filter(
          ({ source }) => source.id === next.id,
        ),
      (each) => each.length === mine.objects && each.every(({ standing }) => standing === 'behind'),
    );
    expect(fresh[0]!.summary).toBe('4 cells changed');
    const before: Tether[] = (await ines.get(`/api/documents/${old.id}/tethers`)).body;
    expect(new Set(before.map(({ standing }) => standing))).toEqual(new Set(['frozen']));
    expect(before.some(({ source }) => source.id === own.id)).toBe(true);
    const odile = await server.as('odile');
    await odile.post(`/api/documents/${old.id}/carry-forward`).send(body).expect(403);
  }, 60_000);
});

describe('a source folder', () => {
  const folderNamed = async (name: string) =>
    ((await ines.get('/api/sources')).body as SourceFolder[]).find((each) => each.name === name)!;

  test('that was moved as a whole is said to lie elsewhere, once for all that is in it', async () => {
    await begin();
    const folder = await folderNamed('Monitoring');
    const before = await tethers();
    const there = join(server.sources, 'archive', 'monitoring 2026');
    await mkdir(join(server.sources, 'archive'));
    await rename(at(), there);
    await eventually(tethers, (all) => all.some(({ standing }) => standing === 'adrift'));
    const elsewhere = await ines
      .get(`/api/source-folders/${folder.id}/elsewhere`)
      .query({ path: there })
      .expect(200);
    expect(elsewhere.body).toMatchObject({ missing: [] });
    expect(elsewhere.body.there).toBe(elsewhere.body.tied);
    const wrong = await ines
      .get(`/api/source-folders/${folder.id}/elsewhere`)
      .query({ path: join(server.sources, 'works') });
    expect(wrong.body.fault.code).toBe('folder-place-taken');
    await ines.patch(`/api/source-folders/${folder.id}`).send({ path: there }).expect(200);
    const facts = (all: Tether[]) =>
      new Map(all.map(({ id, base, source }) => [id, { base, source }]));
    const back = await eventually(tethers, (all) =>
      all.every(({ standing }) => standing === 'in step'),
    );
    expect(facts(back)).toEqual(facts(before));
    const [moved] = (await log()).filter(({ kind }) => kind === 'folder moved');
    expect(moved!.summary).toBe(`Monitoring, from ${at()} to ${there}.`);
    // What is saved there is seen.
    await saveAsColleague(join(there, COUNTS), [setCell('Counts', 'D8', 101)]);
    await eventually(tethers, (all) => all.some(({ standing }) => standing === 'behind'));
  }, 60_000);

  test('follows files that were changed on their way where its rule says so, and no old copy', async () => {
    await begin();
    const folder = await folderNamed('Monitoring');
    const before = (await sourceAt(COUNTS))!;
    await ines.patch(`/api/source-folders/${folder.id}`).send({ followsCertain: true }).expect(200);
    // A copy that has been lying there for an hour.
    await mkdir(at('archive'));
    await copyFile(at(COUNTS), at('archive', 'counts.xlsx'));
    await saveAsColleague(at('archive', 'counts.xlsx'), [setCell('Counts', 'D8', 90)]);
    const old = await known('archive/counts.xlsx');
    await server.db.execute(
      sql`update sources set changed_at = changed_at - interval '1 hour' where id = ${old.id}`,
    );
    await rename(at(COUNTS), at('..', 'counts.xlsx'));
    await gone(COUNTS);
    await server.keeper.idle();
    expect((await sourceAt(COUNTS))!.state).toBe('missing');
    await rm(at('archive'), { recursive: true });
    await eventually(
      () => sourceAt('archive/counts.xlsx'),
      (each) => each?.state === 'missing',
    );
    await saveAsColleague(at('..', 'counts.xlsx'), [setCell('Counts', 'D9', 140)]);
    await copyFile(at('..', 'counts.xlsx'), at('Counts of spring.xlsx'));
    await eventually(
      () => sourceAt('Counts of spring.xlsx'),
      (each) => each?.id === before.id && each.state === 'present',
    );
    const [moved] = (await log()).filter(({ kind }) => kind === 'source moved');
    expect(moved!.summary).toMatch(
      /to Monitoring\/Counts of spring\.xlsx: it is certain which file it is now\. \d\d % of what it holds is the same\./,
    );
    await eventually(
      () => ofSource(before.id),
      (all) => all.every(({ standing }) => standing === 'behind'),
    );
  }, 60_000);
});
