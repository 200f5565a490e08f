import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, describe, expect, test } from '@jest/globals';
import type { LogEntry, SourceFolder, Tether } from '@tether/contract';
import { type LineChange, mooringName } from '@tether/core';
import { planLines } from '@tether/formats';
import * as xlsx from 'xlsx';
import { liftMoorings } from '../changing/moorings.ts';
import { eventually, startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
let server: TestServer;
let ines: Awaited<ReturnType<TestServer['as']>>;
let report: string;

async function begin() {
  server = await startTestServer();
  ines = await server.as('ines');
  report = (await ines.get('/api/documents')).body[0].id;
}
afterEach(() => server?.stop());

const file = () => join(server.sources, 'monitoring/planting-counts.xlsx');
const tethers = async (): Promise<Tether[]> =>
  (await ines.get(`/api/documents/${report}/tethers`)).body;
const tether = async (id: string) => (await tethers()).find((each) => each.id === id)!;
const log = async (): Promise<LogEntry[]> => (await ines.get('/api/log')).body.entries;
const moor = (id: string, isMoored: boolean) =>
  ines.put(`/api/tethers/${id}/mooring`).send({ isMoored });
/** Names of the workbook, as an independent reader has them (xlsx 0.18.5). */
const names = async () =>
  (xlsx.read(await readFile(file()), { type: 'buffer' }).Workbook?.Names ?? [])
    .map(({ Name, Ref }) => `${Name} ${Ref}`)
    .sort();

/** An object of fixed cells of the counts, standing in the report. */
async function place(area = { top: 4, left: 1, bottom: 16, right: 4 }): Promise<Tether> {
  const all = ((await ines.get('/api/sources')).body as SourceFolder[]).flatMap(
    ({ sources }) => sources,
  );
  const source = all.find(({ path }) => path === 'planting-counts.xlsx')!;
  const reach = { kind: 'block', sheet: 'Counts', area };
  const request = { sourceId: source.id, reach, name: 'Counts of the plots' };
  const placed = await ines.post(`/api/documents/${report}/tethers`).send(request).expect(201);
  const { version, content } = (await ines.get(`/api/documents/${report}`)).body;
  const attrs = { tetherId: placed.body.id, copyOf: null, form: 'table' };
  content.content.push({ type: 'placedObject', attrs });
  await ines.put(`/api/documents/${report}/content`).send({ version, content }).expect(200);
  return placed.body;
}
/** A spreadsheet program puts rows in; its user changes what stands there. */
async function putIn(change: Pick<LineChange, 'at' | 'count'>) {
  const plan = await planLines(file(), 'counts.xlsx', {
    ...{ sheet: 'Counts', axis: 'rows', kind: 'put in' },
    ...change,
  });
  if (!plan.ok) throw new Error(plan.fault.message);
  await writeFile(file(), plan.value.bytes);
}
const areaOf = ({ reach }: Tether) => (reach.kind === 'block' ? reach.area : null);

describe('an object that is moored', () => {
  test('has a hidden name in its workbook, by which it is followed wherever its rows go', async () => {
    await begin();
    const before = await names();
    const own = await place();
    const { body } = await moor(own.id, true).expect(200);
    const name = mooringName(own.id);
    expect(body.reach).toEqual({ ...own.reach, mooring: name });
    expect(await names()).toEqual([`${name} Counts!$A$4:$D$16`, ...before].sort());
    const settled = () =>
      eventually(
        () => tether(own.id),
        (each) => areaOf(each)?.top === 7 && each.standing !== 'adrift',
      );
    await putIn({ at: 2, count: 3 });
    const after = await settled();
    expect(areaOf(after)).toEqual({ top: 7, left: 1, bottom: 19, right: 4 });
    expect(after.standing).toBe('in step');
    // A row inside is in it: without a mooring a fixed block stays as large as it is.
    await putIn({ at: 12, count: 1 });
    await eventually(
      () => tether(own.id),
      (each) => areaOf(each)?.bottom === 20,
    );
    expect((await log()).find(({ kind }) => kind === 'reach followed')!.summary).toContain(
      'The workbook keeps them in step by its mooring.',
    );
  }, 60_000);

  test('lets go by hand or by the log: the name goes, all else in the file stays', async () => {
    await begin();
    const before = await names();
    const own = await place();
    const held = xlsx.read(await readFile(file()), { type: 'buffer' }).Sheets.Counts;
    await moor(own.id, true).expect(200);
    await server.keeper.idle();
    const { body } = await moor(own.id, false).expect(200);
    expect(body.reach).toEqual(own.reach);
    expect(await names()).toEqual(before);
    expect(xlsx.read(await readFile(file()), { type: 'buffer' }).Sheets.Counts).toEqual(held);
    // Taken back it is moored again; that taken back, it is not.
    await server.keeper.idle();
    const [lifted] = (await log()).filter(({ tether }) => tether?.id === own.id);
    await ines.post(`/api/log/${lifted!.id}/take-back`).expect(200);
    expect(await names()).toContain(`${mooringName(own.id)} Counts!$A$4:$D$16`);
    await server.keeper.idle();
    expect((await tether(own.id)).standing).toBe('in step');
  }, 60_000);

  test('ends with its tether: frozen, or taken out of the text for good', async () => {
    await begin();
    const before = await names();
    const [frozen, gone] = [await place(), await place()];
    // One after the other, without waiting: each finds the file as the one before left it.
    for (const { id } of [frozen, gone]) await moor(id, true).expect(200);
    await server.keeper.idle();
    await ines.put(`/api/tethers/${frozen.id}/frozen`).send({ isFrozen: true }).expect(200);
    const { version, content } = (await ines.get(`/api/documents/${report}`)).body;
    content.content = content.content.filter(
      (node: { attrs?: { tetherId?: string } }) => node.attrs?.tetherId !== gone.id,
    );
    await ines.put(`/api/documents/${report}/content`).send({ version, content }).expect(200);
    await liftMoorings(server);
    // What was taken out can be put back: it is let go later.
    expect(await names()).toEqual([`${mooringName(gone.id)} Counts!$A$4:$D$16`, ...before].sort());
    await server.keeper.idle();
    await liftMoorings(server, { isFinal: true });
    expect(await names()).toEqual(before);
    expect((await tether(gone.id)).reach).toEqual(gone.reach);
  }, 60_000);

  test('says so when somebody saved the workbook without it, and is found by what it holds', async () => {
    await begin();
    const own = await place();
    const old = await readFile(file());
    await moor(own.id, true).expect(200);
    await server.keeper.idle();
    await writeFile(file(), old);
    const now = await eventually(
      () => tether(own.id),
      ({ warnings }) => warnings.some(({ code }) => code === 'mooring gone'),
    );
    expect(now.standing).toBe('in step');
    await server.keeper.idle();
    await putIn({ at: 2, count: 2 });
    await eventually(
      () => tether(own.id),
      (each) => areaOf(each)?.top === 6 && each.standing === 'in step',
    );
    await moor(own.id, true).expect(200);
    expect(await names()).toContain(`${mooringName(own.id)} Counts!$A$6:$D$18`);
  }, 60_000);
});

test('what finds itself, and texts, cannot be moored', async () => {
  await begin();
  for (const each of await tethers()) {
    if (each.reach.kind === 'block' && each.source.path.endsWith('.xlsx')) continue;
    const { body } = await moor(each.id, true).expect(422);
    expect(body.fault.code).toBe('mooring-not-possible');
  }
  const odile = await server.as('odile');
  const [any] = await tethers();
  await odile.put(`/api/tethers/${any!.id}/mooring`).send({ isMoored: true }).expect(403);
}, 60_000);
