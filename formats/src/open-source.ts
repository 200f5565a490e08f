import type { DelimitedReading, Result } from '@tether/core';
import { openDelimited } from './delimited/open-delimited.ts';
import { openSpreadsheet } from './odf/open-spreadsheet.ts';
import { openWorkbook } from './ooxml/open-workbook.ts';
import type { OpenSource } from './source.ts';

/** How a source is to be read where that is not as it was found to be. */
export interface ReadingOptions {
  delimited?: Partial<DelimitedReading> | undefined;
  /** The source stays open for somebody who scrolls through it: a large sheet is kept unpacked in memory. */
  isBrowsed?: boolean;
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

/**
 * Opens the source at `path`, by the ending of its name: delimited text (`.csv`, `.tsv`, `.tab`), an OpenDocument
 * spreadsheet (`.ods`, `.fods`), a workbook otherwise. `shownPath` is the name that faults use. Faults: those of
 * `openWorkbook`, `openSpreadsheet` and `openDelimited`.
 */
export function openSource(
  path: string,
  shownPath = path,
  options: ReadingOptions = {},
): Promise<Result<OpenSource>> {
  if (/\.(csv|tsv|tab)$/i.test(shownPath)) return openDelimited(path, shownPath, options.delimited);
  if (/\.(ods|fods)$/i.test(shownPath)) return openSpreadsheet(path, shownPath);
  return openWorkbook(path, shownPath, options);
}
