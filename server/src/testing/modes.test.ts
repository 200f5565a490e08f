import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { DocumentDetail, LedgerPage, LogEntry, Tether, TetherState } from '@tether/contract';
import type { ChangeSlip, Mode } from '@tether/core';
import { type ColleagueEdit, saveAsColleague, setCell } from '@tether/demo';
import { PLACED_NODE, type ReportContent } from '@tether/documents';
import { sql } from 'drizzle-orm';
import { thinHistory } from '../changing/history.ts';
import { refreshDue } from '../changing/timetable.ts';
import { eventually, startTestServer } from './testing.fixture.ts';

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

const save = (edits: ColleagueEdit[]) =>
  saveAsColleague(join(server.sources, 'monitoring/planting-counts.xlsx'), edits);
const counts = async (): Promise<Tether> =>
  ((await ines.get(`/api/documents/${documentId}/tethers`)).body as Tether[]).find(
    ({ name }) => name === 'Planting counts by plot',
  )!;
const comesTo = (isRight: (tether: Tether) => boolean) => eventually(counts, isRight);
const setMode = async (mode: Mode | null, tether?: Tether) =>
  ines
    .patch(`/api/tethers/${(tether ?? (await counts())).id}`)
    .send({ mode })
    .expect(200);
const log = async (): Promise<LogEntry[]> => (await ines.get('/api/log')).body.entries;
const document = async (): Promise<DocumentDetail<ReportContent>> =>
  (await ines.get(`/api/documents/${documentId}`)).body;
const needs = async (): Promise<string[]> =>
  (await ines.get('/api/tethers/needs-you')).body.needs.map(
    ({ tether }: { tether: Tether }) => tether.name,
  );
const hold = (isHeld: boolean) =>
  ines.put(`/api/documents/${documentId}/hold`).send({ isHeld }).expect(200);
const history = async (): Promise<TetherState[]> =>
  (await ines.get(`/api/tethers/${(await counts()).id}/history`)).body;
const figure = async (cell: { row: number; column: number }): Promise<unknown> => {
  const { cells } = (await ines.get(`/api/snapshots/${(await counts()).base}`)).body;
  return cells.find(
    (each: { row: number; column: number }) => each.row === cell.row && each.column === cell.column,
  ).value;
};
const D8 = { row: 8, column: 4 };

describe('an automatic object', () => {
  test('takes a save by itself, with a log entry and a state in its history', async () => {
    await setMode({ kind: 'automatic' });
    const before = await counts();
    await save([setCell('Counts', 'D8', 104)]);
    const after = await comesTo(({ base }) => base !== before.base);
    expect(after).toMatchObject({
      standing: 'in step',
      pending: null,
      refreshedBy: null,
      refreshedHow: 'automatically',
      mode: { kind: 'automatic' },
      modeFrom: 'object',
    });
    expect(await figure(D8)).toBe(104);
    expect((await log())[0]).toMatchObject({
      kind: 'refreshed',
      person: null,
      how: 'automatically',
      summary: '4 cells changed',
      canTakeBack: true,
    });
    expect((await history()).map(({ how }) => how)).toEqual(['refreshed', 'placed']);
  });

  test('waits and asks when a change would do harm, and goes on when somebody took it', async () => {
    await setMode({ kind: 'automatic' });
    const before = await counts();
    await save([setCell('Counts', 'D4', 'Alive')]);
    const waiting = await comesTo(({ standing }) => standing === 'behind');
    expect(waiting.base).toBe(before.base);
    expect(waiting.waits).toMatchObject({ code: 'waits-headers' });
    expect(await needs()).toEqual(['Planting counts by plot']);
    expect((await log())[0]).toMatchObject({
      kind: 'waits',
      summary: 'The header “Surviving” is gone.',
    });
    const tethers = [{ id: waiting.id, seen: waiting.pending }];
    await ines.post('/api/tethers/refresh').send({ tethers }).expect(200);
    expect(await counts()).toMatchObject({ standing: 'in step', waits: null });
    await save([setCell('Counts', 'D8', 99)]);
    await comesTo(({ refreshedHow }) => refreshedHow === 'automatically');
  });

  test('asks when a row put in above brings other cells to where a single one stands', async () => {
    const { source } = await counts();
    const area = { top: 17, left: 4, bottom: 17, right: 4 };
    const { body: total } = await ines
      .post(`/api/documents/${documentId}/tethers`)
      .send({
        sourceId: source.id,
        name: 'All of them',
        reach: { kind: 'block', sheet: 'Counts', area },
      })
      .expect(201);
    const { content, version } = await document();
    const node = { type: PLACED_NODE, attrs: { tetherId: total.id, form: 'table', dressing: {} } };
    await ines
      .put(`/api/documents/${documentId}/content`)
      .send({ version, content: { ...content, content: [...content.content, node] } })
      .expect(200);
    await setMode({ kind: 'automatic' }, total);
    const now = async (): Promise<Tether> =>
      ((await ines.get(`/api/documents/${documentId}/tethers`)).body as Tether[]).find(
        ({ id }) => id === total.id,
      )!;
    const values = ['SC-13', 'Sea aster', 150, 120];
    await save([{ kind: 'insert row', sheet: 'Counts', row: 9, values }]);
    const waiting = await eventually(now, ({ standing }) => standing === 'behind');
    expect(waiting).toMatchObject({
      base: total.base,
      waits: { code: 'waits-landmarks' },
      summary: '1 cell changed, at “SC-12” instead of “All plots”',
    });
  });

  test('asks above the share of cells that the document allows', async () => {
    await ines
      .patch(`/api/documents/${documentId}`)
      .send({ share: 2, mode: { kind: 'automatic' } });
    await save([setCell('Counts', 'D8', 104)]);
    expect((await comesTo(({ standing }) => standing === 'behind')).waits?.code).toBe(
      'waits-share',
    );
  });

  test('that was behind takes what waited when it becomes automatic', async () => {
    await save([setCell('Counts', 'D8', 104)]);
    await comesTo(({ standing }) => standing === 'behind');
    await setMode({ kind: 'automatic' });
    expect(await counts()).toMatchObject({ standing: 'in step', refreshedHow: 'automatically' });
  });

  test('in no text keeps what it shows, and takes what waited when it comes back', async () => {
    await setMode({ kind: 'automatic' });
    const { content, version } = await document();
    const tether = await counts();
    const without = {
      ...content,
      content: content.content.filter(
        ({ type, attrs }) => type !== PLACED_NODE || attrs?.tetherId !== tether.id,
      ),
    };
    const put = (body: object) =>
      ines.put(`/api/documents/${documentId}/content`).send(body).expect(200);
    await put({ version, content: without });
    await save([setCell('Counts', 'D8', 104)]);
    await comesTo(({ standing }) => standing === 'behind');
    expect(await needs()).toEqual([]);
    await put({ version: version + 1, content });
    expect(await counts()).toMatchObject({ standing: 'in step', refreshedHow: 'automatically' });
  });
});

describe('modes', () => {
  test('are those of the object, else of its source, else of the document', async () => {
    const tether = await counts();
    expect(tether).toMatchObject({
      mode: { kind: 'on opening', how: 'ask' },
      modeFrom: 'document',
    });
    await ines
      .patch(`/api/documents/${documentId}`)
      .send({ mode: { kind: 'manual' } })
      .expect(200);
    expect(await counts()).toMatchObject({ mode: { kind: 'manual' }, modeFrom: 'document' });
    const mode = { kind: 'timetable', timetable: { every: 5 } };
    await ines.put(`/api/sources/${tether.source.id}/mode`).send({ mode }).expect(200);
    const bySource = await counts();
    expect(bySource).toMatchObject({ mode, modeFrom: 'source' });
    expect(Date.parse(bySource.nextDue!)).toBeGreaterThan(Date.now());
    await setMode({ kind: 'automatic' });
    expect(await counts()).toMatchObject({ modeFrom: 'object', nextDue: null });
    await setMode(null);
    expect((await counts()).modeFrom).toBe('source');
  });

  test('with an unknown time zone are refused', async () => {
    const timetable = { at: '07:00', days: 'daily', zone: 'Sallow/Creek' };
    const tether = await counts();
    await ines
      .patch(`/api/tethers/${tether.id}`)
      .send({ mode: { kind: 'timetable', timetable } })
      .expect(400);
  });

  test('by timetable refresh when they are due, once, and have a next moment', async () => {
    await setMode({ kind: 'timetable', timetable: { every: 5 } });
    await save([setCell('Counts', 'D8', 104)]);
    await comesTo(({ standing }) => standing === 'behind');
    expect(await refreshDue(server)).toBe(0);
    await server.db.execute(
      sql`update tethers set next_due = now() - interval '1 minute' where next_due is not null`,
    );
    // Whoever comes first does it: one of these two, or what runs in the background anyway.
    const shares = await Promise.all([refreshDue(server), refreshDue(server)]);
    expect(shares[0]! + shares[1]!).toBeLessThanOrEqual(1);
    const after = await comesTo(({ standing }) => standing === 'in step');
    expect(after.refreshedHow).toBe('by timetable');
    const { rows } = await server.db.execute(
      sql`select 1 from log_entries where how = 'by timetable'`,
    );
    expect(rows).toHaveLength(1);
    expect(Date.parse(after.nextDue!)).toBeGreaterThan(Date.now());
  });

  test('by timetable refresh by themselves soon after they are due', async () => {
    await setMode({ kind: 'timetable', timetable: { every: 5 } });
    await save([setCell('Counts', 'D8', 106)]);
    await comesTo(({ standing }) => standing === 'behind');
    await server.db.execute(sql`update tethers set next_due = now() where next_due is not null`);
    const after = await comesTo(({ standing }) => standing === 'in step');
    expect(after.refreshedHow).toBe('by timetable');
    expect(Date.parse(after.nextDue!)).toBeGreaterThan(Date.now());
  });

  test('on opening, always: opening takes what waits, for those who may change', async () => {
    await setMode({ kind: 'on opening', how: 'always' });
    await save([setCell('Counts', 'D8', 104)]);
    await comesTo(({ standing }) => standing === 'behind');
    const odile = await server.as('odile');
    expect((await odile.post(`/api/looks/opened/${documentId}`)).body).toEqual({ refreshed: 0 });
    expect((await ines.post(`/api/looks/opened/${documentId}`)).body).toEqual({ refreshed: 1 });
    expect(await counts()).toMatchObject({ standing: 'in step', refreshedHow: 'on opening' });
  });
});

test('a held document is not refreshed by anything, says by whom, and catches up when released', async () => {
  await setMode({ kind: 'automatic' });
  await hold(true);
  expect((await document()).hold).toMatchObject({ by: 'Ines Fallow' });
  await save([setCell('Counts', 'D8', 104)]);
  const behind = await comesTo(({ standing }) => standing === 'behind');
  const tethers = [{ id: behind.id, seen: behind.pending }];
  const { body } = await ines.post('/api/tethers/refresh').send({ tethers }).expect(200);
  expect(body.refused[0].fault).toMatchObject({ code: 'document-held' });
  expect(body.refused[0].fault.message).toContain('Ines Fallow');
  await hold(false);
  expect(await counts()).toMatchObject({ standing: 'in step', refreshedHow: 'automatically' });
  expect((await log()).map(({ kind }) => kind).slice(0, 3)).toEqual([
    'refreshed',
    'released',
    'held',
  ]);
});

test('what is left is not asked about again until the source changes', async () => {
  await save([setCell('Counts', 'D8', 104)]);
  const behind = await comesTo(({ standing }) => standing === 'behind');
  await ines
    .post('/api/tethers/leave')
    .send({ tethers: [{ id: behind.id, seen: behind.pending }] })
    .expect(200);
  expect((await counts()).left).toMatchObject({ by: 'Ines Fallow' });
  expect(await needs()).toEqual([]);
  // Becoming automatic does not override what somebody decided.
  await setMode({ kind: 'automatic' });
  expect((await counts()).standing).toBe('behind');
  await setMode(null);
  await save([setCell('Counts', 'D8', 105)]);
  expect((await comesTo(({ left }) => left === null)).standing).toBe('behind');
  expect(await needs()).toEqual(['Planting counts by plot']);
});

test('a part that was taken leaves the rest behind; the rest can be taken later', async () => {
  await save([setCell('Counts', 'D8', 104), setCell('Counts', 'D10', 140)]);
  const behind = await comesTo(({ standing }) => standing === 'behind');
  const slip: ChangeSlip = (await ines.get(`/api/tethers/${behind.id}/slip`)).body;
  const row = slip.rows.findIndex(({ label }) => label === 'SC-04');
  const choice = { rows: [{ row, columns: [4] }], arrangement: false };
  const tethers = [{ id: behind.id, seen: behind.pending, choice }];
  await ines.post('/api/tethers/refresh').send({ tethers }).expect(200);
  const part = await counts();
  expect(part).toMatchObject({ standing: 'behind', pending: behind.pending });
  expect(await figure(D8)).toBe(104);
  expect(await figure({ row: 10, column: 4 })).not.toBe(140);
  const rest: ChangeSlip = (await ines.get(`/api/tethers/${part.id}/slip`)).body;
  expect(rest.counts.cells).toBe(slip.counts.cells - 1);
  expect((await log())[0]).toMatchObject({ kind: 'part taken', person: 'Ines Fallow' });
  await ines
    .post('/api/tethers/refresh')
    .send({ tethers: [{ id: part.id, seen: part.pending }] })
    .expect(200);
  expect(await counts()).toMatchObject({ standing: 'in step', base: behind.pending });
});

describe('history', () => {
  const refreshTo = async (value: number) => {
    const before = await counts();
    await save([setCell('Counts', 'D8', value)]);
    const behind = await comesTo(({ pending }) => pending !== null && pending !== before.pending);
    await ines
      .post('/api/tethers/refresh')
      .send({ tethers: [{ id: behind.id, seen: behind.pending }] })
      .expect(200);
  };

  test('going back shows an earlier state, behind on purpose, until somebody refreshes', async () => {
    await refreshTo(104);
    await refreshTo(105);
    const states = await history();
    expect(states.map(({ isShown }) => isShown)).toEqual([true, false, false]);
    const { id } = await counts();
    const slip: ChangeSlip = (
      await ines.get(`/api/tethers/compare?from=${states[2]!.snapshot}&to=${states[1]!.snapshot}`)
    ).body;
    expect(slip.rows[0]!.cells[0]).toMatchObject({ before: { value: 97 }, after: { value: 104 } });
    await ines.post(`/api/tethers/${id}/go-back`).send({ state: states[2]!.id }).expect(200);
    await server.keeper.idle();
    const back = await counts();
    expect(back).toMatchObject({
      standing: 'behind',
      base: states[2]!.snapshot,
      pinnedTo: states[2]!.at,
    });
    expect(await figure(D8)).toBe(97);
    expect(await needs()).toEqual([]);
    // Automatic or not: what is shown on purpose stays.
    await setMode({ kind: 'automatic' });
    await save([setCell('Counts', 'D8', 106)]);
    const later = await comesTo(({ pending }) => pending !== back.pending);
    expect(later).toMatchObject({ standing: 'behind', base: back.base });
    await ines
      .post('/api/tethers/refresh')
      .send({ tethers: [{ id, seen: later.pending }] })
      .expect(200);
    expect(await counts()).toMatchObject({ standing: 'in step', pinnedTo: null });
    expect(await figure(D8)).toBe(106);
  });

  test('a refresh is taken back from the log, once, and only while it is shown', async () => {
    const before = await counts();
    await refreshTo(104);
    const first = (await log()).find(({ kind }) => kind === 'refreshed')!;
    await refreshTo(105);
    const second = (await log()).find(({ kind }) => kind === 'refreshed')!;
    const refused = await ines.post(`/api/log/${first.id}/take-back`).expect(422);
    expect(refused.body.fault.code).toBe('not-taken-back');
    await ines.post(`/api/log/${second.id}/take-back`).expect(200);
    await server.keeper.idle();
    expect(await figure(D8)).toBe(104);
    expect(await counts()).toMatchObject({ standing: 'behind' });
    await ines.post(`/api/log/${second.id}/take-back`).expect(422);
    await ines.post(`/api/log/${first.id}/take-back`).expect(200);
    expect((await counts()).base).toBe(before.base);
    const entries = await log();
    expect(entries.find(({ id }) => id === second.id)!.takenBackAt).not.toBeNull();
  });

  test('modes, holds and freezing are taken back as well', async () => {
    await setMode({ kind: 'automatic' });
    await hold(true);
    const { id } = await counts();
    const entries = await log();
    for (const kind of ['held', 'mode changed'] as const) {
      const entry = entries.find((each) => each.kind === kind)!;
      await ines.post(`/api/log/${entry.id}/take-back`).expect(200);
    }
    expect((await document()).hold).toBeNull();
    expect((await counts()).modeFrom).toBe('document');
    await ines.put(`/api/tethers/${id}/frozen`).send({ isFrozen: true }).expect(200);
    await save([setCell('Counts', 'D8', 104)]);
    await server.keeper.idle();
    expect(await counts()).toMatchObject({ standing: 'frozen', pending: null });
    const frozen = (await log()).find(({ kind }) => kind === 'frozen')!;
    await ines.post(`/api/log/${frozen.id}/take-back`).expect(200);
    await comesTo(({ standing }) => standing === 'behind');
  });

  test('is thinned out after thirty days, and snapshots that nothing needs go', async () => {
    await refreshTo(104);
    await refreshTo(105);
    await refreshTo(106);
    const middle = (await history())[2]!;
    await server.db.execute(
      sql`update tether_states set at = at - interval '40 days' where snapshot <> ${(await counts()).base}`,
    );
    const refreshed = (await log()).filter(({ kind }) => kind === 'refreshed').slice(0, 3);
    const slips = () =>
      Promise.all(
        refreshed.map(async ({ id }) => (await ines.get(`/api/log/${id}/slip`).expect(200)).body),
      );
    const before = await slips();
    expect(before[0].rows[0].cells[0]).toMatchObject({
      before: { value: 105 },
      after: { value: 106 },
    });
    await thinHistory(server);
    // What happened can be read on, although the states it led between are gone.
    expect(await slips()).toEqual(before);
    const left = await history();
    expect(left.map(({ snapshot }) => snapshot)).not.toContain(middle.snapshot);
    expect(left.length).toBeGreaterThanOrEqual(2);
    await ines.get(`/api/snapshots/${middle.snapshot}`).expect(404);
    await ines.get(`/api/snapshots/${(await counts()).base}`).expect(200);
  });
});

test('what changed is marked for each person until they have looked', async () => {
  const tam = await server.as('tam');
  await ines.post(`/api/looks/opened/${documentId}`).expect(200);
  await tam.post(`/api/looks/opened/${documentId}`).expect(200);
  const before = await counts();
  await setMode({ kind: 'automatic' });
  await save([setCell('Counts', 'D8', 104)]);
  const { id, base, lookedAt } = await comesTo((tether) => tether.base !== before.base);
  expect(lookedAt).toBe(before.base);
  await ines
    .post('/api/looks/looked-at')
    .send({ tethers: [{ id, base }] })
    .expect(204);
  expect((await counts()).lookedAt).toBeNull();
  const seenByTam = ((await tam.get(`/api/documents/${documentId}/tethers`)).body as Tether[]).find(
    (each) => each.id === id,
  )!;
  expect(seenByTam.lookedAt).toBe(before.base);
});

describe('the ledger', () => {
  const ledger = async (query: Record<string, string>): Promise<LedgerPage> =>
    (await ines.get(`/api/ledger?${new URLSearchParams(query)}`).expect(200)).body;

  test('finds, sorts and groups', async () => {
    const all = await ledger({ sort: 'name' });
    expect(all.rows.map(({ tether }) => tether.name)).toEqual([
      'Boardwalk piles as driven',
      'Planting counts by plot',
    ]);
    const turned = await ledger({ sort: 'name', down: 'yes' });
    expect(turned.rows[0]!.tether.name).toBe('Planting counts by plot');
    expect((await ledger({ words: 'AUTUMN pile' })).total).toBe(1);
    expect((await ledger({ words: '100%' })).total).toBe(0);
    expect((await ledger({ mode: 'automatic' })).total).toBe(0);
    await setMode({ kind: 'automatic' });
    expect((await ledger({ mode: 'automatic' })).total).toBe(1);
    expect((await ledger({ group: 'source' })).groups).toEqual([
      { label: 'Monitoring/planting-counts.xlsx', count: 1 },
      { label: 'Works/boardwalk-piles.xlsx', count: 1 },
    ]);
    await ines.get('/api/ledger?standing=wet').expect(400);
  });

  test('does one thing to many: those named, or all that a question finds', async () => {
    await save([setCell('Counts', 'D8', 104)]);
    await comesTo(({ standing }) => standing === 'behind');
    const act = async (selection: object, what: object) =>
      (await ines.post('/api/ledger/act').send({ selection, act: what }).expect(200)).body;
    expect(await act({ query: {} }, { kind: 'mode', mode: { kind: 'manual' } })).toMatchObject({
      done: 2,
    });
    expect((await ledger({ mode: 'manual' })).total).toBe(2);
    expect(await act({ query: {} }, { kind: 'hold', isHeld: true })).toMatchObject({ done: 1 });
    const { refused } = await act({ query: {} }, { kind: 'refresh' });
    expect(refused[0]).toMatchObject({
      name: 'Planting counts by plot',
      fault: { code: 'document-held' },
    });
    await act({ query: {} }, { kind: 'hold', isHeld: false });
    expect(await act({ ids: [(await counts()).id] }, { kind: 'refresh' })).toEqual({
      done: 1,
      refused: [],
    });
    expect(await act({ query: {} }, { kind: 'freeze' })).toMatchObject({ done: 2 });
    expect((await ledger({ standing: 'frozen' })).total).toBe(2);
    await act({ query: {} }, { kind: 'hold', isHeld: true });
    expect(await act({ query: {} }, { kind: 'tie' })).toMatchObject({
      done: 0,
      refused: [{ fault: { code: 'document-held' } }, { fault: { code: 'document-held' } }],
    });
    await act({ query: {} }, { kind: 'hold', isHeld: false });
    expect(await act({ query: {} }, { kind: 'tie' })).toMatchObject({ done: 2 });
    await comesTo(({ standing }) => standing === 'in step');
  });

  test('views are kept for each person', async () => {
    const query = { standing: 'behind', group: 'document' };
    const { body } = await ines
      .post('/api/ledger/views')
      .send({ name: 'Behind', query })
      .expect(201);
    expect((await ines.get('/api/ledger/views')).body).toEqual([
      { id: body.id, name: 'Behind', query },
    ]);
    expect((await (await server.as('tam')).get('/api/ledger/views')).body).toEqual([]);
    await ines.delete(`/api/ledger/views/${body.id}`).expect(204);
    expect((await ines.get('/api/ledger/views')).body).toEqual([]);
  });
});

test('the log is filtered by document, source, person and kind', async () => {
  await setMode({ kind: 'automatic' });
  await save([setCell('Counts', 'D8', 104)]);
  await comesTo(({ refreshedHow }) => refreshedHow === 'automatically');
  const kinds = async (query: Record<string, string>) =>
    (await ines.get(`/api/log?${new URLSearchParams(query)}`).expect(200)).body.entries.map(
      ({ kind }: LogEntry) => kind,
    );
  expect(await kinds({ person: 'nobody' })).toEqual(['refreshed']);
  expect(await kinds({ kind: 'mode changed' })).toEqual(['mode changed']);
  const { source } = await counts();
  expect(await kinds({ source: source.id })).toEqual(['refreshed', 'mode changed', 'placed']);
  expect(await kinds({ document: documentId })).toHaveLength(4);
});
