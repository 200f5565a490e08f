import { chmod, mkdir, readFile, rename, rm, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { LogPage, RefreshResponse, SourceFolder, Tether } from '@tether/contract';
import type { ChangeSlip } from '@tether/core';
import { saveAsColleague, setCell } from '@tether/demo';
import { strToU8, zipSync } from 'fflate';
import { eventually, startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
let server: TestServer;
let ines: Awaited<ReturnType<TestServer['as']>>;
let documentId: string;
const counts = () => join(server.sources, 'monitoring/planting-counts.xlsx');

beforeAll(async () => {
  server = await startTestServer();
  ines = await server.as('ines');
  documentId = (await ines.get('/api/documents')).body[0].id;
}, 60_000);
afterAll(() => server?.stop());

async function tethers(): Promise<Tether[]> {
  return (await ines.get(`/api/documents/${documentId}/tethers`)).body;
}
async function named(name: string): Promise<Tether> {
  return (await tethers()).find((tether) => tether.name === name)!;
}
const folderNamed = async (name: string): Promise<SourceFolder> =>
  (await ines.get('/api/sources')).body.find((folder: SourceFolder) => folder.name === name);
const countsTether = () => named('Planting counts by plot');
const standing = (wanted: Tether['standing']) =>
  eventually(countsTether, (tether) => tether.standing === wanted);
async function refresh(list: { id: string; seen: string | null }[]): Promise<RefreshResponse> {
  return (await ines.post('/api/tethers/refresh').send({ tethers: list }).expect(200)).body;
}
async function log(): Promise<LogPage['entries']> {
  return (await ines.get('/api/log')).body.entries;
}

describe('a saved source', () => {
  test('puts its objects behind with a change slip, and a refresh takes exactly that', async () => {
    expect((await countsTether()).standing).toBe('in step');
    await saveAsColleague(counts(), [setCell('Counts', 'D8', 104)]);
    const behind = await standing('behind');
    expect(behind.summary).toBe('4 cells changed');
    const slip: ChangeSlip = (await ines.get(`/api/tethers/${behind.id}/slip`)).body;
    expect(slip.rows[0]!.cells[0]).toMatchObject({
      header: 'Surviving',
      before: { value: 97 },
      after: { value: 104 },
      difference: '+7',
    });

    expect(await refresh([{ id: behind.id, seen: behind.pending }])).toEqual({
      refreshed: [behind.id],
      refused: [],
    });
    const after = await countsTether();
    expect(after).toMatchObject({
      standing: 'in step',
      base: behind.pending,
      pending: null,
      refreshedBy: 'Ines Fallow',
    });
    const [entry] = await log();
    expect(entry).toMatchObject({
      kind: 'refreshed',
      person: 'Ines Fallow',
      hasSlip: true,
      summary: '4 cells changed',
    });
    expect((await ines.get(`/api/log/${entry!.id}/slip`)).body).toEqual(slip);
  });

  test('written over in place is followed as well', async () => {
    await saveAsColleague(counts(), [setCell('Counts', 'D9', 133)], 'in place');
    const behind = await standing('behind');
    await refresh([{ id: behind.id, seen: null }]);
    expect((await countsTether()).standing).toBe('in step');
  });

  test('that goes back to what it was puts its objects in step again', async () => {
    const before = await readFile(counts());
    await saveAsColleague(counts(), [setCell('Counts', 'D9', 1)]);
    await standing('behind');
    await writeFile(counts(), before);
    expect((await standing('in step')).pending).toBeNull();
  });

  test('that changes outside the reach leaves its objects in step', async () => {
    await saveAsColleague(counts(), [setCell('Notes', 'B4', 'Another note')]);
    const hash = () => ines.get('/api/sources').then(() => server.keeper.idle());
    await hash();
    await eventually(
      () => folderNamed('Monitoring'),
      (folder) => folder.sources[0]!.state === 'present',
    );
    expect((await countsTether()).standing).toBe('in step');
  });

  test('is read once, however many objects show it', async () => {
    const { source } = await countsTether();
    const area = { top: 4, left: 1, bottom: 17, right: 4 };
    for (const name of ['One', 'Two', 'Three']) {
      await ines
        .post(`/api/documents/${documentId}/tethers`)
        .send({ sourceId: source.id, reach: { kind: 'block', sheet: 'Counts', area }, name })
        .expect(201);
    }
    await server.keeper.idle();
    const before = server.reader.count;
    await saveAsColleague(counts(), [setCell('Counts', 'D10', 142)]);
    await eventually(
      tethers,
      (list) => list.filter((each) => each.standing === 'behind').length === 4,
    );
    await server.keeper.idle();
    // Once for all its objects, and once to note by what it is searched.
    expect(server.reader.count - before).toBe(2);
    const all = (await tethers()).filter(({ pending }) => pending !== null);
    await refresh(all.map(({ id, pending }) => ({ id, seen: pending })));
  });
});

describe('a refresh', () => {
  test('is refused when the source changed after the person looked', async () => {
    await saveAsColleague(counts(), [setCell('Counts', 'D11', 62)]);
    const seen = await standing('behind');
    await saveAsColleague(counts(), [setCell('Counts', 'D11', 63)]);
    // The newer save is noticed by the refresh itself, whether or not the watcher has told of it yet.
    const result = await refresh([{ id: seen.id, seen: seen.pending }]);
    expect(result).toMatchObject({
      refreshed: [],
      refused: [{ fault: { code: 'slip-out-of-date' } }],
    });
    const now = await countsTether();
    expect(now.base).toBe(seen.base);
    expect((await refresh([{ id: now.id, seen: now.pending }])).refreshed).toEqual([now.id]);
  });

  test('of an object in step says that there is nothing to take', async () => {
    const { id } = await countsTether();
    const result = await refresh([{ id, seen: null }]);
    expect(result.refused).toMatchObject([{ id, fault: { code: 'nothing-to-refresh' } }]);
  });

  test('taken by two people at once happens once', async () => {
    await saveAsColleague(counts(), [setCell('Counts', 'D12', 90)]);
    const { id, pending } = await standing('behind');
    const tam = await server.as('tam');
    const ask = { tethers: [{ id, seen: pending }] };
    const both = await Promise.all([
      ines.post('/api/tethers/refresh').send(ask),
      tam.post('/api/tethers/refresh').send(ask),
    ]);
    expect(both.flatMap(({ body }) => body.refreshed)).toEqual([id]);
    const taken = (await log()).filter(
      (entry) => entry.kind === 'refreshed' && entry.tether?.id === id,
    );
    const slip: ChangeSlip = (await ines.get(`/api/log/${taken[0]!.id}/slip`)).body;
    expect(slip.rows.map(({ label }) => label)).toContain('SC-08');
    expect(taken.filter(({ at }) => at === taken[0]!.at)).toHaveLength(1);
  });
});

describe('a source that cannot be followed', () => {
  async function adriftBecause(spoil: () => Promise<unknown>, code: string) {
    const before = await countsTether();
    const good = await readFile(counts());
    await spoil();
    const adrift = await standing('adrift');
    expect(adrift.reason).toMatchObject({ code });
    expect(adrift.reason!.hint).not.toBe('');
    // The last good figures stay.
    expect(adrift.base).toBe(before.base);
    expect((await ines.get(`/api/snapshots/${adrift.base}`)).body.cells.length).toBeGreaterThan(50);
    const refused = await refresh([{ id: adrift.id, seen: null }]);
    expect(refused.refused).toMatchObject([{ fault: { code } }]);
    await rm(counts(), { recursive: true, force: true });
    await writeFile(counts(), good);
    await standing('in step');
    expect((await log()).slice(0, 8).map(({ kind }) => kind)).toEqual(
      expect.arrayContaining(['adrift', 'found again']),
    );
  }
  const compound = (stream: string) =>
    Buffer.concat([
      Buffer.from('d0cf11e0a1b11ae1', 'hex'),
      Buffer.alloc(600),
      Buffer.from(stream, 'utf16le'),
    ]);

  test.each<[string, () => Promise<unknown>, string]>([
    ['gone', () => rm(counts()), 'source-missing'],
    ['renamed', () => rename(counts(), `${counts()}.old`), 'source-missing'],
    ['of zero bytes', () => writeFile(counts(), ''), 'source-empty'],
    ['no zip', () => writeFile(counts(), 'Plot;Species\n'.repeat(50)), 'source-not-workbook'],
    [
      'protected with a password',
      () => writeFile(counts(), compound('EncryptedPackage')),
      'source-password-protected',
    ],
    [
      'a zip without its parts',
      () => writeFile(counts(), zipSync({ 'a.txt': strToU8('x') })),
      'source-part-missing',
    ],
    [
      'cut short',
      async () => writeFile(counts(), (await readFile(counts())).subarray(0, 3000)),
      'source-damaged',
    ],
    [
      'a link that leaves the folder',
      async () => {
        const outside = join(server.sources, 'elsewhere.xlsx');
        await rename(counts(), outside);
        await symlink(outside, counts());
      },
      'path-outside-folder',
    ],
  ])(
    'because it is %s puts its objects adrift, and they find back',
    (_, spoil, code) => adriftBecause(spoil, code),
    30_000,
  );

  test('because its sheet is gone', async () => {
    await adriftBecause(async () => {
      const { default: exceljs } = await import('exceljs');
      const book = new exceljs.Workbook();
      await book.xlsx.readFile(counts());
      book.getWorksheet('Counts')!.name = 'Counts 2027';
      await book.xlsx.writeFile(counts());
    }, 'sheet-missing');
  }, 30_000);

  // Who is above such rules cannot see them held: then it says that it was left out.
  const whereRulesHold = process.getuid?.() === 0 ? test.skip : test;
  whereRulesHold('because it may not be read', async () => {
    await adriftBecause(() => chmod(counts(), 0o000), 'source-unreadable');
  });

  test('because its folder is offline, until the folder is back', async () => {
    const folder = join(server.sources, 'monitoring');
    await rename(folder, `${folder}-unplugged`);
    expect((await standing('adrift')).reason).toMatchObject({ code: 'folder-offline' });
    const state = async () => (await folderNamed('Monitoring')).state;
    await eventually(state, (now) => now === 'offline');
    // Frozen and tied again meanwhile, it does not say that it is in step.
    const { id: object } = await standing('adrift');
    await ines.put(`/api/tethers/${object}/frozen`).send({ isFrozen: true }).expect(200);
    await standing('frozen');
    await ines.put(`/api/tethers/${object}/frozen`).send({ isFrozen: false }).expect(200);
    expect((await standing('adrift')).reason).toMatchObject({ code: 'folder-offline' });
    await rename(`${folder}-unplugged`, folder);
    await standing('in step');
    await eventually(state, (now) => now === 'watched');
    await saveAsColleague(counts(), [setCell('Counts', 'D13', 270)]);
    const { id, pending } = await standing('behind');
    await refresh([{ id, seen: pending }]);
  }, 30_000);
});

test('a workbook put into a folder appears among the sources, and office lock files do not', async () => {
  const folder = join(server.sources, 'works/bents');
  await mkdir(folder);
  await writeFile(join(folder, '~$new.xlsx'), 'lock');
  await writeFile(join(folder, 'new.xlsx'), await readFile(counts()));
  const works = async (): Promise<string[]> =>
    (await folderNamed('Works')).sources.map(({ path }) => path);
  expect(await eventually(works, (paths) => paths.includes('bents/new.xlsx'))).toEqual([
    'bents/new.xlsx',
    'boardwalk-piles.xlsx',
  ]);
});

describe('a growing reach', () => {
  const header = { row: 4, left: 1, right: 4 };
  const place = async (reach: object, name: string): Promise<Tether> => {
    const { source } = await countsTether();
    const answer = await ines
      .post(`/api/documents/${documentId}/tethers`)
      .send({ sourceId: source.id, reach, name })
      .expect(201);
    return answer.body;
  };
  const heightOf = async (tether: Tether) => {
    const { area } = (await ines.get(`/api/snapshots/${tether.base}`)).body;
    return area.bottom - area.top + 1;
  };

  test('takes a row that was put in with the next refresh, and tells of its total', async () => {
    const placed = await place({ kind: 'growing block', sheet: 'Counts', header }, 'Growing');
    expect(placed.warnings.map(({ code }) => code)).toEqual(['column beside', 'total inside']);
    const height = await heightOf(placed);
    await saveAsColleague(counts(), [
      { kind: 'insert row', sheet: 'Counts', row: 9, values: ['SC-13', 'Sea aster', 150, 120] },
    ]);
    const behind = await eventually(
      () => named('Growing'),
      (each) => each.standing === 'behind',
    );
    expect(behind.summary).toContain('1 row inserted');
    expect(behind.summary).not.toContain('removed');
    await refresh([{ id: behind.id, seen: behind.pending }]);
    expect(await heightOf(await named('Growing'))).toBe(height + 1);
  });

  test('of picked columns follows them by their headers', async () => {
    const columns = ['Plot', 'Surviving'];
    const placed = await place(
      { kind: 'picked columns', sheet: 'counts', headerRow: 4, columns },
      'Picked',
    );
    const { cells, columns: bands } = (await ines.get(`/api/snapshots/${placed.base}`)).body;
    expect(new Set(cells.map(({ column }: { column: number }) => column))).toEqual(new Set([1, 4]));
    expect(bands).toContainEqual({ index: 2, hidden: true });
    await saveAsColleague(counts(), [setCell('Counts', 'D4', 'Alive')]);
    const adrift = await eventually(
      () => named('Picked'),
      (each) => each.standing === 'adrift',
    );
    expect(adrift.reason).toMatchObject({ code: 'column-missing' });
    await saveAsColleague(counts(), [setCell('Counts', 'D4', 'Surviving')]);
    await eventually(
      () => named('Picked'),
      (each) => each.standing === 'in step',
    );
  });

  test('may take the place of another, which is seen in the log and can be refused', async () => {
    const { id } = await named('Growing');
    const change = (reach: object) => ines.patch(`/api/tethers/${id}`).send({ reach });
    const refused = await change({ kind: 'name', name: 'Nothing', sheet: null }).expect(422);
    expect(refused.body.fault.code).toBe('name-missing');
    const changed = await change({ kind: 'whole sheet', sheet: 'Notes' }).expect(200);
    expect(changed.body).toMatchObject({ standing: 'in step', reach: { kind: 'whole sheet' } });
    expect((await log())[0]).toMatchObject({
      kind: 'reach changed',
      person: 'Ines Fallow',
      summary: 'From Counts!A4:D4 and below to Notes, whole sheet.',
    });
  });
});

test('where a source is used is told with the cells', async () => {
  const { source } = await countsTether();
  const uses = (await ines.get(`/api/sources/${source.id}/uses`)).body;
  expect(uses).toMatchObject([
    {
      name: 'Planting counts by plot',
      document: { id: documentId, name: 'Autumn monitoring report' },
      sheet: 'Counts',
      area: { top: 4, left: 1, bottom: 17, right: 7 },
    },
  ]);
});
