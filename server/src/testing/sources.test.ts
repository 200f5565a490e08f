import { mkdir, readFile, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type {
  CellsMatch,
  SourceContents,
  SourceFolder,
  SourceMatch,
  SourceSummary,
  Tether,
} from '@tether/contract';
import { type ChartData, formatArea, gridOf, type Snapshot } from '@tether/core';
import { eventually, startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
let server: TestServer;
let ines: Awaited<ReturnType<TestServer['as']>>;

beforeAll(async () => {
  server = await startTestServer();
  ines = await server.as('ines');
}, 60_000);
afterAll(() => server?.stop());

const folders = async (): Promise<SourceFolder[]> => (await ines.get('/api/sources')).body;
const folderNamed = async (name: string) =>
  (await folders()).find((folder) => folder.name === name)!;
const sourceAt = async (path: string): Promise<SourceSummary> =>
  (await folders()).flatMap(({ sources }) => sources).find((source) => source.path === path)!;
const contentsOf = async (path: string): Promise<SourceContents> =>
  (await ines.get(`/api/sources/${(await sourceAt(path)).id}/contents`).expect(200)).body;

describe('what a source holds', () => {
  test('sheets, blocks, names, charts and rules of a workbook', async () => {
    const contents = await contentsOf('planting-counts.xlsx');
    const [counts] = contents.sheets;
    expect(counts).toMatchObject({ name: 'Counts', state: 'visible' });
    expect(counts!.rules).toMatchObject({
      conditions: { count: 2, unknown: [] },
      protection: { isProtected: false },
    });
    expect(counts!.rules!.validations.length).toBeGreaterThan(0);
    expect(contents.charts).toMatchObject([
      { id: 'Counts/1', name: 'Planted and surviving', sheet: 'Counts' },
    ]);
    expect(contents.names.map(({ name }) => name)).toContain('PlotCounts');
    expect(contents.delimited).toBeNull();
  });

  test('an open document is a source like any other', async () => {
    const contents = await contentsOf('grant-budget.ods');
    expect(
      contents.sheets.map(({ name, usedArea }) => [name, usedArea && formatArea(usedArea)]),
    ).toEqual([['Budget', 'A1:E11']]);
    const { id } = await sourceAt('grant-budget.ods');
    const cells = await ines
      .get(`/api/sources/${id}/cells`)
      .query({ sheet: 'Budget', reference: 'A5:E8' })
      .expect(200);
    const overspent = cells.body.cells.find(
      (cell: { row: number; column: number }) => cell.row === 8 && cell.column === 4,
    );
    expect(overspent).toMatchObject({ value: -2140, text: '-£2,140' });
    // Its style has a condition: what is overspent is red.
    expect(cells.body.dresses[overspent.dress].letters).toMatchObject({
      colour: '#B3261E',
      bold: true,
    });
  });

  test('a chart draws what its cells hold now', async () => {
    const { id } = await sourceAt('planting-counts.xlsx');
    const chart: ChartData = (
      await ines.get(`/api/sources/${id}/chart`).query({ chart: 'Counts/1' }).expect(200)
    ).body;
    expect(chart).toMatchObject({ title: 'Planted and surviving', legend: 'bottom', warnings: [] });
    expect(chart.labels[0]).toBe('SC-01');
    expect(chart.groups[0]!.series.map(({ name, values }) => [name, values[0]])).toEqual([
      ['Planted', 240],
      ['Surviving', 221],
    ]);
    const missing = await ines
      .get(`/api/sources/${id}/chart`)
      .query({ chart: 'Counts/9' })
      .expect(422);
    expect(missing.body.fault.code).toBe('chart-missing');
  });
});

describe('search', () => {
  const search = async (words: string): Promise<SourceMatch[]> =>
    (await ines.get('/api/sources/search').query({ words }).expect(200)).body;
  test('finds sheets and headers', async () => {
    const counts = await sourceAt('planting-counts.xlsx');
    expect(await search('surviving')).toEqual([
      { sourceId: counts.id, sheet: 'Counts', header: 'Surviving' },
    ]);
    expect(await search('drive log')).toMatchObject([{ sheet: 'Drive log', header: null }]);
    expect(await search('counted on')).toMatchObject([{ sheet: 'Counts', header: 'Counted on' }]);
    expect(await search('surge')).toMatchObject([{ header: 'Surge (m)' }]);
    expect(await search('balance')).toMatchObject([{ sheet: 'Budget', header: 'Balance' }]);
  });
  test('takes signs of the database as letters, and needs two letters', async () => {
    expect(await search('%%')).toEqual([]);
    expect(await search("'; drop table sources; --")).toEqual([]);
    await ines.get('/api/sources/search').query({ words: 'a' }).expect(400);
  });
});

describe('cells from elsewhere', () => {
  const find = async (cells: string[][]): Promise<CellsMatch[]> =>
    (await ines.post('/api/sources/find').send({ cells }).expect(200)).body;
  const shownAt = async (path: string, sheet: string, reference: string): Promise<string[][]> => {
    const { id } = await sourceAt(path);
    const cells: Snapshot = (
      await ines.get(`/api/sources/${id}/cells`).query({ sheet, reference }).expect(200)
    ).body;
    return gridOf(cells).map((row) => Array.from(row, (cell) => cell?.text ?? ''));
  };

  test('are found in the source that holds them, whatever kind it is', async () => {
    for (const [path, sheet, reference] of [
      ['planting-counts.xlsx', 'Counts', 'A6:E9'],
      ['grant-budget.ods', 'Budget', 'A4:D7'],
      ['tide-gauge.csv', 'tide-gauge', 'A2:C40'],
    ] as const) {
      const [match] = await find(await shownAt(path, sheet, reference));
      expect(match).toMatchObject({ path, sheet, sureness: 'sure' });
      expect(formatArea(match!.area)).toBe(reference);
      expect(match!.same).toBe(match!.of);
    }
  });

  test('with one figure changed are likely, others are not found', async () => {
    const cells = await shownAt('planting-counts.xlsx', 'Counts', 'A6:E9');
    cells[1]![3] = '77,777';
    expect(await find(cells)).toMatchObject([{ path: 'planting-counts.xlsx', sureness: 'likely' }]);
    expect(
      await find([
        ['Marram', '77,777'],
        ['Sedge', '88,888'],
      ]),
    ).toEqual([]);
  });

  test('are a table of texts, and not too many', async () => {
    await ines.post('/api/sources/find').send({ cells: [] }).expect(400);
    const row = Array.from({ length: 2_000 }, () => 'x');
    await ines
      .post('/api/sources/find')
      .send({ cells: Array.from({ length: 11 }, () => row) })
      .expect(400);
  });
});

describe('how delimited text is read', () => {
  test('is found, can be overruled, and its objects show what that changes', async () => {
    const { id } = await sourceAt('tide-gauge.csv');
    const [{ id: documentId }] = (await ines.get('/api/documents')).body;
    const placed: Tether = (
      await ines
        .post(`/api/documents/${documentId}/tethers`)
        .send({
          sourceId: id,
          name: 'Tides',
          reach: {
            kind: 'block',
            sheet: 'tide-gauge',
            area: { top: 1, left: 1, bottom: 3, right: 3 },
          },
        })
        .expect(201)
    ).body;
    const guess = async () => (await contentsOf('tide-gauge.csv')).delimited;
    expect(await guess()).toEqual({
      guessed: { encoding: 'utf-8', delimiter: ',', quote: '"', decimal: '.', dates: 'by column' },
      overruled: {},
    });
    await ines
      .put(`/api/sources/${id}/reading`)
      .send({ delimited: { delimiter: ';' } })
      .expect(200);
    expect((await guess())!.overruled).toEqual({ delimiter: ';' });
    const tether = async (): Promise<Tether> =>
      (await ines.get(`/api/documents/${documentId}/tethers`)).body.find(
        (each: Tether) => each.id === placed.id,
      );
    expect(await tether()).toMatchObject({ standing: 'behind' });
    await ines.put(`/api/sources/${id}/reading`).send({ delimited: {} }).expect(200);
    expect(await tether()).toMatchObject({ standing: 'in step' });
    await ines
      .put(`/api/sources/${id}/reading`)
      .send({ delimited: { delimiter: 'x' } })
      .expect(400);
  });
});

describe('source folders', () => {
  const codeOf = (answer: { body: { fault?: { code: string } } }) => answer.body.fault?.code;
  const add = (name: string, path: string) => ines.post('/api/source-folders').send({ name, path });

  test('are chosen among the places that the operator allows', async () => {
    await mkdir(join(server.sources, 'survey/2026'), { recursive: true });
    const top = (await ines.get('/api/source-folders/places').expect(200)).body;
    expect(top).toMatchObject({ parent: null });
    expect(top.folders).toEqual(expect.arrayContaining(['monitoring', 'survey', 'works']));
    const below = (
      await ines.get('/api/source-folders/places').query({ path: join(server.sources, 'survey') })
    ).body;
    expect(below.folders).toEqual(['2026']);
    // What is not there is said not to be, but only among the places that are allowed.
    const nowhere = join(server.sources, 'nowhere');
    expect(codeOf(await add('Nowhere', nowhere).expect(422))).toBe('folder-missing');
    for (const path of ['/', '/etc', '/nowhere', join(server.sources, '..')]) {
      expect(codeOf(await ines.get('/api/source-folders/places').query({ path }).expect(422))).toBe(
        'folder-not-allowed',
      );
      expect(codeOf(await add('Elsewhere', path).expect(422))).toBe('folder-not-allowed');
    }
    await symlink('/etc', join(server.sources, 'way-out'));
    expect(codeOf(await add('Way out', join(server.sources, 'way-out')).expect(422))).toBe(
      'folder-not-allowed',
    );
  });

  test('are added, watched, renamed and removed', async () => {
    const root = join(server.sources, 'survey');
    await writeFile(join(root, '2026/levels.csv'), 'Peg,Level\nA,1.2\n');
    const { id } = (await add('Survey', root).expect(201)).body;
    await eventually(
      () => sourceAt('2026/levels.csv'),
      (source) => source?.state === 'present',
    );
    expect(codeOf(await add('survey', join(server.sources, 'survey')).expect(422))).toBe(
      'folder-name-taken',
    );
    expect(codeOf(await add('Inside', join(root, '2026')).expect(422))).toBe('folder-place-taken');
    expect(codeOf(await add('Around', server.sources).expect(422))).toBe('folder-place-taken');

    await ines.patch(`/api/source-folders/${id}`).send({ name: 'Level survey' }).expect(200);
    expect(
      codeOf(await ines.patch(`/api/source-folders/${id}`).send({ name: 'works' }).expect(422)),
    ).toBe('folder-name-taken');
    await writeFile(join(root, '2026/more.csv'), 'Peg,Level\nB,1.3\n');
    const more = await eventually(
      () => sourceAt('2026/more.csv'),
      (source) => source?.state === 'present',
    );
    expect(more.folder).toBe('Level survey');

    await ines.delete(`/api/source-folders/${id}`).expect(200);
    expect(await folderNamed('Level survey')).toBeUndefined();
    expect(await readFile(join(root, '2026/levels.csv'), 'utf8')).toContain('Peg');
    // It can come back, with everything in it.
    await add('Survey', root).expect(201);
    await eventually(
      () => sourceAt('2026/more.csv'),
      (source) => source?.state === 'present',
    );
  });

  test('that documents use stay', async () => {
    const { id } = await folderNamed('Monitoring');
    const refused = await ines.delete(`/api/source-folders/${id}`).expect(422);
    expect(refused.body.fault).toMatchObject({
      code: 'folder-in-use',
      message: 'Objects in Autumn monitoring report show figures out of this folder.',
    });
  });

  test('are a matter of the owner', async () => {
    const tam = await server.as('tam');
    const { id } = await folderNamed('Works');
    await tam.get('/api/source-folders/places').expect(403);
    await tam.post('/api/source-folders').send({ name: 'Mine', path: server.sources }).expect(403);
    await tam.patch(`/api/source-folders/${id}`).send({ name: 'Mine' }).expect(403);
    await tam.delete(`/api/source-folders/${id}`).expect(403);
  });

  describe('a file put into one', () => {
    const put = async (name: string, body: Buffer | string) => {
      const { id } = await folderNamed('Works');
      return ines
        .put(`/api/source-folders/${id}/files`)
        .query({ name })
        .set('content-type', 'application/octet-stream')
        .send(body);
    };
    test('arrives whole and is a source', async () => {
      const bytes = await readFile(join(server.sources, 'works/boardwalk-piles.xlsx'));
      expect((await put('copy of piles.xlsx', bytes)).status).toBe(201);
      const source = await eventually(
        () => sourceAt('copy of piles.xlsx'),
        (found) => found?.state === 'present',
      );
      expect(source.bytes).toBe(bytes.length);
      expect(await readFile(join(server.sources, 'works/copy of piles.xlsx'))).toEqual(bytes);
    });
    test('takes no other file’s place', async () => {
      const before = await readFile(join(server.sources, 'works/boardwalk-piles.xlsx'));
      expect(codeOf(await put('boardwalk-piles.xlsx', 'other'))).toBe('file-exists');
      expect(await readFile(join(server.sources, 'works/boardwalk-piles.xlsx'))).toEqual(before);
    });
    test.each(['notes.txt', '../escape.csv', '.hidden.csv', '~$lock.xlsx', 'a/b.csv'])(
      '%s is refused',
      async (name) => {
        expect(codeOf(await put(name, 'a,b'))).toBe('file-kind-unknown');
      },
    );
  });
});
