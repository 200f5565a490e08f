import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { EntriesSeen, LogEntry, SourceFolder, Tether } from '@tether/contract';
import { formatCell, parseCell } from '@tether/core';
import { type ColleagueEdit, saveAsColleague, setCell } from '@tether/demo';
import { openSource } from '@tether/formats';
import { eventually, startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
type Agent = Awaited<ReturnType<TestServer['as']>>;
let server: TestServer;
let ines: Agent;
let tam: Agent;
let id: string;

beforeEach(async () => {
  server = await startTestServer();
  [ines, tam] = [await server.as('ines'), await server.as('tam')];
  id = await sourceId('monitoring/planting-counts.xlsx');
}, 60_000);
afterEach(() => server?.stop());

async function sourceId(path: string): Promise<string> {
  const folders = (await ines.get('/api/sources')).body as SourceFolder[];
  const known = folders.flatMap(({ sources }) => sources);
  return known.find((each) => path.endsWith(each.path))!.id;
}
const path = () => join(server.sources, 'monitoring/planting-counts.xlsx');
const save = (edits: ColleagueEdit[]) => saveAsColleague(path(), edits);
const writing = { decimal: '.', dates: 'day first' };
const seenBy = async (who: Agent, source = id): Promise<EntriesSeen> =>
  (await who.get(`/api/sources/${source}/entries`).expect(200)).body;
interface Typing {
  isOverFormula?: boolean;
  seen?: string;
  source?: string;
  sheet?: string;
}
async function type(who: Agent, said: Record<string, string | null>, more: Typing = {}) {
  const { isOverFormula = false, seen = null, source = id, sheet = 'Counts' } = more;
  const { hash } = (await who.get(`/api/sources/${source}/contents`)).body;
  const cells = Object.entries(said).map(([ref, typed]) => ({
    ...parseCell(ref)!,
    typed,
    seen,
    isOverFormula,
  }));
  return who.put(`/api/sources/${source}/entries`).send({ hash, sheet, cells, writing });
}
async function saveAll(who: Agent, source = id) {
  const { plan } = await seenBy(who, source);
  const token = plan?.token ?? 'x'.repeat(64);
  return who.post(`/api/sources/${source}/entries/save`).send({ token });
}
const faces = ({ faces: all }: EntriesSeen) =>
  Object.fromEntries(all.map((each) => [formatCell(each), [each.text, each.mark]]));
/** What cells of the file hold now, read anew: values, and formulas with `=` in front. */
async function inFile(...refs: string[]): Promise<unknown[]> {
  const source = await openSource(path(), 'counts.xlsx');
  if (!source.ok) throw new Error(source.fault.message);
  const held = [];
  for (const ref of refs) {
    const { row, column } = parseCell(ref)!;
    const area = { top: row, left: column, bottom: row, right: column };
    const read = await source.value.readArea('Counts', area, { look: false });
    const [cell] = read.ok ? read.value.cells : [];
    held.push(cell?.formula === undefined ? cell?.value : [`=${cell.formula}`, cell.value]);
  }
  await source.value.close();
  return held;
}

describe('what is typed into a source', () => {
  test('is shown with what follows, saved in its file, and taken back with its formulas', async () => {
    const [, total] = await inFile('D8', 'D17');
    const [, sum] = total as [string, number];
    expect((await type(ines, { D8: '104', H8: '=D8/C8', H9: '=SUM(D5:D8)' })).status).toBe(200);
    const seen = await seenBy(tam);
    expect(seen.entries).toMatchObject([
      { kind: 'kept', agreed: '97', yours: '104', by: 'Ines Fallow', isMine: false },
      { yours: '=D8/C8' },
      { yours: '=SUM(D5:D8)' },
    ]);
    const shown = faces(seen);
    expect(shown.D8).toEqual(['104', 'entered']);
    expect(shown.D17).toEqual([(sum + 7).toLocaleString('en'), 'follows']);
    expect(shown.H8![1]).toBe('entered');
    expect(await inFile('D8')).toEqual([97]);

    expect((await saveAll(tam)).status).toBe(200);
    const [d8, d17, h8] = await inFile('D8', 'D17', 'H8');
    const [planted] = await inFile('C8');
    expect(d8).toBe(104);
    expect(d17).toEqual([(total as [string])[0], sum + 7]);
    expect(h8).toEqual(['=D8/C8', 104 / Number(planted)]);
    expect((await seenBy(ines)).entries).toEqual([]);
    // Objects that take of it hear of it.
    const [report] = (await ines.get('/api/documents')).body;
    await eventually(
      async () => (await ines.get(`/api/documents/${report.id}/tethers`)).body as Tether[],
      (all) => all.some(({ standing }) => standing === 'behind'),
    );
    const { entries } = (await ines.get('/api/log')).body as { entries: LogEntry[] };
    const entry = entries.find(({ kind }) => kind === 'written back')!;
    expect(entry.summary).toContain('D8 97 → 104, H8 nothing → =D8/C8');
    await ines.post(`/api/log/${entry.id}/take-back`).expect(200);
    expect(await inFile('D8', 'D17', 'H8', 'H9')).toEqual([97, total, undefined, undefined]);
  });

  test('puts a figure in the place of a formula only when that is said, and the formula comes back', async () => {
    const [before] = await inFile('D17');
    expect((await type(ines, { D17: '9' })).body.fault.code).toBe('write-formula');
    expect((await type(ines, { D17: '9' }, { isOverFormula: true })).status).toBe(200);
    expect((await saveAll(ines)).status).toBe(200);
    expect(await inFile('D17')).toEqual([9]);
    const { entries } = (await ines.get('/api/log')).body as { entries: LogEntry[] };
    const { id: entry } = entries.find(({ kind }) => kind === 'written back')!;
    await ines.post(`/api/log/${entry}/take-back`).expect(200);
    expect(await inFile('D17')).toEqual([before]);
  });

  test('is let go by itself where it is typed back, and one person’s at once', async () => {
    await type(ines, { D8: '104', D9: '1' });
    await type(tam, { D10: '5' });
    await type(ines, { D8: '97', D9: null });
    expect(Object.keys(faces(await seenBy(ines)))).toContain('D10');
    expect((await seenBy(ines)).entries).toHaveLength(1);
    await type(ines, { D9: '7' });
    await ines.delete(`/api/sources/${id}/entries`).expect(200);
    expect((await seenBy(ines)).entries).toMatchObject([{ typed: '5', by: 'Tam Reedsby' }]);
    await type(tam, { D10: null });
    expect(await seenBy(ines)).toEqual({ entries: [], faces: [], plan: null, fault: null });
  });

  test.each([
    ['a broken formula', { D8: '=SUM(' }, 'entry-formula'],
    ['a formula that rests on itself', { D8: '=D17' }, 'entry-formula'],
    ['a name made in a formula', { H8: '=LET(a,1,a)' }, 'entry-formula'],
    ['a text among figures', { D8: 'many' }, 'entry-not-number'],
  ])('%s is refused, with a word', async (_, said, code) => {
    expect((await type(ines, said as Record<string, string>)).body.fault.code).toBe(code);
    expect((await seenBy(ines)).entries).toEqual([]);
  });

  test('into a text keeps its form, and takes no formulas', async () => {
    const source = await sourceId('monitoring/tide-gauge.csv');
    const sheet = (await ines.get(`/api/sources/${source}/contents`)).body.sheets[0].name;
    const refused = await type(ines, { B3: '=B2' }, { source, sheet });
    expect(refused.body.fault.code).toBe('entry-formula');
    expect((await type(ines, { B3: '4.44' }, { source, sheet })).status).toBe(200);
    expect((await saveAll(ines, source)).status).toBe(200);
  });

  test('is not for those who may only look', async () => {
    const odile = await server.as('odile');
    expect((await type(odile, { D8: '1' })).status).toBe(403);
    expect((await odile.get(`/api/sources/${id}/entries`)).status).toBe(200);
    await odile.delete(`/api/sources/${id}/entries`).expect(403);
  });
});

describe('two people in one source', () => {
  test('fill different cells, and ask about the same one', async () => {
    await type(ines, { D8: '104' });
    expect((await type(tam, { D9: '130' })).status).toBe(200);
    const taken = await type(tam, { D8: '99' });
    expect(taken.body.fault).toMatchObject({
      code: 'entry-taken',
      message: 'Ines Fallow typed “104” into D8 meanwhile.',
    });
    const [own] = (await seenBy(tam)).entries;
    expect((await type(tam, { D8: '99' }, { seen: own!.at })).status).toBe(200);
    expect((await seenBy(ines)).entries).toMatchObject([
      { typed: '99', by: 'Tam Reedsby', agreed: '97' },
      { typed: '130' },
    ]);
  });

  test('a file that was saved meanwhile is asked about where it says something else, and where rows moved', async () => {
    await type(ines, { D8: '104', D9: '130', D10: '61' });
    await save([setCell('Counts', 'D8', 90), setCell('Counts', 'B10', 'Another plot')]);
    const seen = await eventually(
      () => seenBy(ines),
      ({ entries }) => entries[0]?.kind === 'contested',
    );
    expect(seen.entries.map(({ kind }) => kind)).toEqual(['contested', 'kept', 'contested']);
    expect(seen.entries[0]).toMatchObject({ agreed: '97', theirs: '90', yours: '104' });
    expect((await saveAll(ines)).body.fault.code).toBe('edits-undecided');
    const decide = (at: number, decision: string) =>
      ines
        .post(`/api/sources/${id}/entries/decide`)
        .send({ entry: seen.entries[at]!.id, decision })
        .expect(200);
    await decide(0, 'yours');
    await decide(2, 'theirs');
    expect((await saveAll(ines)).status).toBe(200);
    expect((await inFile('D8', 'D9', 'B10')).slice(0, 3)).toEqual([104, 130, 'Another plot']);
  });

  test('who typed upon an older state of the file looks again first', async () => {
    const { hash } = (await ines.get(`/api/sources/${id}/contents`)).body;
    await save([setCell('Counts', 'D8', 90)]);
    const cells = [{ row: 8, column: 4, typed: '1', seen: null }];
    const answer = await ines
      .put(`/api/sources/${id}/entries`)
      .send({ hash, sheet: 'Counts', cells, writing });
    expect(answer.body.fault.code).toBe('source-saved-meanwhile');
  });
});

describe('rows and columns of a source', () => {
  const plan = (change: object, who = ines) =>
    who.post(`/api/sources/${id}/lines/plan`).send(change);
  const row = { sheet: 'Counts', axis: 'rows', kind: 'put in', at: 10, count: 2 };
  async function change(wish: object) {
    const { token } = (await plan(wish).expect(200)).body;
    return ines.post(`/api/sources/${id}/lines`).send({ change: wish, token });
  }
  const lastLog = async () =>
    ((await ines.get('/api/log')).body.entries as LogEntry[]).find(
      ({ kind }) => kind === 'written back',
    )!;

  test('a write that cannot be taken back as a whole is laid out, cell by cell', async () => {
    await type(ines, { D8: '104', H9: '=SUM(D5:D8)' });
    expect((await saveAll(ines)).status).toBe(200);
    await save([setCell('Counts', 'D8', 90)]);
    const entry = await lastLog();
    const refused = await ines.post(`/api/log/${entry.id}/take-back`);
    expect(refused.body.fault.code).toBe('not-taken-back');
    const laid = await ines.post(`/api/log/${entry.id}/lay-out`).expect(200);
    expect(laid.body).toEqual({ sourceId: id });
    const { entries } = await seenBy(ines);
    expect(entries).toMatchObject([
      { kind: 'contested', agreed: '104', theirs: '90', yours: '97' },
      { kind: 'kept', agreed: '=SUM(D5:D8)', yours: '' },
    ]);
    const decision = { entry: entries[0]!.id, decision: 'yours' };
    await ines.post(`/api/sources/${id}/entries/decide`).send(decision).expect(200);
    expect((await saveAll(ines)).status).toBe(200);
    expect(await inFile('D8', 'H9')).toEqual([97, undefined]);
  });

  test('are put in with all that follows, said beforehand, logged and taken back', async () => {
    const before = await inFile('D17', 'D16');
    const seen = (await plan(row).expect(200)).body;
    expect(seen).toMatchObject({
      taken: 0,
      follows: { lost: 0 },
      notFinal: [],
      hasPrograms: false,
    });
    expect(seen.follows.formulas).toBeGreaterThan(3);
    const done = await ines
      .post(`/api/sources/${id}/lines`)
      .send({ change: row, token: seen.token });
    expect(done.status).toBe(200);
    const [[formula, total], last] = (await inFile('D19', 'D18')) as [[string, number], number];
    expect(formula).toBe('=SUM(D5:D18)');
    expect([total, last]).toEqual([(before[0] as [string, number])[1], before[1]]);
    const entry = await lastLog();
    expect(entry.summary).toBe('2 rows put in before row 10 of Counts.');
    await ines.post(`/api/log/${entry.id}/take-back`).expect(200);
    expect(await inFile('D17', 'D16')).toEqual(before);
    const back = await lastLog();
    expect(back.summary).toBe('Taken back: 2 rows put in before row 10 of Counts.');
    await ines.post(`/api/log/${back.id}/take-back`).expect(200);
    expect(await inFile('D18')).toEqual([last]);
  });

  test('taken out say how many cells go; of a file that changed since they are not put back', async () => {
    const out = { ...row, kind: 'take out', at: 16, count: 1 };
    expect((await plan(out)).body.taken).toBe(7);
    expect((await change(out)).status).toBe(200);
    expect(((await inFile('D16')) as [string, number][])[0]![0]).toBe('=SUM(D5:D15)');
    await save([setCell('Counts', 'D8', 90)]);
    const entry = await lastLog();
    const refused = await ines.post(`/api/log/${entry.id}/take-back`);
    expect(refused.body.fault).toMatchObject({ code: 'not-taken-back' });
    expect(await inFile('D8')).toEqual([90]);
  });

  test('wait until what was typed is saved, and for what was looked at', async () => {
    await type(ines, { D8: '104' });
    expect((await plan(row)).body.fault.code).toBe('entries-waiting');
    await type(ines, { D8: null });
    const { token } = (await plan(row)).body;
    await save([setCell('Counts', 'D8', 90)]);
    const late = await ines.post(`/api/sources/${id}/lines`).send({ change: row, token });
    expect(late.body.fault.code).toBe('slip-out-of-date');
    expect((await plan(row, await server.as('odile'))).status).toBe(403);
  });
});
