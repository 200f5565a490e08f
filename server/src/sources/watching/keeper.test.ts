import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, jest, test } from '@jest/globals';
import { deleteFolder, insertFolder } from '../../db/sources.ts';
import { startTestServer } from '../../testing/testing.fixture.ts';

let server: Awaited<ReturnType<typeof startTestServer>>;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

test('a file of a folder that was given up meanwhile is passed over without an error', async () => {
  const { db, keeper, sources } = server;
  const told = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const folder = await insertFolder(db, { name: 'Given up', root: join(sources, 'works') });
  await writeFile(join(sources, 'works/late.csv'), 'a,b\n1,2\n');
  await deleteFolder(db, folder.id);
  keeper.onFile(folder, 'late.csv');
  await keeper.idle();
  expect(told).not.toHaveBeenCalled();
  told.mockRestore();
});
