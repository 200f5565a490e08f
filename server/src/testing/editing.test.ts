import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { EditsSeen, LogEntry, SourceEdits, Tether } from '@tether/contract';
import { type Cell, parseCell, type Snapshot } from '@tether/core';
import { type ColleagueEdit, saveAsColleague, setCell } from '@tether/demo';
import { openSource } from '@tether/formats';
import { eventually, query, startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
let server: TestServer;
let ines: Awaited<ReturnType<TestServer['as']>>;
let documentId: string;

beforeEach(async () => {
  server = await startTestServer();
  ines = await server.as('ines');
  documentId = (await ines.get('/api/documents')).body[0].id;
}, 60_000);
afterEach(() => server?.stop());

const path = () => join(server.sources, 'monitoring/planting-counts.xlsx');
const save = (edits: ColleagueEdit[]) => saveAsColleague(path(), edits);
const counts = async (): Promise<Tether> =>
  ((await ines.get(`/api/documents/${documentId}/tethers`)).body as Tether[]).find(
    ({ name }) => name === 'Planting counts by plot',
  )!;
const stands = (standing: Tether['standing']) =>
  eventually(counts, (tether) => tether.standing === standing);
const unlock = async (unlocked: Tether['unlocked'] = 'all') =>
  ines.put(`/api/tethers/${(await counts()).id}/unlocked`).send({ unlocked });
const writing = { decimal: '.', dates: 'day first' };
async function type(said: Record<string, string | null>, isOverFormula = false) {
  const { id, base } = await counts();
  const cells = Object.entries(said).map(([ref, typed]) => ({
    ...parseCell(ref)!,
    typed,
    isOverFormula,
  }));
  return ines.post(`/api/tethers/${id}/edits`).send({ base, cells, writing });
}
const edits = async (): Promise<EditsSeen> =>
  (await ines.get(`/api/tethers/${(await counts()).id}/edits`)).body;
async function writeBack() {
  const { plan } = await edits();
  const { id } = await counts();
  return ines.post(`/api/tethers/${id}/write-back`).send({ token: plan?.token ?? 'x'.repeat(64) });
}
async function cell(hash: string, ref: string): Promise<Cell['value'] | undefined> {
  const { cells } = (await ines.get(`/api/snapshots/${hash}`)).body as Snapshot;
  const { row, column } = parseCell(ref)!;
  return cells.find((each) => each.row === row && each.column === column)?.value;
}
/** What the file holds now, read anew. */
async function inFile(...refs: string[]): Promise<unknown[]> {
  const source = await openSource(path(), 'counts.xlsx');
  if (!source.ok) throw new Error(source.fault.message);
  const values = [];
  for (const ref of refs) {
    const { row, column } = parseCell(ref)!;
    const area = { top: row, left: column, bottom: row, right: column };
    const read = await source.value.readArea('Counts', area, { look: false });
    values.push(read.ok ? read.value.cells[0]?.value : read.fault.code);
  }
  await source.value.close();
  return values;
}
const log = async (): Promise<LogEntry[]> => (await ines.get('/api/log')).body.entries;

describe('a correction in a document', () => {
  test('is shown with what follows from it, written back, and taken back', async () => {
    await unlock();
    const before = await counts();
    const [, total] = await inFile('D8', 'D17');
    expect((await type({ D8: '104' })).status).toBe(200);
    const edited = await stands('edited here');
    expect(edited).toMatchObject({ base: before.base, editCount: 1 });
    expect(await cell(edited.shown, 'D8')).toBe(104);
    // The total of the same sheet follows before anything is written.
    expect(await cell(edited.shown, 'D17')).toBe(Number(total) + 7);
    expect(await inFile('D8', 'D17')).toEqual([97, total]);
    const seen = await edits();
    expect(seen.edits).toMatchObject([
      {
        place: 'D8',
        kind: 'kept',
        agreed: { value: 97 },
        yours: { value: 104 },
        by: 'Ines Fallow',
      },
    ]);
    expect(seen.plan).toMatchObject({
      written: [{ sheet: 'Counts', ref: 'D8', before: '97', after: '104' }],
      notFinal: [],
    });

    expect((await writeBack()).status).toBe(200);
    expect(await inFile('D8', 'D17')).toEqual([104, Number(total) + 7]);
    const after = await stands('in step');
    expect(after).toMatchObject({ editCount: 0, shown: after.base });
    expect(await cell(after.base, 'D8')).toBe(104);

    const [entry] = (await log()).filter(({ kind }) => kind === 'written back');
    expect(entry).toMatchObject({ person: 'Ines Fallow', summary: 'D8 97 → 104.' });
    await ines.post(`/api/log/${entry!.id}/take-back`).expect(200);
    expect(await inFile('D8', 'D17')).toEqual([97, total]);
  });

  test('is not taken back where somebody changed the cell since', async () => {
    await unlock();
    await type({ D8: '104' });
    await writeBack();
    await save([setCell('Counts', 'D8', 90)]);
    const [entry] = (await log()).filter(({ kind }) => kind === 'written back');
    const answer = await ines.post(`/api/log/${entry!.id}/take-back`);
    expect(answer.body.fault.code).toBe('not-taken-back');
    expect(await inFile('D8')).toEqual([90]);
  });

  test('survives a refresh that changes other cells, and moves with its row', async () => {
    await unlock();
    await type({ D8: '104' });
    await save([setCell('Counts', 'D9', 133)]);
    const behind = await stands('behind');
    expect(await cell(behind.shown, 'D8')).toBe(104);
    await ines.post('/api/tethers/refresh').send({ tethers: [{ id: behind.id, seen: null }] });
    const after = await stands('edited here');
    expect([
      await cell(after.base, 'D8'),
      await cell(after.shown, 'D8'),
      await cell(after.shown, 'D9'),
    ]).toEqual([97, 104, 133]);
  });

  test('that the source changed too is contested: nothing is written before somebody decides', async () => {
    await unlock();
    await type({ D8: '104' });
    await save([setCell('Counts', 'D8', 99)]);
    await stands('contested');
    const [contested] = (await edits()).edits;
    expect(contested).toMatchObject({
      kind: 'contested',
      agreed: { value: 97 },
      theirs: { value: 99 },
      yours: { value: 104 },
    });
    expect((await writeBack()).body.fault.code).toBe('edits-undecided');
    // A refresh does not decide it either.
    const { id } = await counts();
    await ines.post('/api/tethers/refresh').send({ tethers: [{ id, seen: null }] });
    const still = await stands('contested');
    expect([await cell(still.base, 'D8'), await cell(still.shown, 'D8')]).toEqual([99, 104]);
    await ines
      .post(`/api/tethers/${id}/edits/decide`)
      .send({ edit: contested!.id, decision: 'yours' })
      .expect(200);
    await stands('edited here');
    expect((await writeBack()).status).toBe(200);
    expect(await inFile('D8')).toEqual([104]);
  });

  test('decided for the source goes', async () => {
    await unlock();
    await type({ D8: '104' });
    await save([setCell('Counts', 'D8', 99)]);
    const { id } = await stands('contested');
    const [contested] = (await edits()).edits;
    await ines
      .post(`/api/tethers/${id}/edits/decide`)
      .send({ edit: contested!.id, decision: 'theirs' });
    expect(await stands('behind')).toMatchObject({ editCount: 0 });
  });

  test('that the source says by itself is none any more', async () => {
    await unlock();
    await type({ D8: '104' });
    await save([setCell('Counts', 'D8', 104)]);
    const { id } = await stands('behind');
    await ines.post('/api/tethers/refresh').send({ tethers: [{ id, seen: null }] });
    expect(await stands('in step')).toMatchObject({ editCount: 0 });
  });

  test('is refused where it may not be, and says why', async () => {
    expect((await type({ D8: '104' })).body.fault.code).toBe('cell-locked');
    await unlock([{ top: 8, left: 4, bottom: 8, right: 4 }]);
    expect((await type({ D8: '104' })).status).toBe(200);
    expect((await type({ D9: '1' })).body.fault.code).toBe('cell-locked');
    await unlock();
    expect((await type({ D8: 'many' })).body.fault.code).toBe('entry-not-number');
    expect((await type({ D17: '1' })).body.fault.code).toBe('write-formula');
    expect((await type({ D17: '1' }, true)).status).toBe(200);
    expect((await type({ D17: null, D8: null })).status).toBe(200);
    expect(await stands('in step')).toMatchObject({ editCount: 0 });
    const viewer = await server.as('odile');
    const { id, base } = await counts();
    const cells = [{ row: 8, column: 4, typed: '1' }];
    await viewer.post(`/api/tethers/${id}/edits`).send({ base, cells, writing }).expect(403);
    await viewer
      .post(`/api/tethers/${id}/write-back`)
      .send({ token: 'x'.repeat(64) })
      .expect(403);
  });

  test('stays where the file cannot be written, with the reason', async () => {
    await unlock();
    await type({ D8: '104' });
    const seen = await edits();
    const owner = join(server.sources, 'monitoring/.~lock.planting-counts.xlsx#');
    await writeFile(owner, 'Ines Fallow,ines,office,29.11.2026 14:00;');
    const { id } = await counts();
    const answer = await ines
      .post(`/api/tethers/${id}/write-back`)
      .send({ token: seen.plan!.token });
    expect(answer.body.fault.code).toBe('write-held');
    expect(await stands('edited here')).toMatchObject({ editCount: 1 });
    expect(await inFile('D8')).toEqual([97]);
  });

  test('of a file that changed since it was looked at is not written', async () => {
    await unlock();
    await type({ D8: '104' });
    const seen = await edits();
    await save([setCell('Counts', 'D9', 133)]);
    const { id } = await counts();
    const answer = await ines
      .post(`/api/tethers/${id}/write-back`)
      .send({ token: seen.plan!.token });
    expect(answer.body.fault.code).toBe('slip-out-of-date');
    expect(await inFile('D8')).toEqual([97]);
    expect((await readFile(path())).length).toBeGreaterThan(0);
  });
});

describe('an object whose corrections are written at once', () => {
  const atOnce = async (who: typeof ines) =>
    who.put(`/api/tethers/${(await counts()).id}/writes-at-once`).send({ writesAtOnce: true });

  test('writes what is corrected, unless it is contested; that is for its owner to say', async () => {
    await unlock();
    expect((await atOnce(await server.as('tam'))).status).toBe(403);
    expect((await atOnce(ines)).body).toMatchObject({ writesAtOnce: true });
    expect((await type({ D8: '104' })).status).toBe(200);
    await stands('in step');
    expect(await inFile('D8')).toEqual([104]);

    await save([setCell('Counts', 'D9', 90)]);
    await stands('behind');
    expect((await type({ D9: '91' })).status).toBe(200);
    await stands('contested');
    expect(await inFile('D9')).toEqual([90]);
    const { id } = await counts();
    const [edit] = (await edits()).edits;
    const decision = { edit: edit!.id, decision: 'yours' };
    await ines.post(`/api/tethers/${id}/edits/decide`).send(decision).expect(200);
    expect(await inFile('D9')).toEqual([91]);
  });
});

describe('an object whose corrections cannot be written at once', () => {
  test('keeps them, and writing says why', async () => {
    await unlock();
    await ines
      .put(`/api/tethers/${(await counts()).id}/writes-at-once`)
      .send({ writesAtOnce: true })
      .expect(200);
    const held = join(server.sources, 'monitoring/.~lock.planting-counts.xlsx#');
    await writeFile(held, ',Somebody,desk,29.11.2026 17:00,file:///;');
    expect((await type({ D8: '104' })).status).toBe(200);
    expect(await inFile('D8')).toEqual([97]);
    expect((await edits()).edits).toMatchObject([{ place: 'D8', kind: 'kept' }]);
    expect((await writeBack()).body.fault.code).toBe('write-held');
    await rm(held);
    expect((await writeBack()).status).toBe(200);
    expect(await inFile('D8')).toEqual([104]);
  });
});

describe('all corrections of a document', () => {
  test('are written in one go; what cannot be says why', async () => {
    const first = await counts();
    const area = { top: 4, left: 1, bottom: 17, right: 7 };
    const made = await ines
      .post(`/api/documents/${documentId}/tethers`)
      .send({
        sourceId: first.source.id,
        reach: { kind: 'block', sheet: 'Counts', area },
        name: 'Second',
      })
      .expect(201);
    const second = made.body as Tether;
    await query(server.url, 'update tethers set placed = true');
    const correct = (tether: Tether, ref: string, typed: string | null) =>
      ines
        .post(`/api/tethers/${tether.id}/edits`)
        .send({ base: tether.base, cells: [{ ...parseCell(ref)!, typed }], writing })
        .expect(200);
    for (const { id } of [first, second]) {
      await ines.put(`/api/tethers/${id}/unlocked`).send({ unlocked: 'all' }).expect(200);
    }
    const edited = async (): Promise<SourceEdits[]> =>
      (await ines.get(`/api/documents/${documentId}/edits`)).body;
    expect(await edited()).toEqual([]);
    await correct(first, 'D8', '104');
    await correct(second, 'D9', '140');
    await correct(second, 'D8', '105');
    expect(await edited()).toMatchObject([{ token: null, fault: { code: 'edits-apart' } }]);
    await correct(second, 'D8', null);
    const [source] = await edited();
    expect(source).toMatchObject({ cells: 2, undecided: 0, objects: [{ count: 1 }, { count: 1 }] });

    const write = (token: string) =>
      ines
        .post(`/api/documents/${documentId}/write-back`)
        .send({ sources: [{ sourceId: source!.sourceId, token }] });
    expect((await write('x'.repeat(64))).body).toMatchObject({
      written: [],
      refused: [{ fault: { code: 'slip-out-of-date' } }],
    });
    expect((await write(source!.token!)).body).toEqual({
      written: [{ path: 'planting-counts.xlsx', cells: 2 }],
      refused: [],
    });
    expect(await inFile('D8', 'D9')).toEqual([104, 140]);
    expect(await edited()).toEqual([]);
    const [entry] = (await log()).filter(({ kind }) => kind === 'written back');
    expect(entry).toMatchObject({ summary: 'D8 97 → 104, D9 132 → 140.' });
    const odile = await server.as('odile');
    await odile
      .post(`/api/documents/${documentId}/write-back`)
      .send({ sources: [{ sourceId: source!.sourceId, token: source!.token }] })
      .expect(403);
  });
});
