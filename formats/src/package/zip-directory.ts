/** One entry of the central directory of a zip (APPNOTE 4.3.12). */
export interface DirectoryEntry {
  /** With `/` between its parts, whatever wrote it. */
  name: string;
  method: number;
  crc: number;
  compressedSize: number;
  size: number;
  /** Where its local header begins. */
  offset: number;
  /** The bytes of its record. */
  record: Buffer;
}

const CENTRAL = 0x02014b50;
/** Bytes of a record of the directory before the name. */
export const CENTRAL_BYTES = 46;
/** The extra field with sizes that do not fit 32 bits (APPNOTE 4.5.3). */
export const ZIP64 = 0x0001;
/** What stands in 32 bits where the value stands in that field. */
export const IN_ZIP64 = 0xffffffff;

/** The entries of a central directory in their order; null where it is cut short. */
export function entriesIn(directory: Buffer, count: number): DirectoryEntry[] | null {
  const entries: DirectoryEntry[] = [];
  let at = 0;
  for (let nth = 0; nth < count; nth++) {
    if (at + CENTRAL_BYTES > directory.length || directory.readUInt32LE(at) !== CENTRAL)
      return null;
    const nameEnd = at + CENTRAL_BYTES + directory.readUInt16LE(at + 28);
    const extraEnd = nameEnd + directory.readUInt16LE(at + 30);
    const end = extraEnd + directory.readUInt16LE(at + 32);
    const entry: DirectoryEntry = {
      name: directory.toString('utf8', at + CENTRAL_BYTES, nameEnd).replaceAll('\\', '/'),
      method: directory.readUInt16LE(at + 10),
      crc: directory.readUInt32LE(at + 16),
      compressedSize: directory.readUInt32LE(at + 20),
      size: directory.readUInt32LE(at + 24),
      offset: directory.readUInt32LE(at + 42),
      record: directory.subarray(at, end),
    };
    readZip64(directory.subarray(nameEnd, extraEnd), entry);
    entries.push(entry);
    at = end;
  }
  return entries;
}

/** Sizes that do not fit 32 bits stand in the zip64 extra field (APPNOTE 4.5.3), in a fixed order, only those needed. */
function readZip64(extra: Buffer, entry: DirectoryEntry): void {
  for (let at = 0; at + 4 <= extra.length; at += 4 + extra.readUInt16LE(at + 2)) {
    if (extra.readUInt16LE(at) !== ZIP64) continue;
    let field = at + 4;
    for (const key of ['size', 'compressedSize', 'offset'] as const) {
      if (entry[key] !== IN_ZIP64 || field + 8 > extra.length) continue;
      entry[key] = Number(extra.readBigUInt64LE(field));
      field += 8;
    }
  }
}

/** The name of a part for comparing: without case (OPC 6.2.2.3), and with `/` between its parts. */
export function partKey(part: string): string {
  return part.replaceAll('\\', '/').replace(/^\//, '').toLowerCase();
}
