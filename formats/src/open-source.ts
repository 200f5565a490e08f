import { closeSync, constants, openSync, readSync } from 'node:fs';
import type { DelimitedReading, Result } from '@tether/core';
import { openDelimited } from './delimited/read/open-delimited.ts';
import { openSpreadsheet } from './odf/read/open-spreadsheet.ts';
import { openWorkbook } from './ooxml/read/open-workbook.ts';
import type { OpenSource } from './source.ts';

/** How a source is to be read where that is not as it was found to be. */
export interface ReadingOptions {
  delimited?: Partial<DelimitedReading> | undefined;
  /** The source stays open for somebody who scrolls through it: a large sheet is kept unpacked in memory. */
  isBrowsed?: boolean;
  /** The hash of the file's bytes: what takes long to find in them is then found once, not at each opening. */
  hash?: string | null;
}

/** Ends of file names that can be sources. */
export const SOURCE_ENDINGS = [
  'xlsx',
  'xlsm',
  'xltx',
  'xltm',
  'ods',
  'fods',
  'csv',
  'tsv',
  'tab',
] as const;

type Kind = 'text' | 'packed document' | 'flat document' | 'workbook';

/** So many bytes at the beginning of a file say what it is. */
const HEAD = 2_048;

/**
 * Opens the source at `path`: delimited text (`.csv`, `.tsv`, `.tab`), an OpenDocument spreadsheet (`.ods`, `.fods`), a
 * workbook otherwise; a package or a flat document with another ending is read as what it is. `shownPath` is the name that
 * faults use. Faults: those of `openWorkbook`, `openSpreadsheet` and `openDelimited`.
 */
export async function openSource(
  path: string,
  shownPath = path,
  options: ReadingOptions = {},
): Promise<Result<OpenSource>> {
  switch (sourceKind(path, shownPath)) {
    case 'text':
      return openDelimited(path, shownPath, options.delimited);
    case 'packed document':
      return openSpreadsheet(path, shownPath, { isFlat: false });
    case 'flat document':
      return openSpreadsheet(path, shownPath, { isFlat: true });
    case 'workbook':
      return openWorkbook(path, shownPath, options);
  }
}

/** What kind of file a source is, by its first bytes and its name. */
export function sourceKind(path: string, shownPath = path): Kind {
  return kindOf(headOf(path), kindByName(shownPath));
}

function kindByName(shownPath: string): Kind {
  if (/\.(csv|tsv|tab)$/i.test(shownPath)) return 'text';
  if (/\.fods$/i.test(shownPath)) return 'flat document';
  return /\.ods$/i.test(shownPath) ? 'packed document' : 'workbook';
}

/** What a file is by its beginning, where that says it (ODF 1.3 Part 2, 3.3: a package names its kind first). */
function kindOf(head: string, named: Kind): Kind {
  if (head.startsWith('PK')) {
    // The name of the first part stands behind 30 bytes (APPNOTE 4.3.7).
    if (head.startsWith('mimetype', 30)) return 'packed document';
    if (/\[Content_Types\]\.xml|_rels\/\.rels/.test(head)) return 'workbook';
    return named === 'text' ? 'workbook' : named;
  }
  return /^(\xef\xbb\xbf)?\s*<[\s\S]*<office:document[\s>]/.test(head) ? 'flat document' : named;
}

/** The beginning of a file, a character for a byte; empty where it cannot be read, which opening it says. */
function headOf(path: string): string {
  let file: number | null = null;
  try {
    // Not blocking: a named pipe with the name of a workbook must not hold the reader for ever.
    file = openSync(path, constants.O_RDONLY | constants.O_NONBLOCK);
    const buffer = Buffer.alloc(HEAD);
    return buffer.toString('latin1', 0, readSync(file, buffer, 0, HEAD, 0));
  } catch {
    return '';
  } finally {
    if (file !== null) closeSync(file);
  }
}
