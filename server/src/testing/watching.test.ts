import {
  appendFile,
  chmod,
  mkdir,
  open,
  rename,
  stat,
  symlink,
  truncate,
  utimes,
  writeFile,
} from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { JobStates, LogEntry, SourceFolder, Tether } from '@tether/contract';
import { saveAsColleague, setCell } from '@tether/demo';
import { sql } from 'drizzle-orm';
import { insertFolder } from '../db/sources.ts';
import { locate } from '../sources/locate.ts';
import { stampOf, stampsBelow } from '../sources/stamp.ts';
import { SourceKeeper } from '../sources/watching/keeper.ts';
import { listSourceFiles } from '../sources/watching/watcher.ts';
import { eventually, startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
let server: TestServer;
let ines: Awaited<ReturnType<TestServer['as']>>;

async function begin(options?: { works: boolean }) {
  server = await startTestServer(options);
  ines = await server.as('ines');
}
afterEach(() => server?.stop());

const folders = async (): Promise<SourceFolder[]> => (await ines.get('/api/sources')).body;
const log = async (): Promise<LogEntry[]> => (await ines.get('/api/log')).body.entries;
const tethers = async (): Promise<Tether[]> => {
  const [{ id }] = (await ines.get('/api/documents')).body;
  return (await ines.get(`/api/documents/${id}/tethers`)).body;
};
const sourceAt = async (path: string) =>
  (await folders()).flatMap(({ sources }) => sources).find((source) => source.path === path);
/** The headers of a source as they were last noted. */
const headersOf = async (path: string): Promise<string[]> =>
  (
    await server.db.execute<{ headings: { headers: string[] }[] }>(
      sql`select headings from sources where path = ${path}`,
    )
  ).rows[0]!.headings[0]?.headers ?? [];
/** Puts a new folder of sources beside those of the demo and watches it. */
async function newFolder(files: Record<string, string>): Promise<string> {
  const root = join(server.sources, 'notes');
  await mkdir(root);
  for (const [name, text] of Object.entries(files)) await writeFile(join(root, name), text);
  await ines.post('/api/source-folders').send({ name: 'Notes', path: root }).expect(201);
  for (const name of Object.keys(files)) {
    await eventually(
      () => sourceAt(name),
      (source) => source?.state === 'present',
    );
  }
  await server.keeper.idle();
  return root;
}
/** How often a source was recorded with other bytes. */
async function countChanges(path: string, during: () => Promise<void>): Promise<number> {
  const seen = new Set<string>();
  const hash = async () =>
    (await server.db.execute<{ hash: string }>(sql`select hash from sources where path = ${path}`))
      .rows[0]!.hash;
  const first = await hash();
  let isOver = false;
  const watch = (async () => {
    while (!isOver) {
      seen.add(await hash());
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
  })();
  await during();
  await eventually(hash, (now) => now !== first);
  await server.keeper.idle();
  isOver = true;
  await watch;
  seen.add(await hash());
  seen.delete(first);
  return seen.size;
}

describe('a source that is saved', () => {
  test('in many small writes is read when it is whole', async () => {
    await begin();
    const root = await newFolder({ 'notes.csv': 'Plot,Count,By\n' });
    const path = join(root, 'notes.csv');
    for (let round = 0; round < 3; round++) {
      let pauses = 0;
      const changes = await countChanges('notes.csv', async () => {
        await truncate(path, 0);
        let last = Date.now();
        for (const line of ['Plot,Counted,By', ...Array(40).fill(`SC-0${round},1,Ines`)]) {
          await appendFile(path, `${line}\n`);
          await new Promise((resolve) => setTimeout(resolve, 20));
          if (Date.now() - last > 100) pauses++;
          last = Date.now();
        }
      });
      // Each time the machine paused in between for nearly as long as a file must be quiet, one state more may be seen.
      expect(changes).toBeGreaterThan(0);
      expect(changes).toBeLessThanOrEqual(1 + pauses);
    }
    expect(await headersOf('notes.csv')).toEqual(['Plot', 'Counted', 'By']);
  }, 60_000);

  test('by taking the old file away first is never missing', async () => {
    await begin();
    const root = await newFolder({ 'notes.csv': 'Plot,Count,By\n' });
    const path = join(root, 'notes.csv');
    await rename(path, `${path}.bak`);
    await writeFile(`${path}.new`, 'Plot,Counted,By\n');
    await rename(`${path}.new`, path);
    await eventually(
      () => headersOf('notes.csv'),
      (headers) => headers.includes('Counted'),
    );
    await server.keeper.idle();
    expect(await sourceAt('notes.csv')).toMatchObject({ state: 'present', fault: null });
  }, 60_000);

  test('by a machine whose clock is wrong, with the same length, is seen all the same', async () => {
    await begin();
    const root = await newFolder({ 'notes.csv': 'Plot,Count,By\n' });
    const path = join(root, 'notes.csv');
    for (const when of [new Date('1999-12-31T23:00:00Z'), new Date('2068-01-01T00:00:00Z')]) {
      const header = `Plot,Y${when.getUTCFullYear()},B\n`;
      const file = await open(path, 'r+');
      await file.write(header, 0);
      await file.close();
      await utimes(path, when, when);
      await eventually(
        () => headersOf('notes.csv'),
        (headers) => headers.includes(`Y${when.getUTCFullYear()}`),
      );
      const { mtimeMs } = await stat(path);
      expect(mtimeMs).toBe(when.getTime());
    }
  }, 60_000);

  test('where no notice of it comes, as on a network folder, is found by looking', async () => {
    await begin();
    const elsewhere = join(server.sources, 'notes', '.store');
    const root = await newFolder({ 'other.csv': 'Plot\n' });
    await mkdir(elsewhere);
    // The system tells of changes of the link, never of what it leads to.
    await writeFile(join(elsewhere, 'kept'), 'Plot,Count,By\n');
    await symlink(join(elsewhere, 'kept'), join(root, 'notes.csv'));
    await eventually(
      () => sourceAt('notes.csv'),
      (source) => source?.state === 'present',
    );
    await server.keeper.idle();
    await writeFile(join(elsewhere, 'kept'), 'Plot,Counted,By\n');
    await eventually(
      () => headersOf('notes.csv'),
      (headers) => headers.includes('Counted'),
    );
  }, 60_000);
});

test('of thousands of files only those that changed are read', async () => {
  await begin();
  const FILES = 4_000;
  const root = join(server.sources, 'plots');
  await mkdir(root);
  const name = (n: number) => `plot-${n}.csv`;
  for (let n = 0; n < FILES; n++) await writeFile(join(root, name(n)), `Plot,Count\nSC-${n},1\n`);
  const stamps = await Promise.all(
    Array.from({ length: FILES }, (_, n) => stampOf(join(root, name(n)))),
  );
  // As they would be known after a first look at all of them.
  const { id } = await insertFolder(server.db, { name: 'Plots', root });
  await server.db.execute(sql`
    insert into sources (folder_id, path, state, hash, noted_hash, stamp)
    select ${id}::uuid, v.path, 'present', 'known', 'known', v.stamp
    from unnest(${sql.param(stamps.map((_, n) => name(n)))}::text[], ${sql.param(stamps)}::text[]) v (path, stamp)`);
  const before = server.reader.count;
  await server.keeper.foldersChanged();
  await server.keeper.idle();
  expect(server.reader.count).toBe(before);
  for (const n of [0, 17, FILES - 1]) {
    await writeFile(join(root, name(n)), `Plot,Count\nSC-${n},2\n`);
    await eventually(
      async () =>
        (
          await server.db.execute(
            sql`select 1 from sources where path = ${name(n)} and hash <> 'known'`,
          )
        ).rowCount,
      (count) => count === 1,
    );
  }
  await server.keeper.idle();
  // Each for its objects and once more for what it can be searched by.
  expect(server.reader.count - before).toBeLessThanOrEqual(6);
}, 120_000);

test('a folder that goes away and comes back is followed on, also when the process that watched it is killed', async () => {
  await begin({ works: false });
  const first = await server.startWorker();
  const counts = join(server.sources, 'monitoring/planting-counts.xlsx');
  const standing = async () =>
    (await tethers()).find(({ name }) => name === 'Planting counts by plot')!;
  await saveAsColleague(counts, [setCell('Counts', 'D8', 104)]);
  await eventually(standing, (tether) => tether.standing === 'behind', 20_000);
  await server.startWorker();

  const folder = join(server.sources, 'monitoring');
  await rename(folder, `${folder}-unplugged`);
  await eventually(standing, (tether) => tether.standing === 'adrift', 20_000);
  // Saved while nobody could see it.
  await saveAsColleague(join(`${folder}-unplugged`, 'planting-counts.xlsx'), [
    setCell('Counts', 'D8', 105),
  ]);
  await rename(`${folder}-unplugged`, folder);
  const back = await eventually(standing, (tether) => tether.standing === 'behind', 20_000);
  const { cells } = (await ines.get(`/api/snapshots/${back.pending}`)).body;
  expect(cells).toContainEqual(expect.objectContaining({ row: 8, column: 4, value: 105 }));

  first.kill('SIGKILL');
  await saveAsColleague(counts, [setCell('Counts', 'D8', 106)]);
  await eventually(standing, (tether) => tether.pending !== back.pending, 30_000);
  await eventually(
    async (): Promise<JobStates> => (await ines.get('/api/jobs')).body,
    ({ running, waiting, retrying }) => running.length + waiting + retrying.length === 0,
    20_000,
  );
  const said = (await log()).filter(({ kind, tether }) => {
    return tether?.id === back.id && (kind === 'adrift' || kind === 'found again');
  });
  expect(said.map(({ kind }) => kind)).toEqual(['found again', 'adrift']);
}, 120_000);

/** A folder of many small files, each second one with an object that takes of it; known as if all had been read. */
async function largeFolder(files: number): Promise<{ root: string; away: string }> {
  const root = join(server.sources, 'large');
  await mkdir(root);
  const paths = Array.from({ length: files }, (_, at) => `file-${at}.csv`);
  for (const path of paths) await writeFile(join(root, path), 'Plot,Plants\nSC-01,150\n');
  const folder = await insertFolder(server.db, { name: 'Large', root });
  const stamps = await stampsBelow(root, paths);
  const rows = JSON.stringify(paths.map((path) => ({ path, stamp: stamps.get(path)! })));
  await server.db.execute(sql`
    insert into sources (folder_id, path, state, stamp, hash, noted_hash)
    select ${folder.id}, v.path, 'present', v.stamp, 'h', 'h'
    from jsonb_to_recordset(${rows}::jsonb) as v (path text, stamp text)`);
  await server.db.execute(sql`
    insert into tethers (document_id, source_id, name, reach, base, pending, summary, behind_by, placed, standing)
    select t.document_id, s.id, s.path, t.reach, t.base, case when n % 10 = 0 then t.base end,
      case when n % 10 = 0 then 'a cell' end, 1, true, case when n % 10 = 0 then 'behind' else 'in step' end
    from (select *, row_number() over (order by path) n from sources where folder_id = ${folder.id}) s,
      (select * from tethers order by id limit 1) t where n % 2 = 0`);
  await server.keeper.foldersChanged();
  await server.keeper.idle();
  return { root, away: join(server.sources, 'unplugged') };
}

/** How many objects out of the folder have each standing. */
async function standingsOf(root: string): Promise<Record<string, number>> {
  const { rows } = await server.db.execute<{ standing: string; count: number }>(sql`
    select standing, count(*)::int as count from tethers t join sources s on s.id = t.source_id
    join source_folders f on f.id = s.folder_id where f.root = ${root} group by standing`);
  return Object.fromEntries(rows.map(({ standing, count }) => [standing, count]));
}

test('a folder of a thousand files goes and comes back as one, again and again, and the last word holds', async () => {
  await begin();
  const { root, away } = await largeFolder(1_000);
  const there = { behind: 100, 'in step': 400 };
  expect(await standingsOf(root)).toEqual(there);
  const before = server.reader.count;
  for (let round = 0; round < 3; round++) {
    await rename(root, away);
    await eventually(
      () => standingsOf(root),
      (now) => now.adrift === 500,
    );
    await rename(away, root);
    await eventually(
      () => standingsOf(root),
      (now) => now.adrift === undefined,
    );
    expect(await standingsOf(root)).toEqual(there);
  }
  // In and out faster than anybody looks: what holds in the end is how it is.
  for (let round = 0; round < 6; round++) {
    await rename(root, away);
    await new Promise((resolve) => setTimeout(resolve, round * 150));
    await rename(away, root);
  }
  // It is looked every two seconds: what is seen for longer than that is the last word.
  let since = Date.now();
  await eventually(
    async () => {
      const now = await standingsOf(root);
      const { state } = (await folders()).find(({ name }) => name === 'Large')!;
      if (now.adrift !== undefined || state !== 'watched') since = Date.now();
      return Date.now() - since;
    },
    (held) => held > 5_000,
    60_000,
  );
  await server.keeper.idle();
  expect(await standingsOf(root)).toEqual(there);
  // None of the files was read for that: they are as they were.
  expect(server.reader.count).toBe(before);
});

test('files that changed while their folder was away are read when it is back, the others are not', async () => {
  await begin();
  const { root, away } = await largeFolder(40);
  await rename(root, away);
  await eventually(
    () => standingsOf(root),
    (now) => now.adrift === 20,
  );
  await writeFile(join(away, 'file-3.csv'), 'Plot,Plants\nSC-01,151\n');
  const before = server.reader.count;
  await rename(away, root);
  await eventually(
    () => sourceAt('file-3.csv'),
    (source) => source?.state === 'present' && source.bytes > 0,
  );
  await server.keeper.idle();
  // Read once, and once more for what is searched.
  expect(server.reader.count - before).toBeLessThanOrEqual(2);
});

test('a folder is unplugged and plugged in again during a hundred saves, and everything is right in the end', async () => {
  await begin();
  const root = join(server.sources, 'monitoring');
  const away = join(server.sources, 'drive');
  const counts = 'planting-counts.xlsx';
  let isSaving = true;
  const saving = (async () => {
    for (let save = 1; save <= 100; save++) {
      // Whoever saves while the folder is away saves nothing.
      await saveAsColleague(join(root, counts), [setCell('Counts', 'D8', 1000 + save)]).catch(
        () => undefined,
      );
    }
    isSaving = false;
  })();
  while (isSaving) {
    await rename(root, away);
    await new Promise((resolve) => setTimeout(resolve, 120));
    // A save may have made the folder's name anew, for a moment.
    await rename(away, root).catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 350));
  }
  await saving;
  await saveAsColleague(join(root, counts), [setCell('Counts', 'D8', 4321)]);
  const object = async () =>
    (await tethers()).find(({ name }) => name === 'Planting counts by plot')!;
  await eventually(
    async () => {
      const { id, standing, pending } = await object();
      if (standing !== 'behind' || !pending) return standing;
      const { body } = await ines.get(`/api/tethers/${id}/slip`);
      return JSON.stringify(body).includes('4321') ? 'seen' : 'older';
    },
    (answer) => answer === 'seen',
    30_000,
  );
  // A file may be read a moment before it is recorded that its folder is back.
  await eventually(
    async () => (await folders()).find(({ name }) => name === 'Monitoring')!.state,
    (state) => state === 'watched',
  );
}, 120_000);

test('a folder in it that may not be read does not end the looking, and its objects say so', async () => {
  await begin();
  const root = await newFolder({ 'a.csv': 'a,b\n1,2\n' });
  await mkdir(join(root, 'closed'));
  await writeFile(join(root, 'closed/b.csv'), 'a,b\n1,2\n');
  await writeFile(join(root, 'z.csv'), 'a,b\n1,2\n');
  await chmod(join(root, 'closed'), 0o000);
  const isRoot = process.geteuid!() === 0;
  // The account that is above such rules becomes another one for a moment.
  if (isRoot) {
    await chmod(server.sources, 0o755);
    process.seteuid!(65534);
  }
  try {
    expect(await listSourceFiles(root)).toEqual(['a.csv', 'z.csv']);
    const folder = { name: 'Notes', root };
    expect(await locate(folder, 'closed/b.csv')).toMatchObject({
      ok: false,
      fault: { code: 'source-unreadable' },
    });
  } finally {
    if (isRoot) process.seteuid!(0);
    await chmod(join(root, 'closed'), 0o755);
  }
});

test('who is stopped while starting ends in good order', async () => {
  await begin({ works: false });
  const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  try {
    const asked: string[] = [];
    let isOpen = true;
    const keeper = new SourceKeeper({
      ...server,
      queue: {
        askLookAt: async (_: string, path: string) => {
          if (!isOpen) throw new Error('The queue is closed.');
          asked.push(path);
          return true;
        },
      } as never,
    });
    // As when nobody had looked yet.
    await server.db.execute(sql`update sources set stamp = null`);
    const starting = keeper.start();
    await keeper.stop();
    isOpen = false;
    await starting;
    expect(asked.length).toBeGreaterThan(0);
    expect(said).not.toHaveBeenCalled();
  } finally {
    said.mockRestore();
  }
});
