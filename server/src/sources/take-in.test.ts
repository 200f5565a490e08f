import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { takeIn, whyNotKept } from './take-in.ts';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tether-take-in-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const about = { name: 'counts.xlsx', limit: '200 MB', folder: 'Monitoring' };
const thrown = (work: Promise<unknown>): Promise<unknown> =>
  work.then(
    () => null,
    (error: unknown) => error,
  );
/** An error as the system gives it: `errno(3)`. */
const failing = (code: string) => Object.assign(new Error(`${code}: it failed`), { code });

describe('why a file that arrived was not kept', () => {
  test('is told of real attempts', async () => {
    const body = () => Readable.from([Buffer.alloc(10)]);
    const tooLarge = await thrown(takeIn(body(), join(folder, 'a'), 5));
    expect(whyNotKept(tooLarge, about).code).toBe('upload-too-large');
    const noFolder = await thrown(takeIn(body(), join(folder, 'gone', 'a'), 50));
    expect(whyNotKept(noFolder, about).code).toBe('folder-offline');
    await takeIn(body(), join(folder, 'b'), 50);
    const isThere = await thrown(takeIn(body(), join(folder, 'b'), 50));
    expect(whyNotKept(isThere, about).code).toBe('file-exists');
    const broken = new Readable({
      read() {
        this.destroy(failing('ECONNRESET'));
      },
    });
    const cut = await thrown(takeIn(broken, join(folder, 'c'), 50));
    expect(whyNotKept(cut, about).code).toBe('upload-cut-short');
  });

  test('a full disk is told as a full disk, on every way in', async () => {
    // A device that is always full: full(4).
    const full = await thrown(
      (async () => {
        const { open } = await import('node:fs/promises');
        const device = await open('/dev/full', 'w');
        try {
          await device.write(Buffer.alloc(10));
        } finally {
          await device.close();
        }
      })(),
    );
    expect(whyNotKept(full, about)).toMatchObject({
      code: 'upload-no-room',
      message: 'There is no room left on the disk for “counts.xlsx”.',
    });
    expect(whyNotKept(failing('EDQUOT'), { name: 'a bundle', limit: '1 GB' }).code).toBe(
      'upload-no-room',
    );
  });

  test.each([
    ['EACCES', 'folder-read-only', 'upload-not-kept'],
    ['EROFS', 'folder-read-only', 'upload-not-kept'],
    ['ENOENT', 'folder-offline', 'upload-not-kept'],
    ['EIO', 'folder-offline', 'upload-not-kept'],
    ['EMFILE', 'upload-not-kept', 'upload-not-kept'],
  ])('%s is %s in a folder, and %s where it only waits', (code, inFolder, elsewhere) => {
    expect(whyNotKept(failing(code), about).code).toBe(inFolder);
    expect(whyNotKept(failing(code), { name: 'a bundle', limit: '1 GB' }).code).toBe(elsewhere);
  });
});
