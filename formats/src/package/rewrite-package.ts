import { crc32, deflateRawSync, inflateRawSync } from 'node:zlib';
import { fail, ok, type Result } from '@tether/core';
import { spliceDeflate } from './splice-deflate.ts';
import {
  CENTRAL_BYTES,
  type DirectoryEntry,
  entriesIn,
  IN_ZIP64,
  partKey,
  ZIP64,
} from './zip-directory.ts';

const LOCAL = 0x04034b50;
const END_BYTES = 22;
/** Local headers have these bytes before the name. */
const LOCAL_BYTES = 30;
const DEFLATED = 8;
/** Bit 3 of the flags: check sum and sizes follow the data instead of standing before it (APPNOTE 4.4.4). */
const HAS_DESCRIPTOR = 0x0008;

/**
 * A zip package with other bytes for some of its parts (`null` takes one out). All that stands between the beginning of one
 * entry and that of the next is copied as it is, in its order: compressed bytes, headers, descriptors. Parts are named as in
 * the directory, without case. Faults: `source-damaged`, and `write-not-possible` for a package of more than 4 GB or one
 * in several pieces. `unpacked` has what large parts were before: they are packed anew only around their changes.
 */
export function rewritePackage(
  bytes: Buffer,
  changes: ReadonlyMap<string, Uint8Array | null>,
  shownPath: string,
  unpacked: ReadonlyMap<string, Buffer> = new Map(),
): Result<Buffer> {
  const damaged = (detail: string) => fail('source-damaged', { path: shownPath, detail });
  const end = bytes.lastIndexOf(Buffer.from('PK\u0005\u0006', 'latin1'));
  if (end < 0 || end + END_BYTES > bytes.length) return damaged('its end is missing');
  const count = bytes.readUInt16LE(end + 10);
  const size = bytes.readUInt32LE(end + 12);
  const offset = bytes.readUInt32LE(end + 16);
  if (count === 0xffff || size === 0xffffffff || offset === 0xffffffff) {
    return fail('write-not-possible', { why: 'it is larger than 4 GB' });
  }
  if (offset + size > bytes.length) return damaged('its directory lies outside the file');
  const entries = entriesIn(bytes.subarray(offset, offset + size), count);
  if (!entries) return damaged('its directory is cut short');
  if (entries.some(({ record }) => record.readUInt32LE(42) === IN_ZIP64)) {
    return fail('write-not-possible', { why: 'it is larger than 4 GB' });
  }
  const byKey = new Map([...changes].map(([part, change]) => [partKey(part), change]));
  const beforeByKey = new Map([...unpacked].map(([part, before]) => [partKey(part), before]));
  const inOrder = [...entries].sort((a, b) => a.offset - b.offset);
  const pieces: Buffer[] = [bytes.subarray(0, inOrder[0]?.offset ?? offset)];
  let written = pieces[0]!.length;
  const records = new Map<DirectoryEntry, Buffer>();
  for (const [index, entry] of inOrder.entries()) {
    const until = inOrder[index + 1]?.offset ?? offset;
    if (entry.offset + LOCAL_BYTES > until || bytes.readUInt32LE(entry.offset) !== LOCAL) {
      return damaged(`${entry.name} is not where the directory says`);
    }
    const change = byKey.get(partKey(entry.name));
    if (change === null) continue;
    const whole = bytes.subarray(entry.offset, until);
    const { local, record } = change
      ? packed(whole, entry, change, beforeByKey.get(partKey(entry.name)))
      : { local: [whole], record: Buffer.from(entry.record) };
    record.writeUInt32LE(written, 42);
    records.set(entry, record);
    for (const piece of local) {
      pieces.push(piece);
      written += piece.length;
    }
  }
  const directory = entries.flatMap((entry) => records.get(entry) ?? []);
  const directorySize = directory.reduce((sum, { length }) => sum + length, 0);
  const tail = Buffer.from(bytes.subarray(end));
  tail.writeUInt16LE(directory.length, 8);
  tail.writeUInt16LE(directory.length, 10);
  tail.writeUInt32LE(directorySize, 12);
  tail.writeUInt32LE(written, 16);
  return ok(Buffer.concat([...pieces, ...directory, tail]));
}

/**
 * A part larger than this is packed anew only around its changes, where what it was is known; else quickly: in a third of the time,
 * and a sixth larger.
 */
const LARGE = 8 << 20;

function deflated(
  whole: Buffer,
  { record }: DirectoryEntry,
  change: Uint8Array,
  before: Buffer | undefined,
): Buffer {
  if (change.length <= LARGE) return deflateRawSync(change);
  if (before && record.readUInt16LE(10) === DEFLATED) {
    const from = LOCAL_BYTES + whole.readUInt16LE(26) + whole.readUInt16LE(28);
    const packedBefore = whole.subarray(from, from + record.readUInt32LE(20));
    const after = Buffer.from(change.buffer, change.byteOffset, change.length);
    const spliced = spliceDeflate(packedBefore, before, after);
    // Unpacked once more before anybody relies on it.
    if (spliced && isPackedOf(spliced, after)) return spliced;
  }
  return deflateRawSync(change, { level: 1 });
}

function isPackedOf(packed: Buffer, text: Buffer): boolean {
  try {
    const bounds = { maxOutputLength: text.length + 1, chunkSize: text.length + 1 };
    return inflateRawSync(packed, bounds).equals(text);
  } catch {
    return false;
  }
}

/** A local entry and its directory record with other bytes. */
function packed(
  whole: Buffer,
  entry: DirectoryEntry,
  change: Uint8Array,
  before: Buffer | undefined,
): { local: Buffer[]; record: Buffer } {
  const nameLength = whole.readUInt16LE(26);
  const data = deflated(whole, entry, change, before);
  const extra = withoutZip64(
    whole.subarray(LOCAL_BYTES + nameLength, LOCAL_BYTES + nameLength + whole.readUInt16LE(28)),
  );
  const header = Buffer.from(whole.subarray(0, LOCAL_BYTES + nameLength));
  const set = (buffer: Buffer, from: number) => {
    // Version, flags, method, time and date stand before these in both kinds of record.
    buffer.writeUInt16LE(buffer.readUInt16LE(from) & ~HAS_DESCRIPTOR, from);
    buffer.writeUInt16LE(DEFLATED, from + 2);
    buffer.writeUInt32LE(crc32(change), from + 8);
    buffer.writeUInt32LE(data.length, from + 12);
    buffer.writeUInt32LE(change.length, from + 16);
  };
  set(header, 6);
  header.writeUInt16LE(extra.length, 28);
  const old = entry.record;
  const oldNameLength = old.readUInt16LE(28);
  const oldExtra = old.subarray(
    CENTRAL_BYTES + oldNameLength,
    CENTRAL_BYTES + oldNameLength + old.readUInt16LE(30),
  );
  const kept = withoutZip64(oldExtra);
  const record = Buffer.concat([
    old.subarray(0, CENTRAL_BYTES + oldNameLength),
    kept,
    old.subarray(CENTRAL_BYTES + oldNameLength + oldExtra.length),
  ]);
  set(record, 8);
  record.writeUInt16LE(kept.length, 30);
  return { local: [header, extra, data], record };
}

/** Extra fields without the one for sizes that do not fit: those of a changed part do. */
function withoutZip64(extra: Buffer): Buffer {
  const kept: Buffer[] = [];
  for (let at = 0; at + 4 <= extra.length; ) {
    const next = at + 4 + extra.readUInt16LE(at + 2);
    if (extra.readUInt16LE(at) !== ZIP64) kept.push(extra.subarray(at, next));
    at = next;
  }
  return Buffer.concat(kept);
}
