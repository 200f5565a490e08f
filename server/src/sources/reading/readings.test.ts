import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { eq } from 'drizzle-orm';
import type { Database } from '../../db/database.ts';
import { tethers } from '../../db/schema.ts';
import { findSource, listFolderSources, listFolders } from '../../db/sources.ts';
import { startTestServer } from '../../testing/testing.fixture.ts';
import type { ReadingOutcome } from './reading.ts';
import { type BegunReading, Readings } from './readings.ts';

let server: Awaited<ReturnType<typeof startTestServer>>;
let ids: string[];
beforeAll(async () => {
  // Nobody else reads.
  server = await startTestServer({ works: false });
  const folders = await listFolders(server.db);
  const lists = await Promise.all(folders.map(({ id }) => listFolderSources(server.db, id)));
  ids = lists
    .flat()
    .filter(({ state }) => state === 'present')
    .map(({ id }) => id);
}, 60_000);
afterAll(() => server?.stop());

let transactions = 0;
let readings: Readings;
beforeEach(() => {
  transactions = 0;
  const db = new Proxy(server.db, {
    get(target, property) {
      if (property === 'transaction') transactions++;
      return Reflect.get(target, property);
    },
  }) as Database;
  readings = new Readings(db, server.comparer);
});

const stateOf = async (id: string) => (await findSource(server.db, id))!.source;

/** As the file of the source is, with other bytes. */
const seen = (hash: string, sheet = 'Data') => ({
  stamp: `stamp of ${hash}`,
  outcome: {
    ok: true,
    value: {
      hash,
      bytes: 7,
      isOpenEnded: false,
      isSame: false,
      sheets: [{ name: sheet, state: 'visible' }],
      taken: [],
      preview: null,
      followed: [],
      areas: [],
      outline: null,
      headings: [],
      marks: [],
      print: null,
      anchored: [],
      found: [],
      chart: null,
    },
  } as ReadingOutcome,
});
/** Of a source that holds nothing for its objects any more. */
const gone = (begun: BegunReading, hash: string) => ({
  ...seen(hash),
  outcome: {
    ok: false as const,
    fault: {
      code: 'source-missing' as const,
      message: `${begun.source.path} is gone.`,
      hint: 'Put it back.',
    },
    hash,
    bytes: 0,
  },
});

describe('readings that end at about the same time', () => {
  test('are recorded in one transaction, each with what it saw', async () => {
    const some = ids.slice(0, 4);
    const numbers = await Promise.all(
      some.map((id, n) => readings.run(id, async (begun) => gone(begun, `together ${n}`))),
    );
    expect(new Set(numbers).size).toBe(4);
    expect(transactions).toBe(1);
    for (const [n, id] of some.entries()) {
      const source = await stateOf(id);
      expect(source).toMatchObject({
        hash: `together ${n}`,
        state: 'missing',
        readNumber: numbers[n],
        fault: { message: `${source.path} is gone.` },
      });
      const objects = await server.db.select().from(tethers).where(eq(tethers.sourceId, id));
      for (const { standing, reason } of objects) {
        expect([standing, reason!.message]).toEqual(['adrift', `${source.path} is gone.`]);
      }
    }
  });

  test('do not suffer from one that cannot be recorded', async () => {
    const [first, second, third] = ids as [string, string, string];
    const before = await stateOf(second);
    const ended = await Promise.allSettled([
      readings.run(first, async () => seen('first')),
      // The database takes no such letter.
      readings.run(second, async () => seen('second', 'Da\u0000ta')),
      readings.run(third, async () => seen('third')),
    ]);
    expect(ended.map(({ status }) => status)).toEqual(['fulfilled', 'rejected', 'fulfilled']);
    expect([(await stateOf(first)).hash, (await stateOf(third)).hash]).toEqual(['first', 'third']);
    expect(await stateOf(second)).toEqual(before);
  });

  test('are not held up by one that goes on', async () => {
    const [quick, slow] = ids as [string, string];
    let end = () => {};
    const going = readings.run(slow, async () => {
      await new Promise<void>((resolve) => {
        end = resolve;
      });
      return seen('slow');
    });
    await readings.run(quick, async () => seen('quick'));
    expect((await stateOf(quick)).hash).toBe('quick');
    expect((await stateOf(slow)).hash).not.toBe('slow');
    end();
    await going;
    expect((await stateOf(slow)).hash).toBe('slow');
  });
});

describe('a reading', () => {
  test('that began earlier is not recorded after a later one', async () => {
    const [id] = ids as [string];
    const later = new Readings(server.db, server.comparer);
    await readings.run(id, async () => {
      await later.run(id, async () => seen('later'));
      return seen('earlier');
    });
    expect((await stateOf(id)).hash).toBe('later');
  });

  test('of what is as it was, or of no source, records nothing', async () => {
    const [id] = ids as [string];
    const before = await stateOf(id);
    const number = await readings.run(id, async () => null);
    expect(number).toBeGreaterThan(0);
    const nowhere = '00000000-0000-4000-8000-000000000000';
    expect(await readings.run(nowhere, async () => seen('nowhere'))).toBe(0);
    expect(transactions).toBe(0);
    expect(await stateOf(id)).toEqual(before);
  });

  test('tells what is left to do', async () => {
    const [first, second] = ids as [string, string];
    const number = await readings.run(first, async () => seen('left'));
    await server.queue.askLook(second);
    expect(
      await Promise.all([
        readings.left({ id: first, number }),
        readings.left({ id: second, number }),
        readings.left({ id: '00000000-0000-4000-8000-000000000000', number: 0 }),
      ]),
    ).toEqual([
      { isAsked: false, lacksNotes: true },
      { isAsked: true, lacksNotes: expect.any(Boolean) },
      { isAsked: false, lacksNotes: false },
    ]);
  });
});
