import { close, closeSync, constants, fstatSync, openSync, read, readSync } from 'node:fs';
import { Readable } from 'node:stream';
import { promisify } from 'node:util';
import { createInflateRaw, inflateRaw, inflateRawSync, constants as zlib } from 'node:zlib';
import { fail, ok, type Result } from '@tether/core';
import { type DirectoryEntry, entriesIn, partKey } from './zip-directory.ts';

const inflate = promisify(inflateRaw);
const readAsync = promisify(read);
const closeAsync = promisify(close);

/** The most bytes one part may inflate to: a file that wants more is refused, not run out of memory on. */
const MAX_PART_BYTES = 400 << 20;
/** Deflate cannot do better than 1032 to 1; real sheets stay below a tenth of that. What wants more is a trap. */
const MAX_RATIO = 200;
/** Parts up to this size may be packed as tightly as they like. */
const MAX_FREE_BYTES = 32 << 20;
const FIRST_PIECE = 8 << 10;
const PIECE = 64 << 10;
const MAX_SMALL_PART = 512 << 10;
/** Parts in between are kept unpacked for whoever looks at one part after the other of them. */
const KEPT_FROM = 4 << 20;
const KEPT_TO = 128 << 20;
/** A file up to this size is read at once. */
const SMALL_FILE = 256 << 10;
/** The least that the platform's inflate takes as a piece. */
const MIN_CHUNK = 64;
const END_BYTES = 22;
/** A directory of a million parts: more is no workbook. */
const MAX_DIRECTORY = 64 << 20;
/** The end record usually has no comment: this much of the end of the file is looked at first. */
const SHORT_TAIL = 1 << 10;
const MAX_COMMENT = 65_535;

/**
 * A zip package (Open Packaging Conventions, ECMA-376 Part 2, on the zip format's APPNOTE 6.3.x) opened for reading
 * single parts: only the central directory is read at once, and only the parts asked for are inflated.
 */
export class PackageFile {
  /**
   * Whether a large part that is scanned stays unpacked until another one is: somebody scrolls through a sheet, and each
   * piece of it would be unpacked anew from its beginning.
   */
  keepsUnpacked = false;
  private unpacked: { part: string; bytes: Buffer } | null = null;

  private constructor(
    private readonly file: FileBytes,
    /** The name to put into faults. */
    private readonly shownPath: string,
    private readonly entries: Map<string, DirectoryEntry>,
  ) {}

  /**
   * Opens the package at `path`. Faults: `source-missing`, `source-unreadable`, `source-empty`, `source-not-workbook`,
   * `source-old-format`, `source-password-protected`, `source-damaged`.
   */
  static async open(path: string, shownPath = path): Promise<Result<PackageFile>> {
    let file: FileBytes | null = null;
    try {
      file = FileBytes.open(path);
      const directory = file
        ? await readDirectory(file, shownPath)
        : fail('source-unreadable', { path: shownPath, detail: 'it is not a plain file' });
      if (directory.ok) return ok(new PackageFile(file!, shownPath, directory.value));
      await file?.close();
      return directory;
    } catch (error) {
      await file?.close();
      return fileFault(error, shownPath);
    }
  }

  /** Whether the package has the part (part names are compared without case, OPC 6.2.2.3). */
  has(part: string): boolean {
    return this.entries.has(partKey(part));
  }

  /** The names of its parts, in lower case. */
  get names(): string[] {
    return [...this.entries.keys()];
  }

  /** How many parts it has. */
  get count(): number {
    return this.entries.size;
  }

  /** Bytes that a part unpacks to, as the directory says; 0 for one that is not there. */
  sizeOf(part: string): number {
    return this.entries.get(partKey(part))?.size ?? 0;
  }

  /** Tells the bytes of a part from others in its place, as the directory says: their check sum and size. */
  markOf(part: string): string {
    const entry = this.entries.get(partKey(part));
    return entry ? `${entry.crc} ${entry.size} ${entry.compressedSize}` : '';
  }

  /** The bytes of a part. Faults: `source-part-missing`, `source-damaged`, `source-too-large`. */
  async read(part: string): Promise<Result<Buffer>> {
    const found = await this.locate(part);
    if (!found.ok) return found;
    const { entry, start } = found.value;
    try {
      const bytes = await this.file.read(start, entry.compressedSize);
      if (entry.method === 0) return ok(bytes);
      // In one piece, a byte larger than the directory says: a full one would be followed by another, and both copied together.
      const size = Math.max(entry.size + 1, MIN_CHUNK);
      const bounds = { maxOutputLength: Math.max(entry.size, 1), chunkSize: size };
      return ok(isSmall(entry) ? inflateRawSync(bytes, bounds) : await inflate(bytes, bounds));
    } catch {
      return fail('source-damaged', { path: this.shownPath, detail: `${part} cannot be unpacked` });
    }
  }

  /** The part's entry and where its bytes begin. */
  private async locate(part: string): Promise<Result<{ entry: DirectoryEntry; start: number }>> {
    const entry = this.entries.get(partKey(part));
    const path = this.shownPath;
    if (!entry) return fail('source-part-missing', { path, part });
    if (entry.size > MAX_PART_BYTES) {
      return fail('source-too-large', { path, limit: `${part} is over 400 MB` });
    }
    if (entry.size > MAX_FREE_BYTES && entry.size > entry.compressedSize * MAX_RATIO) {
      return fail('source-too-large', {
        path,
        limit: `${part} unpacks to over ${MAX_RATIO} times`,
      });
    }
    if (entry.method !== 0 && entry.method !== 8) {
      return fail('source-damaged', { path, detail: `${part} is packed in an unknown way` });
    }
    const header = await this.file.read(entry.offset, 30).catch(() => null);
    if (header?.readUInt32LE(0) !== 0x04034b50) {
      return fail('source-damaged', { path, detail: `${part} is not where the directory says` });
    }
    const start = entry.offset + 30 + header.readUInt16LE(26) + header.readUInt16LE(28);
    return ok({ entry, start });
  }

  /**
   * Gives the part piece by piece to `take` until it returns false or the part ends. The first piece is small, so that
   * whoever needs only the beginning touches only the beginning of the file. Faults as for `read`; what `take` throws
   * comes through.
   */
  async scan(part: string, take: (piece: Buffer) => boolean): Promise<Result<null>> {
    const found = await this.locate(part);
    if (!found.ok) return found;
    const { entry, start } = found.value;
    if (isSmall(entry) || this.isKept(entry)) {
      const isKnown = this.unpacked?.part === part;
      const whole = isKnown ? ok(this.unpacked!.bytes) : await this.read(part);
      if (!whole.ok) return whole;
      if (this.isKept(entry)) this.unpacked = { part, bytes: whole.value };
      take(whole.value);
      return ok(null);
    }
    let delivered = 0;
    let total = 0;
    try {
      if (entry.method === 8 && entry.compressedSize > FIRST_PIECE) {
        const beginning = inflateBeginning(await this.piece(start, FIRST_PIECE));
        if (beginning && beginning.length > 0) {
          if (!take(beginning)) return ok(null);
          delivered = beginning.length;
        }
      }
      const stored = this.pieces(start, start + entry.compressedSize);
      for await (const piece of entry.method === 0 ? stored : inflatePieces(stored)) {
        total += piece.length;
        // A directory that names a smaller size than comes out of the part is how a trap hides.
        if (total > entry.size) throw new UnpackError('more comes out than the directory says');
        const skipped = Math.min(delivered, piece.length);
        delivered -= skipped;
        if (skipped < piece.length && !take(piece.subarray(skipped))) break;
      }
    } catch (error) {
      if (!(error instanceof UnpackError)) throw error;
      return fail('source-damaged', { path: this.shownPath, detail: `${part} cannot be unpacked` });
    }
    return ok(null);
  }

  /** The part unpacked, where it is kept so just now. */
  kept(part: string): Buffer | null {
    return this.unpacked?.part === part ? this.unpacked.bytes : null;
  }

  private isKept({ size }: DirectoryEntry): boolean {
    return this.keepsUnpacked && size >= KEPT_FROM && size <= KEPT_TO;
  }

  private async *pieces(start: number, end: number): AsyncGenerator<Buffer> {
    for (let at = start; at < end; at += PIECE) {
      yield await this.piece(at, Math.min(PIECE, end - at));
    }
  }

  private async piece(at: number, length: number): Promise<Buffer> {
    try {
      return await this.file.read(at, length);
    } catch (error) {
      throw new UnpackError((error as Error).message);
    }
  }

  /** Closes the file. */
  async close(): Promise<void> {
    this.unpacked = null;
    await this.file.close();
  }
}

class UnpackError extends Error {}

/** Whether the part is unpacked at once: handing it through a stream would take longer than unpacking it. */
function isSmall({ size, compressedSize }: DirectoryEntry): boolean {
  return compressedSize <= PIECE && size <= MAX_SMALL_PART;
}

/** What the first bytes of a deflated part unpack to, as far as they go. */
function inflateBeginning(bytes: Buffer): Buffer | null {
  try {
    return inflateRawSync(bytes, { finishFlush: zlib.Z_SYNC_FLUSH, maxOutputLength: 4 << 20 });
  } catch {
    // What is wrong with it shows when the part is unpacked in full.
    return null;
  }
}

async function* inflatePieces(pieces: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  const inflater = createInflateRaw({ chunkSize: 256 << 10 });
  const source = Readable.from(pieces);
  source.on('error', (error) => inflater.destroy(error));
  source.pipe(inflater);
  try {
    for await (const piece of inflater) yield piece as Buffer;
  } catch (error) {
    throw new UnpackError((error as Error).message);
  } finally {
    source.destroy();
    inflater.destroy();
  }
}

function fileFault(error: unknown, path: string) {
  const code = (error as NodeJS.ErrnoException).code;
  if (code === 'ENOENT' || code === 'ENOTDIR') return fail('source-missing', { path });
  const detail =
    code === 'EACCES' || code === 'EPERM'
      ? 'it may not be read here'
      : code === 'EBUSY'
        ? 'another program keeps it locked'
        : (code ?? 'reading failed');
  return fail('source-unreadable', { path, detail });
}

/** The most bytes read at once: the platform's reading call ends the whole process at lengths over 31 bits. */
const MAX_READ = 1 << 30;

/**
 * The bytes of a file: a small file's are read and the file closed at once, a large one's are read as they are asked
 * for. Opening and reading a little do not hand over to the platform's own threads: that takes longer than the reading
 * itself, and all of it happens in a worker thread anyway.
 */
class FileBytes {
  private constructor(
    readonly size: number,
    private descriptor: number | null,
    private readonly whole: Buffer | null,
  ) {}

  /** Null when it is not a plain file; throws what the platform says when it cannot be opened. */
  static open(path: string): FileBytes | null {
    // Not blocking: a named pipe with the name of a workbook must not hold the reader for ever.
    const descriptor = openSync(path, constants.O_RDONLY | constants.O_NONBLOCK);
    let isKept = false;
    try {
      const stat = fstatSync(descriptor);
      if (!stat.isFile()) return null;
      if (stat.size > SMALL_FILE) {
        isKept = true;
        return new FileBytes(stat.size, descriptor, null);
      }
      const whole = Buffer.allocUnsafe(stat.size);
      let done = 0;
      while (done < stat.size) {
        const count = readSync(descriptor, whole, done, stat.size - done, done);
        if (count === 0) break;
        done += count;
      }
      return new FileBytes(done, null, whole.subarray(0, done));
    } finally {
      if (!isKept) closeSync(descriptor);
    }
  }

  /** `length` bytes at `position`; throws when the file has not got them. */
  async read(position: number, length: number): Promise<Buffer> {
    if (!(length >= 0 && length <= MAX_READ && position >= 0 && Number.isSafeInteger(position))) {
      throw new Error('the file names a place that cannot be');
    }
    // Asked before memory is taken for it: a spoilt directory can name any length.
    if (position + length > this.size) throw new Error('the file ends early');
    if (this.whole) return this.whole.subarray(position, position + length);
    if (this.descriptor === null) throw new Error('the file is closed');
    const buffer = Buffer.allocUnsafe(length);
    let done = 0;
    if (length <= PIECE) {
      while (done < length) {
        const count = readSync(this.descriptor, buffer, done, length - done, position + done);
        if (count === 0) throw new Error('the file ends early');
        done += count;
      }
    }
    while (done < length) {
      const { bytesRead } = await readAsync(
        this.descriptor,
        buffer,
        done,
        length - done,
        position + done,
      );
      if (bytesRead === 0) throw new Error('the file ends early');
      done += bytesRead;
    }
    return buffer;
  }

  async close(): Promise<void> {
    const { descriptor } = this;
    this.descriptor = null;
    if (descriptor !== null) await closeAsync(descriptor);
  }
}

async function readDirectory(
  file: FileBytes,
  path: string,
): Promise<Result<Map<string, DirectoryEntry>>> {
  if (file.size === 0) return fail('source-empty', { path });
  const head = await file.read(0, Math.min(file.size, 8));
  if (head.toString('hex') === 'd0cf11e0a1b11ae1') return compoundFault(file, file.size, path);
  let tail: Buffer = Buffer.alloc(0);
  let end = -1;
  for (const length of [SHORT_TAIL, END_BYTES + MAX_COMMENT]) {
    const tailLength = Math.min(file.size, length);
    tail = await file.read(file.size - tailLength, tailLength);
    end = tail.lastIndexOf(Buffer.from([0x50, 0x4b, 0x05, 0x06]));
    if (end >= 0) break;
  }
  if (end < 0) {
    return head.readUInt16LE(0) === 0x4b50
      ? fail('source-damaged', { path, detail: 'its end is missing' })
      : fail('source-not-workbook', { path });
  }
  let count = tail.readUInt16LE(end + 10);
  let size = tail.readUInt32LE(end + 12);
  let offset = tail.readUInt32LE(end + 16);
  if (count === 0xffff || size === 0xffffffff || offset === 0xffffffff) {
    const locator = end - 20;
    if (locator < 0 || tail.readUInt32LE(locator) !== 0x07064b50) {
      return fail('source-damaged', { path, detail: 'its directory is missing' });
    }
    const end64 = await file.read(Number(tail.readBigUInt64LE(locator + 8)), 56);
    count = Number(end64.readBigUInt64LE(32));
    size = Number(end64.readBigUInt64LE(40));
    offset = Number(end64.readBigUInt64LE(48));
  }
  if (offset + size > file.size || size > MAX_DIRECTORY) {
    return fail('source-damaged', { path, detail: 'its directory lies outside the file' });
  }
  return parseDirectory(await file.read(offset, size), count, path);
}

function parseDirectory(
  bytes: Buffer,
  count: number,
  path: string,
): Result<Map<string, DirectoryEntry>> {
  const found = entriesIn(bytes, count);
  if (!found) return fail('source-damaged', { path, detail: 'its directory is cut short' });
  const entries = new Map<string, DirectoryEntry>();
  for (const entry of found) {
    const known = entries.get(partKey(entry.name));
    // No rule says which of two is meant (names of parts are unique, OPC 6.2.2.3); alike ones are no matter.
    if (known && (known.crc !== entry.crc || known.size !== entry.size)) {
      const detail = `it has two parts with the name ${entry.name}`;
      return fail('source-damaged', { path, detail });
    }
    entries.set(partKey(entry.name), entry);
  }
  return ok(entries);
}

/**
 * A compound file instead of a zip is either a workbook encrypted with a password ([MS-OFFCRYPTO] 2.3: its directory
 * names a stream `EncryptedPackage`) or one in the old binary format.
 */
async function compoundFault(file: FileBytes, size: number, path: string) {
  const bytes = await file.read(0, Math.min(size, 4 << 20));
  const isEncrypted = bytes.includes(Buffer.from('EncryptedPackage', 'utf16le'));
  return isEncrypted
    ? fail('source-password-protected', { path })
    : fail('source-old-format', { path });
}
