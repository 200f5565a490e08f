import { randomUUID } from 'node:crypto';
import { appendFile, mkdir, open, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { DocumentDetail, LogEntry, LogPage, Tether } from '@tether/contract';
import type { Mode } from '@tether/core';
import { type ColleagueEdit, saveAsColleague, setCell } from '@tether/demo';
import type { ReportContent } from '@tether/documents';
import { sql } from 'drizzle-orm';
import { alignTimetables, refreshDue } from '../changing/timetable.ts';
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
const tethers = async (): Promise<Tether[]> =>
  (await ines.get(`/api/documents/${documentId}/tethers`)).body;
const counts = async (): Promise<Tether> =>
  (await tethers()).find(({ name }) => name === 'Planting counts by plot')!;
const comesTo = (isRight: (tether: Tether) => boolean) => eventually(counts, isRight);
const setMode = async (mode: Mode | null) =>
  ines
    .patch(`/api/tethers/${(await counts()).id}`)
    .send({ mode })
    .expect(200);
const log = async (query = ''): Promise<LogEntry[]> =>
  (await ines.get(`/api/log${query}`)).body.entries;
const document = async (): Promise<DocumentDetail<ReportContent>> =>
  (await ines.get(`/api/documents/${documentId}`)).body;
const DAILY: Mode = { kind: 'timetable', timetable: { at: '07:30', days: 'daily', zone: 'UTC' } };
/** The timetable's moment has come. */
const due = () =>
  server.db.execute(
    sql`update tethers set next_due = now() - interval '1 second' where next_due is not null`,
  );
const behind = async (edits: ColleagueEdit[]) => {
  await save(edits);
  return comesTo(({ standing }) => standing === 'behind');
};

describe('a timetable', () => {
  // What is due is done when a test says so, not by the process that looks for it every few seconds.
  beforeEach(() => {
    jest.spyOn(server.queue, 'askTimetable').mockResolvedValue();
  });

  test('asks before harm, as an automatic object does, and says so once', async () => {
    await setMode(DAILY);
    const before = await behind([setCell('Counts', 'D4', 'Alive')]);
    await due();
    await refreshDue(server);
    expect(await counts()).toMatchObject({
      base: before.base,
      standing: 'behind',
      waits: { code: 'waits-headers' },
    });
    await due();
    await refreshDue(server);
    expect(await log('?kind=waits')).toHaveLength(1);
  });

  test('does not take what was left', async () => {
    await setMode(DAILY);
    const { id, pending, base } = await behind([setCell('Counts', 'D8', 104)]);
    await ines
      .post('/api/tethers/leave')
      .send({ tethers: [{ id, seen: pending }] })
      .expect(200);
    await due();
    await refreshDue(server);
    expect(await counts()).toMatchObject({ base, standing: 'behind' });
    expect((await counts()).left).not.toBeNull();
  });

  test('whose process is killed in the middle is still due, and done by the next', async () => {
    await setMode(DAILY);
    const before = await behind([setCell('Counts', 'D8', 104)]);
    await due();
    // Killed before anything, while the source is looked at, and while it is written down.
    const killed = () => {
      throw new Error('killed');
    };
    await save([setCell('Counts', 'D8', 105)]);
    const dying = [
      { ...server, db: Object.create(server.db, { select: { value: killed } }) },
      { ...server, locks: Object.assign(Object.create(server.locks), { run: killed }) },
      { ...server, db: Object.create(server.db, { transaction: { value: killed } }) },
    ];
    for (const each of dying) {
      await refreshDue(each).catch(() => undefined);
      const now = await counts();
      expect(now.base).toBe(before.base);
      expect(new Date(now.nextDue!).getTime()).toBeLessThan(Date.now());
    }
    await refreshDue(server);
    expect(await counts()).toMatchObject({ standing: 'in step', refreshedHow: 'by timetable' });
    expect(new Date((await counts()).nextDue!).getTime()).toBeGreaterThan(Date.now());
  });

  test('is put right after a clock ran ahead', async () => {
    await setMode(DAILY);
    const right = (await counts()).nextDue;
    await server.db.execute(
      sql`update tethers set next_due = next_due + interval '40 days' where next_due is not null`,
    );
    await alignTimetables(server);
    expect((await counts()).nextDue).toBe(right);
    // One that is right, or due, is left alone.
    await alignTimetables(server);
    expect((await counts()).nextDue).toBe(right);
  });
});

describe('on opening, always', () => {
  test('sees a save of a moment ago, and says who opened it', async () => {
    await setMode({ kind: 'on opening', how: 'always' });
    const before = await counts();
    // Nothing watches: nobody has noticed it yet.
    await server.keeper.stop();
    await save([setCell('Counts', 'D8', 104)]);
    await ines.post(`/api/looks/opened/${documentId}`).expect(200);
    const after = await counts();
    expect(after).toMatchObject({
      standing: 'in step',
      refreshedBy: 'Ines Fallow',
      refreshedHow: 'on opening',
    });
    expect(after.base).not.toBe(before.base);
    expect((await log())[0]).toMatchObject({ person: 'Ines Fallow', how: 'on opening' });
  });

  test('asks before harm', async () => {
    await setMode({ kind: 'on opening', how: 'always' });
    const { base } = await behind([setCell('Counts', 'D4', 'Alive')]);
    await ines.post(`/api/looks/opened/${documentId}`).expect(200);
    expect(await counts()).toMatchObject({ base, waits: { code: 'waits-headers' } });
  });
});

describe('what was left or gone back', () => {
  test('stays so when the source passes through what is shown, until a person says otherwise', async () => {
    const first = await counts();
    const changed = await behind([setCell('Counts', 'D8', 104)]);
    await ines
      .post('/api/tethers/leave')
      .send({ tethers: [{ id: changed.id, seen: changed.pending }] })
      .expect(200);
    await save([setCell('Counts', 'D8', 97)]);
    await comesTo(({ standing }) => standing === 'in step');
    const again = await behind([setCell('Counts', 'D8', 104)]);
    expect(again.pending).toBe(changed.pending);
    expect(again.left).toMatchObject({ by: 'Ines Fallow' });

    await ines
      .post('/api/tethers/refresh')
      .send({ tethers: [{ id: again.id, seen: again.pending }] })
      .expect(200);
    const states = (await ines.get(`/api/tethers/${first.id}/history`)).body;
    await ines.post(`/api/tethers/${first.id}/go-back`).send({ state: states[1].id }).expect(200);
    await comesTo(({ standing, pinnedTo }) => standing === 'behind' && pinnedTo !== null);
    await setMode({ kind: 'automatic' });
    await save([setCell('Counts', 'D8', 97)]);
    const passed = await comesTo(({ standing }) => standing === 'in step');
    expect(passed.pinnedTo).not.toBeNull();
    await save([setCell('Counts', 'D8', 110)]);
    const kept = await comesTo(({ standing }) => standing === 'behind');
    expect(kept).toMatchObject({ base: first.base, pinnedTo: passed.pinnedTo });

    await ines.post(`/api/tethers/${first.id}/follow`).expect(200);
    const follows = await counts();
    expect(follows).toMatchObject({ standing: 'in step', pinnedTo: null, left: null });
    expect(follows.base).not.toBe(first.base);
    expect((await log('?kind=follows again'))[0]).toMatchObject({ person: 'Ines Fallow' });
  });
});

describe('the log', () => {
  test('has an entry for every act: names, the share that asks, objects taken out and put back', async () => {
    await ines.patch(`/api/documents/${documentId}`).send({ name: 'Spring report' }).expect(200);
    await ines.patch(`/api/documents/${documentId}`).send({ share: 20 }).expect(200);
    const { id, name } = await counts();
    await ines.patch(`/api/tethers/${id}`).send({ name: 'Counts' }).expect(200);
    const [entry] = await log('?kind=renamed');
    await ines.post(`/api/log/${entry!.id}/take-back`).expect(200);
    expect((await counts()).name).toBe(name);
    await mkdir(join(server.sources, 'more'));
    const added = await ines
      .post('/api/source-folders')
      .send({ name: 'More', path: join(server.sources, 'more') })
      .expect(201);
    await ines.delete(`/api/source-folders/${added.body.id}`).expect(200);
    await ines.post('/api/documents').send({ name: 'Another' }).expect(201);
    const { content, version } = await document();
    const without = { ...content, content: content.content.slice(0, 2) };
    const put = (text: object, upon: number) =>
      ines
        .put(`/api/documents/${documentId}/content`)
        .send({ version: upon, content: text })
        .expect(200);
    await put(without, version);
    await put(content, version + 1);
    const told = (await log()).map(({ kind, tether }) => [kind, tether?.name]);
    expect(told).toEqual(
      expect.arrayContaining([
        ['renamed', undefined],
        ['share changed', undefined],
        ['renamed', 'Counts'],
        ['folder added', undefined],
        ['folder removed', undefined],
        ['document made', undefined],
        ['taken out', 'Planting counts by plot'],
        ['put back', 'Planting counts by plot'],
      ]),
    );
    for (const kind of ['renamed', 'share changed']) {
      const entry = (await log(`?kind=${kind}`)).find(
        (each) => each.tether === null && each.canTakeBack,
      );
      await ines.post(`/api/log/${entry!.id}/take-back`).expect(200);
    }
    expect(await document()).toMatchObject({ name: 'Autumn monitoring report', share: 50 });
  });

  test('does not take an older mode back over a newer one', async () => {
    await setMode({ kind: 'automatic' });
    const [older] = await log();
    await setMode({ kind: 'manual' });
    const refused = await ines.post(`/api/log/${older!.id}/take-back`).expect(422);
    expect(refused.body.fault.message).toContain('somebody changed it since');
    expect((await counts()).mode).toEqual({ kind: 'manual' });
    const [newer] = await log();
    await ines.post(`/api/log/${newer!.id}/take-back`).expect(200);
    expect((await counts()).mode).toEqual({ kind: 'automatic' });
  });

  test('knows what was done to many at once, in several steps, and takes it back as one', async () => {
    const all = await tethers();
    const name = randomUUID();
    for (const { id } of all) {
      await ines
        .post('/api/ledger/act')
        .send({ selection: { ids: [id] }, act: { kind: 'freeze' }, name })
        .expect(200);
    }
    const [entry] = await log();
    expect(entry!.act).toEqual({ id: name, count: all.length, open: all.length });
    const entries = (await ines.get(`/api/log/acts/${name}`)).body;
    expect(entries).toHaveLength(all.length);
    const outcome = (await ines.post('/api/log/take-back').send({ entries }).expect(200)).body;
    expect(outcome).toEqual({ done: all.length, refused: [] });
    expect((await tethers()).some(({ frozen }) => frozen)).toBe(false);
    expect((await log()).find(({ act }) => act?.id === name)!.act!.open).toBe(0);
    // Taken back before, it is told of each.
    const again = (await ines.post('/api/log/take-back').send({ entries }).expect(200)).body;
    expect(again.done).toBe(0);
    expect(again.refused).toHaveLength(all.length);
  });

  test('is read on from a mark, whatever comes meanwhile', async () => {
    for (let at = 0; at < 60; at++) {
      await ines
        .patch(`/api/documents/${documentId}`)
        .send({ share: 10 + at })
        .expect(200);
    }
    const first: LogPage = (await ines.get('/api/log')).body;
    const mark = first.entries.at(-1)!.id;
    const second: LogPage = (await ines.get(`/api/log?before=${mark}`)).body;
    for (let at = 0; at < 7; at++) {
      await ines
        .patch(`/api/documents/${documentId}`)
        .send({ share: 80 + at })
        .expect(200);
    }
    const now: LogPage = (await ines.get(`/api/log?since=${mark}`)).body;
    expect(now.entries).toHaveLength(first.entries.length + 7);
    const seen = [...now.entries, ...second.entries].map(({ id }) => id);
    const all = await server.db.execute<{ id: string }>(
      sql`select id from log_entries order by id desc`,
    );
    expect(seen).toEqual(all.rows.map(({ id }) => Number(id)).slice(0, seen.length));
  });
});

describe('a text that is saved in several writes, with pauses', () => {
  test('is not taken while its end is missing, and is whole when it is', async () => {
    const path = join(server.sources, 'monitoring/hours.csv');
    const rows = (from: number, to: number) =>
      Array.from({ length: to - from }, (_, at) => `Hour ${from + at},${from + at}\n`).join('');
    await writeFile(path, `Hour,Level\n${rows(0, 100)}`);
    const source = await eventually(
      async () =>
        (await ines.get('/api/sources')).body
          .flatMap(
            ({ sources }: { sources: { path: string; id: string; state: string }[] }) => sources,
          )
          .find((each: { path: string }) => each.path === 'hours.csv'),
      (found) => found?.state === 'present',
    );
    const placed: Tether = (
      await ines
        .post(`/api/documents/${documentId}/tethers`)
        .send({
          sourceId: source.id,
          name: 'Hours',
          reach: { kind: 'growing block', sheet: 'hours', header: { row: 1, left: 1, right: 2 } },
        })
        .expect(201)
    ).body;
    const summaries = new Set<string | null>();
    let isOver = false;
    const watching = (async () => {
      while (!isOver) {
        const now = (await tethers()).find(({ id }) => id === placed.id)!;
        summaries.add(now.summary);
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
    })();
    // Written anew in five pieces, a second apart; each of them is at rest for longer than a save usually is.
    const file = await open(path, 'w');
    await file.close();
    await appendFile(path, 'Hour,Level\n');
    for (let piece = 0; piece < 4; piece++) {
      await new Promise((resolve) => setTimeout(resolve, 1_000));
      await appendFile(path, rows(piece * 25, piece * 25 + 25));
    }
    await appendFile(path, rows(100, 103));
    const { summary } = await eventually(
      async () => (await tethers()).find(({ id }) => id === placed.id)!,
      ({ standing }) => standing === 'behind',
      20_000,
    );
    isOver = true;
    await watching;
    summaries.add(summary);
    expect([...summaries]).toEqual([null, '3 rows inserted']);
  });
});

describe('a document as a whole', () => {
  const listed = async (): Promise<string[]> =>
    ((await ines.get('/api/documents')).body as DocumentDetail[]).map(({ name }) => name);

  test('is deleted with its objects, says so, and comes back from the log as it was', async () => {
    await behind([setCell('Counts', 'D8', 104)]);
    const before = await document();
    const shown = (await tethers()).filter(({ placed }) => placed).length;
    await ines.delete(`/api/documents/${documentId}`).expect(200);
    expect(await listed()).not.toContain(before.name);
    const gone = await ines.get(`/api/documents/${documentId}`).expect(404);
    expect(gone.body.fault).toMatchObject({ code: 'document-deleted' });
    expect(gone.body.fault.message).toContain(before.name);
    // Nobody is asked about its objects any more, and nothing is written in it from outside.
    expect((await ines.get('/api/tethers/needs-you')).body.needs).toEqual([]);
    await ines
      .put(`/api/documents/${documentId}/content`)
      .send({ version: before.version, content: before.content })
      .expect(404);
    await ines.delete(`/api/documents/${documentId}`).expect(200);

    const [entry] = await log('?kind=document deleted');
    expect(entry!.summary).toBe(`“${before.name}”, with ${shown} objects.`);
    await ines.post(`/api/log/${entry!.id}/take-back`).expect(200);
    expect((await document()).content).toEqual(before.content);
    expect((await tethers()).filter(({ placed }) => placed)).toHaveLength(shown);
    expect((await counts()).standing).toBe('behind');
    const [back] = await log('?kind=document back');
    await ines.post(`/api/log/${back!.id}/take-back`).expect(200);
    expect(await listed()).not.toContain(before.name);
  });

  test('what is behind in it is taken when it comes back, where it is automatic', async () => {
    await setMode({ kind: 'automatic' });
    await ines.delete(`/api/documents/${documentId}`).expect(200);
    await save([setCell('Counts', 'D8', 104)]);
    await comesTo(({ standing }) => standing === 'behind');
    const [entry] = await log('?kind=document deleted');
    await ines.post(`/api/log/${entry!.id}/take-back`).expect(200);
    await comesTo(({ standing }) => standing === 'in step');
  });

  test('is duplicated with objects of its own and its rules', async () => {
    await ines.patch(`/api/documents/${documentId}`).send({ share: 20 }).expect(200);
    const first = await ines.post(`/api/documents/${documentId}/copies`).expect(201);
    const second = await ines.post(`/api/documents/${documentId}/copies`).expect(201);
    expect([first.body.name, second.body.name]).toEqual([
      'Autumn monitoring report, copy',
      'Autumn monitoring report, copy 2',
    ]);
    expect(first.body).toMatchObject({ share: 20, kind: 'report' });
    const own: Tether[] = (await ines.get(`/api/documents/${first.body.id}/tethers`)).body;
    const all = await tethers();
    expect(own.map(({ name }) => name).sort()).toEqual(all.map(({ name }) => name).sort());
    expect(own.filter(({ id }) => all.some((each) => each.id === id))).toEqual([]);
    // The copy goes on when what it was made of is gone.
    await ines.delete(`/api/documents/${documentId}`).expect(200);
    await ines.get(`/api/documents/${first.body.id}`).expect(200);
  });

  test('is neither deleted nor duplicated by those who may only look', async () => {
    const odile = await server.as('odile');
    await odile.delete(`/api/documents/${documentId}`).expect(403);
    await odile.post(`/api/documents/${documentId}/copies`).expect(403);
  });
});
