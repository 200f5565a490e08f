import { copyFile, mkdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, describe, expect, test } from '@jest/globals';
import type { LogEntry, RelinkSeen, SourceCandidate, SourceFolder, Tether } from '@tether/contract';
import { saveAsColleague, setCell } from '@tether/demo';
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
      to: own.id,
      objects: [{ id: seen[0]!.id, reach: { kind: 'name', name: 'x', sheet: null } }],
    };
    await ines.post(`/api/sources/${own.id}/relink`).send(body).expect(404);
    const odile = await server.as('odile');
    await odile.post(`/api/sources/${own.id}/relink`).send(body).expect(403);
  }, 60_000);
});
