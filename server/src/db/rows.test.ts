import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { eq } from 'drizzle-orm';
import { startTestServer } from '../testing/testing.fixture.ts';
import type { Database } from './database.ts';
import { insertRows, isOneOf, updateRows } from './rows.ts';
import { logEntries, tethers } from './schema.ts';

let server: Awaited<ReturnType<typeof startTestServer>>;
let db: Database;
beforeAll(async () => {
  server = await startTestServer({ works: false });
  ({ db } = server);
}, 60_000);
afterAll(() => server?.stop());

describe('many rows as one parameter', () => {
  test('are added as they would be one by one, with defaults for what is left out', async () => {
    const [object] = await db.select().from(tethers).limit(1);
    const at = new Date('2026-03-29T01:30:00.123Z');
    const undo = { kind: 'hold', wasHeld: false } as const;
    const common = { kind: 'held' as const, documentId: object!.documentId, personId: null, undo };
    await insertRows(db, logEntries, [
      { ...common, at, summary: 'first, with “quotes”, a \\ and a\nline' },
      { ...common, at, summary: 'second 𝄞', how: undefined },
    ]);
    await db.insert(logEntries).values({ ...common, at, summary: 'third' });
    await insertRows(db, logEntries, [{ ...common, summary: 'now' }]);
    await insertRows(db, logEntries, []);
    const rows = await db.select().from(logEntries).where(eq(logEntries.kind, 'held'));
    const said = ['first, with “quotes”, a \\ and a\nline', 'second 𝄞', 'third', 'now'];
    expect(rows.map(({ summary }) => summary)).toEqual(said);
    const [first, , third, last] = rows;
    expect({ ...first, id: 0, summary: '' }).toEqual({ ...third, id: 0, summary: '' });
    expect(first!.id).toBeLessThan(third!.id);
    expect(Math.abs(last!.at.getTime() - Date.now())).toBeLessThan(60_000);
  });

  test('are changed each with its own values; what is null is empty, not the word null', async () => {
    const before = await db.select().from(tethers).orderBy(tethers.id);
    const [first, second, ...others] = before;
    const due = new Date('2026-10-25T02:30:00Z');
    const mode = { kind: 'manual' as const };
    await updateRows(db, tethers, [
      { id: first!.id, mode, nextDue: due, behindBy: 3, warnings: [] },
      { id: second!.id, mode: null, nextDue: null, behindBy: 4, warnings: [] },
    ]);
    await updateRows(db, tethers, []);
    expect(await db.select().from(tethers).orderBy(tethers.id)).toEqual([
      { ...first!, mode, nextDue: due, behindBy: 3, warnings: [] },
      { ...second!, mode: null, nextDue: null, behindBy: 4, warnings: [] },
      ...others,
    ]);
    const empty = await db
      .select()
      .from(tethers)
      .where(isOneOf(tethers.id, [second!.id]));
    expect(empty).toHaveLength(1);
    expect(await db.select().from(tethers).where(isOneOf(tethers.id, []))).toEqual([]);
  });
});
