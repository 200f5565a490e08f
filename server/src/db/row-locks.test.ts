import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { sql } from 'drizzle-orm';
import { startTestServer } from '../testing/testing.fixture.ts';
import type { Database } from './database.ts';
import { lockDeletion, lockDocument, lockDocumentRules, lockName } from './documents.ts';
import { insertLog } from './log.ts';
import { tethers } from './schema.ts';
import { lockSource } from './sources.ts';
import { lockTethers } from './tethers.ts';

let server: Awaited<ReturnType<typeof startTestServer>>;
let db: Database;
beforeAll(async () => {
  server = await startTestServer({ works: false });
  ({ db } = server);
}, 60_000);
afterAll(() => server?.stop());

test('whoever holds a document, source or object keeps nobody from telling the log of it', async () => {
  const [object] = await db.select().from(tethers).limit(1);
  const { id: tetherId, documentId, sourceId } = object!;
  // Refreshing holds objects and then tells the log; writing a document out holds it and then its objects. Each would wait for
  // the other, if telling the log had to wait for those who hold what an entry is about.
  const holds: [string, (tx: Database) => Promise<unknown>][] = [
    ['document', (tx) => lockDocument(tx, documentId)],
    ['name', (tx) => lockName(tx, documentId)],
    ['deletion', (tx) => lockDeletion(tx, documentId)],
    ['rules', (tx) => lockDocumentRules(tx, documentId)],
    ['source', (tx) => lockSource(tx, sourceId)],
    ['object', (tx) => lockTethers(tx, [tetherId])],
  ];
  for (const [what, hold] of holds) {
    await db.transaction(async (holder) => {
      await hold(holder);
      await db.transaction(async (teller) => {
        await teller.execute(sql`set local lock_timeout = '2s'`);
        const about = { documentId, tetherId, sourceId, personId: null };
        await insertLog(teller, [{ kind: 'held', ...about, summary: what }]);
      });
    });
  }
  // Two who hold the same still wait for each other.
  await db.transaction(async (holder) => {
    await lockDocument(holder, documentId);
    const other = db.transaction(async (tx) => {
      await tx.execute(sql`set local lock_timeout = '100ms'`);
      await lockDocument(tx, documentId);
    });
    await expect(other).rejects.toThrow();
  });
});
