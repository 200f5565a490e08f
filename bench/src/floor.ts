import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import { inflateRawSync } from 'node:zlib';

/** Parts that are needed, each whole or only its first packed bytes. */
type Needed = [part: string, most?: number][];

/**
 * What nobody can do without: opening the file, finding the parts in its directory, and unpacking those that are needed
 * as far as they are needed, with the platform's own inflate. Everything beyond that is the price of understanding them.
 */
export function floor(path: string, needed: Needed): void {
  const file = openSync(path, 'r');
  const { size } = fstatSync(file);
  const tail = Buffer.allocUnsafe(22);
  readSync(file, tail, 0, 22, size - 22);
  const directory = Buffer.allocUnsafe(tail.readUInt32LE(12));
  readSync(file, directory, 0, directory.length, tail.readUInt32LE(16));
  const entries = new Map<string, number>();
  for (let at = 0; at < directory.length; ) {
    const length = directory.readUInt16LE(at + 28);
    entries.set(directory.toString('latin1', at + 46, at + 46 + length), at);
    at += 46 + length + directory.readUInt16LE(at + 30) + directory.readUInt16LE(at + 32);
  }
  for (const [part, most] of needed) {
    const at = entries.get(part);
    if (at === undefined) throw new Error(`${path} has no ${part}`);
    const packed = directory.readUInt32LE(at + 20);
    const local = directory.readUInt32LE(at + 42);
    const header = Buffer.allocUnsafe(30);
    readSync(file, header, 0, 30, local);
    const bytes = Buffer.allocUnsafe(Math.min(packed, most ?? packed));
    readSync(
      file,
      bytes,
      0,
      bytes.length,
      local + 30 + header.readUInt16LE(26) + header.readUInt16LE(28),
    );
    inflateRawSync(bytes, { finishFlush: most === undefined ? 4 : 2, maxOutputLength: 1 << 30 });
  }
  closeSync(file);
}

/** The small parts of a workbook without which no sheet can be read. */
export const AROUND: Needed = [
  ['_rels/.rels'],
  ['xl/workbook.xml'],
  ['xl/_rels/workbook.xml.rels'],
  ['xl/styles.xml'],
];
