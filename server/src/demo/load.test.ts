import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { insertDocument } from '../db/documents.ts';
import { insertFolder } from '../db/sources.ts';
import { startTestServer } from '../testing/testing.fixture.ts';
import { listOwn } from './load.ts';

let server: Awaited<ReturnType<typeof startTestServer>>;
beforeAll(async () => {
  server = await startTestServer({ works: false });
});
afterAll(() => server.stop());

test('a reset tells what people made beside the demo, and nothing of the demo itself', async () => {
  const { db } = server;
  expect(await listOwn(db)).toEqual([]);
  await insertDocument(db, {
    kind: 'report',
    name: 'Spring report',
    content: { type: 'doc', content: [{ type: 'paragraph' }] },
    savedBy: null,
  });
  await insertFolder(db, { name: 'Surveys', root: '/somewhere/surveys' });
  expect(await listOwn(db)).toEqual([
    'the document “Spring report”',
    'the source folder “Surveys” (not its files)',
  ]);
});
