import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import JSZip from 'jszip';
import { PackageFile } from './package-file.ts';
import { zipParts } from './zip-parts.ts';

const WORDS = Buffer.from('Salzwiese, Bohlenweg\n'.repeat(60_000));

test('a zip is read by another program and by this one, part by part', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'zip-'));
  try {
    const path = join(folder, 'made.zip');
    const pieces: Uint8Array[] = [];
    const parts = [
      { name: 'bundle.json', bytes: [Buffer.from('{"a":1}')], isPacked: false },
      { name: 'sources/Zählung/höhe.csv', bytes: [WORDS.subarray(0, 7), WORDS.subarray(7)] },
      { name: 'sources/packed.xlsx', bytes: [WORDS], isPacked: true },
      { name: 'empty', bytes: [], isPacked: false },
    ].map((part) => ({ isPacked: false, ...part }));
    for await (const piece of zipParts(parts)) pieces.push(piece);
    await writeFile(path, Buffer.concat(pieces));

    // An independent reader, which compares check sums: names, order and bytes.
    const read = await JSZip.loadAsync(Buffer.concat(pieces), { checkCRC32: true });
    expect(Object.keys(read.files)).toEqual(parts.map(({ name }) => name));
    for (const { name, bytes } of parts) {
      const found = await read.file(name)!.async('nodebuffer');
      expect([name, found.equals(Buffer.concat(bytes))]).toEqual([name, true]);
    }
    // What is packed already is only stored.
    expect(Buffer.concat(pieces).length).toBeGreaterThan(WORDS.length);
    expect(Buffer.concat(pieces).length).toBeLessThan(WORDS.length * 1.1);
    const opened = await PackageFile.open(path);
    if (!opened.ok) throw new Error(opened.fault.message);
    const part = await opened.value.read('sources/Zählung/höhe.csv');
    expect(part.ok && part.value.equals(WORDS)).toBe(true);
    await opened.value.close();
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
});
