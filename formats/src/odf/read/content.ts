import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { StringDecoder } from 'node:string_decoder';
import { fail, ok, type Result } from '@tether/core';
import { PackageFile } from '../../package/package-file.ts';
import { XmlError, XmlScanner } from '../../package/xml-scanner.ts';
import type { TableEvents } from './table-events.ts';

/** Where the XML of a spreadsheet comes from: a part of a package, or a file that is nothing but XML. */
export interface Content {
  /** Bytes of the XML. */
  size: number;
  /** Gives the text piece by piece until `take` returns false. */
  scan(take: (piece: string) => boolean): Promise<Result<null>>;
  /** A part beside the content, such as a chart; null when there is none. */
  part(name: string): Promise<Result<Buffer | null>>;
  close(): Promise<void>;
}

/** A flat file larger than this is not read: the same bound as for a part of a package. */
const MAX_FLAT_BYTES = 400 << 20;
const SPREADSHEET = 'application/vnd.oasis.opendocument.spreadsheet';
/** Opens a packed spreadsheet. */
export async function openPacked(path: string, shownPath: string): Promise<Result<Content>> {
  const opened = await PackageFile.open(path, shownPath);
  if (!opened.ok) return opened;
  const file = opened.value;
  const refuse = async (fault: Result<never>) => {
    await file.close();
    return fault;
  };
  if (file.has('mimetype')) {
    const type = await file.read('mimetype');
    if (!type.ok) return refuse(type);
    if (!type.value.toString('latin1').trim().startsWith(SPREADSHEET)) {
      return refuse(fail('source-not-workbook', { path: shownPath }));
    }
  }
  // What is encrypted says so in the manifest (ODF 1.3 Part 2, 3.4).
  if (file.has('META-INF/manifest.xml')) {
    const manifest = await file.read('META-INF/manifest.xml');
    if (!manifest.ok) return refuse(manifest);
    if (manifest.value.includes('encryption-data')) {
      return refuse(fail('source-password-protected', { path: shownPath }));
    }
  }
  return ok({
    size: file.sizeOf('content.xml'),
    async scan(take) {
      const decoder = new StringDecoder('utf8');
      let isGoing = true;
      const scanned = await file.scan('content.xml', (piece) => {
        isGoing = take(decoder.write(piece));
        return isGoing;
      });
      if (scanned.ok && isGoing) take(decoder.end());
      return scanned;
    },
    async part(name) {
      return file.has(name) ? file.read(name) : ok(null);
    },
    close: () => file.close(),
  });
}

/** Opens a spreadsheet that is one XML file. */
export async function openFlat(path: string, shownPath: string): Promise<Result<Content>> {
  let size = 0;
  try {
    const found = await stat(path);
    size = found.size;
    if (!found.isFile()) {
      return fail('source-unreadable', { path: shownPath, detail: 'it is not a plain file' });
    }
    if (found.size === 0) return fail('source-empty', { path: shownPath });
    if (found.size > MAX_FLAT_BYTES) {
      return fail('source-too-large', { path: shownPath, limit: 'over 400 MB' });
    }
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'reading failed';
    if (code === 'ENOENT' || code === 'ENOTDIR') return fail('source-missing', { path: shownPath });
    return fail('source-unreadable', { path: shownPath, detail: code });
  }
  return ok({
    size,
    async scan(take) {
      const decoder = new StringDecoder('utf8');
      const stream = createReadStream(path, { highWaterMark: 256 << 10 });
      try {
        for await (const piece of stream) {
          if (!take(decoder.write(piece as Buffer))) return ok(null);
        }
        take(decoder.end());
        return ok(null);
      } catch (error) {
        if (error instanceof XmlError) throw error;
        const detail = (error as NodeJS.ErrnoException).code ?? 'reading failed';
        return fail('source-unreadable', { path: shownPath, detail });
      } finally {
        stream.destroy();
      }
    },
    part: async () => ok(null),
    close: async () => {},
  });
}

/** Gives the content's XML to a walk until it has seen enough. */
export async function walk(content: Content, events: TableEvents): Promise<Result<null>> {
  const scanner = new XmlScanner(events);
  events.scanner = scanner;
  const scanned = await content.scan((piece) => {
    scanner.write(piece);
    return !events.isDone;
  });
  if (scanned.ok && !events.isDone) scanner.close();
  return scanned;
}
