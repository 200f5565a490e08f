import { mkdir, mkdtemp, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { createServer, get, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildApp } from '@tether/server';
import { STEPS } from '@tether/server/changing/steps/registry';
import { connectDatabase } from '@tether/server/db/database';
import { insertDocument } from '@tether/server/db/documents';
import { insertPerson } from '@tether/server/db/people';
import { insertFolder, upsertSource } from '@tether/server/db/sources';
import { updateTether } from '@tether/server/db/tethers';
import { Engine } from '@tether/server/engine';
import { announce } from '@tether/server/events/announce';
import { hashPassword } from '@tether/server/people/password';
import { placeTether } from '@tether/server/placing/place';
import { startWorkThreads, stopWorkThreads } from '@tether/server/work-threads';
import { sql } from 'drizzle-orm';
import pg from 'pg';
import * as xlsx from 'xlsx';
import { workbook } from './files.ts';

/**
 * Measures the keeping of tethers with their sources, side by side with reading the same workbooks once with a common
 * library and doing nothing else. Leaves what it found in `.run/bench/keeping.json` for the other benchmarks' table.
 */
const WORKBOOKS = 100;
const EACH = 10;
const IN_ALL = 10_000;
const SCREENS = 50;
const EVENTS = 40;

const admin = process.env.TEST_DATABASE_URL!;
const name = `bench_${Date.now()}`;
await ask(admin, `create database ${name}`);
const url = new URL(admin);
url.pathname = name;
const root = await mkdtemp(join(tmpdir(), 'tether-bench-'));
const database = await connectDatabase(
  url.href,
  fileURLToPath(new URL('../../server/migrations', import.meta.url)),
);
const { db } = database;
const threads = startWorkThreads(join(tmpdir(), `${name}-backups`));
const engine = new Engine(database, url.href, 'server', threads);
const measured: { what: string; measured: string }[] = [];
const note = (what: string, result: string) => {
  measured.push({ what, measured: result });
  console.log(`${what}: ${result}`);
};

const path = (n: number) => `counts-${n}.xlsx`;
async function save(n: number, seed: number): Promise<void> {
  await prepare(n, seed);
  await putInPlace(n);
}
const waiting = (n: number) => join(root, `.saving-${n}`);
const prepare = (n: number, seed: number) => writeFile(waiting(n), workbook(200, 10, seed));
const putInPlace = (n: number) => rename(waiting(n), join(root, path(n)));
async function until(isDone: () => Promise<boolean>): Promise<void> {
  while (!(await isDone())) await new Promise((resolve) => setTimeout(resolve, 40));
}
const countOf = async (condition: ReturnType<typeof sql>): Promise<number> =>
  Number((await db.execute(sql`select count(*) as n from tethers where ${condition}`)).rows[0]!.n);

console.log(`Placing ${WORKBOOKS * EACH} objects …`);
const person = await insertPerson(db, {
  name: 'Ines Fallow',
  title: 'Programme officer',
  signInName: 'ines',
  role: 'owner',
  passwordHash: await hashPassword('saltmarsh'),
});
for (let n = 0; n < WORKBOOKS; n++) await save(n, n + 1);
const folder = await insertFolder(db, { name: 'Counts', root });
const documents: string[] = [];
for (let n = 0; n < 20; n++) {
  const content = { type: 'doc' as const, content: [] };
  documents.push(
    await insertDocument(db, { kind: 'report', name: `Report ${n}`, content, savedBy: person.id }),
  );
}
await engine.start({ watches: false });
await engine.keeper.start();
await engine.keeper.idle();
for (let n = 0; n < WORKBOOKS; n++) {
  const source = await upsertSource(db, { folderId: folder.id, path: path(n), state: 'present' });
  for (let k = 0; k < EACH; k++) {
    const area = { top: 1 + k * 20, left: 1, bottom: 20 + k * 20, right: 10 };
    const placed = await placeTether(engine, person.id, documents[(n + k) % documents.length]!, {
      sourceId: source.id,
      reach: { kind: 'block', sheet: 'Data', area },
      name: `Counts ${n}, part ${k}`,
    });
    if (!placed.ok) throw new Error(placed.fault.message);
    await updateTether(db, placed.value.id, { placed: true });
  }
}
for (const id of documents) {
  await db.transaction(async (tx) => {
    const by = { personId: person.id };
    await STEPS.mode.apply(tx, { of: 'document', id, mode: { kind: 'automatic' } }, by, engine);
    await STEPS.share.apply(tx, { documentId: id, share: 100 }, by, engine);
  });
}

// All changed.
const ours: number[] = [];
const library: number[] = [];
for (let round = 1; round <= 5; round++) {
  const since = new Date();
  for (let n = 0; n < WORKBOOKS; n++) await prepare(n, 1000 * round + n);
  // All at once, so that nothing is done before the last one is saved.
  for (let n = 0; n < WORKBOOKS; n++) await putInPlace(n);
  const saved = performance.now();
  const all = WORKBOOKS * EACH;
  await until(
    async () => (await countOf(sql`refreshed_at > ${since} and standing = 'in step'`)) === all,
  );
  ours.push(performance.now() - saved);
  await engine.keeper.idle();
  const began = performance.now();
  for (let n = 0; n < WORKBOOKS; n++)
    xlsx.read(await readFile(join(root, path(n))), { dense: true });
  library.push(performance.now() - began);
}
const [took, read] = [median(ours), median(library)];
// Round by round: how fast a shared machine is changes while it is measured.
const ratio = median(ours.map((each, round) => each / library[round]!));
note(
  `${WORKBOOKS * EACH} automatic tethers over ${WORKBOOKS} workbooks, all changed: from the last save to all in step`,
  `${Math.round(took)} ms; reading each workbook once with a common library and nothing else: ${Math.round(read)} ms; ratio ${ratio.toFixed(2)}`,
);

// One of many.
async function oneChanged(label: string): Promise<void> {
  const fromSave: number[] = [];
  const fromJob: number[] = [];
  for (let round = 0; round < 9; round++) {
    const since = new Date();
    await save(0, 50_000 + round + Math.round(since.getTime() % 1e6));
    const saved = performance.now();
    await until(async () => (await countOf(sql`refreshed_at > ${since}`)) === EACH);
    fromSave.push(performance.now() - saved);
    await engine.keeper.idle();
    const { rows } = await db.execute<{ ms: number }>(
      sql`select extract(epoch from (completed_on - created_on)) * 1000 as ms from pgboss.job
        where name = 'look' and state = 'completed' order by completed_on desc limit 1`,
    );
    fromJob.push(Number(rows[0]!.ms));
  }
  note(
    label,
    `${Math.round(median(fromJob))} ms from noticing to the new standing, ${Math.round(median(fromSave))} ms from the save, of which 150 ms are waiting for the file to be quiet`,
  );
}
await oneChanged(
  `1 workbook with ${EACH} tethers changed, of ${(WORKBOOKS * EACH).toLocaleString('en')} tethers in all`,
);
// Many more objects out of the other workbooks.
const copies = (IN_ALL - WORKBOOKS * EACH) / ((WORKBOOKS - 1) * EACH);
await db.execute(sql`
  insert into tethers (document_id, source_id, name, form, reach, base, placed)
  select t.document_id, t.source_id, t.name || ', copy ' || g, t.form, t.reach, t.base, true
  from tethers t cross join generate_series(1, ${Math.ceil(copies)}) g
  where t.source_id <> (select id from sources where path = ${path(0)})
  limit ${IN_ALL - WORKBOOKS * EACH}`);
await db.execute(sql`analyze`);
await oneChanged(`the same, of ${IN_ALL.toLocaleString('en')} tethers in all`);

// Screens.
const services = { ...engine, db, roots: [root], chromium: null, hasDemo: false };
const server = createServer(buildApp(services as never, null));
await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
const at = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api`;
const signedIn = await fetch(`${at}/sign-in`, {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify({ signInName: 'ines', password: 'saltmarsh' }),
});
const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!;
const heard: ((at: number, text: string) => void)[] = [];
const streams: IncomingMessage[] = [];
for (let n = 0; n < SCREENS; n++) {
  const stream = await new Promise<IncomingMessage>((resolve) => {
    get(`${at}/events`, { headers: { cookie } }, resolve);
  });
  stream.setEncoding('utf8');
  stream.on('data', (text: string) => {
    for (const tell of heard) tell(performance.now(), text);
  });
  streams.push(stream);
}
const delays: number[] = [];
for (let n = 0; n < EVENTS; n++) {
  let committed = 0;
  let count = 0;
  const early: number[] = [];
  await new Promise<void>((resolve) => {
    const tell = (time: number, text: string) => {
      if (!text.includes(`event-${n}"`)) return;
      count++;
      if (committed === 0) early.push(time);
      else delays.push(time - committed);
      if (count === SCREENS) {
        heard.splice(heard.indexOf(tell), 1);
        resolve();
      }
    };
    heard.push(tell);
    void db
      .transaction((tx) => announce(tx, { kind: 'tethers', documentId: `event-${n}` }))
      .then(() => {
        committed = performance.now();
        // Heard before this process knew of its own commit.
        delays.push(...early.map(() => 0));
      });
  });
}
delays.sort((a, b) => a - b);
note(
  `${SCREENS} open screens, ${EVENTS} events: from the commit to the screen`,
  `${delays[Math.floor(delays.length * 0.5)]!.toFixed(1)} ms in the middle, ${delays[Math.floor(delays.length * 0.95)]!.toFixed(1)} ms at the 95th percentile`,
);

// A large source.
await writeFile(waiting(-1), workbook(140_000, 20, 1));
await rename(waiting(-1), join(root, 'large.xlsx'));
const large = await upsertSource(db, { folderId: folder.id, path: 'large.xlsx', state: 'present' });
await engine.keeper.idle();
const placed = await placeTether(engine, person.id, documents[0]!, {
  sourceId: large.id,
  reach: { kind: 'growing block', sheet: 'Data', header: { row: 1, left: 1, right: 1 } },
  name: 'Large',
});
if (!placed.ok) throw new Error(placed.fault.message);
/** Times of answers while the work goes on, one after the other. */
async function answersDuring(work: Promise<unknown>): Promise<number[]> {
  const times: number[] = [];
  let isOver = false;
  void work.then(() => {
    isOver = true;
  });
  while (!isOver || times.length < 50) {
    const asked = performance.now();
    await (await fetch(`${at}/documents/${documents[1]}/tethers`, { headers: { cookie } })).text();
    times.push(performance.now() - asked);
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
  return times.sort((a, b) => a - b);
}
const quiet = await answersDuring(Promise.resolve());
await writeFile(waiting(-1), workbook(140_000, 20, 2));
await rename(waiting(-1), join(root, 'large.xlsx'));
const read0 = engine.reader.count;
const busy = await answersDuring(
  until(async () => engine.reader.count > read0).then(() => engine.keeper.idle()),
);
const told = (times: number[]) =>
  `${median(times).toFixed(0)} ms in the middle, ${times[Math.floor(times.length * 0.95)]!.toFixed(0)} ms at the 95th percentile, ${times.at(-1)!.toFixed(0)} ms at most`;
note(
  'answers of the server while a workbook of 100 MB of XML is read and noted',
  `${told(busy)}; while nothing is read ${told(quiet)}`,
);

for (const stream of streams) stream.destroy();
server.closeAllConnections();
server.close();
await engine.stop();
await stopWorkThreads(threads);
await ask(
  admin,
  `select pg_terminate_backend(pid) from pg_stat_activity where datname = '${name}' and usename = current_user`,
);
await ask(admin, `drop database ${name}`);
await rm(root, { recursive: true, force: true });
const kept = fileURLToPath(new URL('../../.run/bench', import.meta.url));
await mkdir(kept, { recursive: true });
await writeFile(join(kept, 'keeping.json'), JSON.stringify(measured));
process.exit(0);

function median(values: number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
}

async function ask(at: string, query: string): Promise<void> {
  const client = new pg.Client({ connectionString: at });
  await client.connect();
  try {
    await client.query(query);
  } finally {
    await client.end();
  }
}
