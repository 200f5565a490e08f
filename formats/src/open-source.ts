import type { Result } from '@tether/core';
import { openDelimited } from './delimited/open-delimited.ts';
import { openSpreadsheet } from './odf/open-spreadsheet.ts';
import { openWorkbook } from './ooxml/open-workbook.ts';
import type { OpenSource } from './source.ts';

/**
 * Opens the source at `path`: delimited text by its name's ending (`.csv`, `.tsv`, `.tab`), a workbook otherwise.
 * `shownPath` is the name that faults use. Faults: those of `openWorkbook` and `openDelimited`.
 */
export function openSource(path: string, shownPath = path): Promise<Result<OpenSource>> {
  if (/\.(csv|tsv|tab)$/i.test(shownPath)) return openDelimited(path, shownPath);
  if (/\.(ods|fods)$/i.test(shownPath)) return openSpreadsheet(path, shownPath);
  return openWorkbook(path, shownPath);
}
