import { spawnSync } from 'node:child_process';
import { chmod, readdir, readFile, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { writeFixture } from '../ooxml/workbook.fixture.ts';
import { clearHalf, heldBy, REPLACE_STEPS, replaceFile } from './replace-file.ts';

const OLD = Buffer.from('what it was');
const NEW = Buffer.from('what it is now, and longer');
const wish = { before: OLD, after: NEW, backup: null };
const file = () => writeFixture(OLD.toString(), 'counts.csv');
const beside = async (path: string) => (await readdir(dirname(path))).sort();

describe('a file that is replaced', () => {
  test('is the new one as a whole, with its rights, and nothing is left beside it', async () => {
    const path = await file();
    await chmod(path, 0o640);
    const steps: string[] = [];
    expect(await replaceFile(path, 'counts.csv', wish, (step) => steps.push(step))).toEqual({
      ok: true,
      value: null,
    });
    expect(await readFile(path)).toEqual(NEW);
    expect((await stat(path)).mode & 0o777).toBe(0o640);
    expect(await beside(path)).toEqual(['counts.csv']);
    expect(steps).toEqual([...REPLACE_STEPS]);
  });

  test('is kept as it was where that is wished', async () => {
    const path = await file();
    const backup = join(dirname(path), 'kept.csv');
    await replaceFile(path, 'counts.csv', { ...wish, backup });
    expect(await readFile(backup)).toEqual(OLD);
    // One that is there already is not written over, and then nothing else is.
    const again = await replaceFile(path, 'counts.csv', { before: NEW, after: OLD, backup });
    expect(again.ok).toBe(false);
    expect(await readFile(path)).toEqual(NEW);
    expect(await readFile(backup)).toEqual(OLD);
  });

  test('is left alone when it changed since it was looked at', async () => {
    const path = await file();
    await writeFile(path, 'saved by a colleague');
    expect(await replaceFile(path, 'counts.csv', wish)).toMatchObject({
      fault: { code: 'write-changed' },
    });
    expect((await readFile(path)).toString()).toBe('saved by a colleague');
  });

  test('is left alone when somebody saves it while the new one is written', async () => {
    const path = await file();
    const done = await replaceFile(path, 'counts.csv', wish, (step) => {
      if (step === 'written') spawnSync('cp', ['/etc/hostname', path]);
    });
    expect(done).toMatchObject({ fault: { code: 'write-changed' } });
    expect(await readFile(path)).toEqual(await readFile('/etc/hostname'));
    expect(await beside(path)).toEqual(['counts.csv']);
  });

  test('that is gone is not made anew', async () => {
    expect(await replaceFile('/nowhere/counts.csv', 'counts.csv', wish)).toMatchObject({
      fault: { code: 'source-missing' },
    });
  });
});

describe('a file that somebody has open', () => {
  test.each<[string, string, string | null]>([
    ['~$counts.csv', '\u0008Tam Reed', 'Tam Reed'],
    // Of a long name the mark takes the place of the first two letters.
    ['~$unts.csv', '\u0003Tam', 'Tam'],
    ['~$counts.csv', '', null],
    ['.~lock.counts.csv#', ',tam,desk,28.11.2026 10:00,file:///;', null],
    ['.~lock.counts.csv#', 'Tam Reed,tam,desk,28.11.2026 10:00,file:///;', 'Tam Reed'],
  ])('%s says %j: %s', async (name, words, who) => {
    const path = await file();
    await writeFile(join(dirname(path), name), Buffer.from(words, 'latin1'));
    expect(await heldBy(path)).toEqual({ who });
    const done = await replaceFile(path, 'counts.csv', wish);
    expect(done).toMatchObject({ fault: { code: 'write-held' } });
    expect(await readFile(path)).toEqual(OLD);
  });

  test('nothing beside it says so of another file', async () => {
    const path = await file();
    await writeFile(join(dirname(path), '~$other.csv'), '');
    expect(await heldBy(path)).toBeNull();
  });
});

describe('a process that ends in the middle', () => {
  test.each(REPLACE_STEPS)(
    'behind the step “%s” leaves the old file or the new one, whole',
    async (step) => {
      const path = await file();
      // Ended at once, as by a power cut: nothing is cleared away.
      const script = `
      import { readFile } from 'node:fs/promises';
      import { replaceFile } from ${JSON.stringify(join(import.meta.dirname, 'replace-file.ts'))};
      const before = await readFile(${JSON.stringify(path)});
      await replaceFile(${JSON.stringify(path)}, 'counts.csv', { before, after: Buffer.from(${JSON.stringify(NEW.toString())}), backup: null },
        (step) => { if (step === ${JSON.stringify(step)}) process.kill(process.pid, 'SIGKILL'); });`;
      const ended = spawnSync(
        process.execPath,
        ['--import', 'tsx', '--input-type=module', '-e', script],
        {
          cwd: join(import.meta.dirname, '../../..'),
        },
      );
      expect([ended.signal, ended.stderr.toString()]).toEqual(['SIGKILL', '']);
      const isSwapped = REPLACE_STEPS.indexOf(step) >= REPLACE_STEPS.indexOf('swapped');
      expect(await readFile(path)).toEqual(isSwapped ? NEW : OLD);
      // What is left beside it is cleared away by whoever comes next, and nothing else is.
      await writeFile(join(dirname(path), '.hidden'), '');
      await clearHalf(dirname(path));
      expect(await beside(path)).toEqual(['.hidden', 'counts.csv']);
    },
  );
});
