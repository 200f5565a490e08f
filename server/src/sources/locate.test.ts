import { mkdir, mkdtemp, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { locate } from './locate.ts';

let home: string;
const folder = () => ({ name: 'Monitoring', root: join(home, 'monitoring') });

beforeAll(async () => {
  home = await mkdtemp(join(tmpdir(), 'tether-locate-'));
  await mkdir(join(home, 'monitoring/2026'), { recursive: true });
  await mkdir(join(home, 'monitoring-private'));
  await writeFile(join(home, 'secret.xlsx'), 'x');
  await writeFile(join(home, 'monitoring-private/secret.xlsx'), 'x');
  await writeFile(join(home, 'monitoring/2026/counts.xlsx'), 'x');
  await symlink(join(home, 'monitoring/2026'), join(home, 'monitoring/now'));
  await symlink(join(home, 'secret.xlsx'), join(home, 'monitoring/leak.xlsx'));
  await symlink(home, join(home, 'monitoring/up'));
});
afterAll(() => rm(home, { recursive: true, force: true }));

describe('finding a file of a source folder', () => {
  test.each(['2026/counts.xlsx', 'now/counts.xlsx', '2026/../2026/counts.xlsx'])(
    '%s is inside',
    async (path) => {
      const found = await locate(folder(), path);
      expect(found).toEqual({
        ok: true,
        value: {
          path: join(home, 'monitoring/2026/counts.xlsx'),
          root: join(home, 'monitoring'),
        },
      });
    },
  );

  test.each([
    '../secret.xlsx',
    '2026/../../secret.xlsx',
    '../monitoring-private/secret.xlsx',
    '/etc/passwd',
    'leak.xlsx',
    'up/secret.xlsx',
    '..',
    '.',
    '',
    'a\0b',
  ])('%j is not', async (path) => {
    expect(await locate(folder(), path)).toMatchObject({
      ok: false,
      fault: { code: 'path-outside-folder' },
    });
  });

  test('a file that is not there is missing, a folder that is not there is offline', async () => {
    expect(await locate(folder(), 'gone.xlsx')).toMatchObject({
      fault: { code: 'source-missing' },
    });
    const gone = { name: 'Drive', root: join(home, 'drive') };
    expect(await locate(gone, 'a.xlsx')).toMatchObject({ fault: { code: 'folder-offline' } });
  });
});
