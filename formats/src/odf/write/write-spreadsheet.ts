import { readFile } from 'node:fs/promises';
import { fail, ok, type Result } from '@tether/core';
import { PackageFile } from '../../package/package-file.ts';
import { rewritePackage } from '../../package/rewrite-package.ts';
import { type ContentPatch, patchContent } from './patch-content.ts';

/** A spreadsheet with other values in some of its cells. */
interface WrittenSpreadsheet {
  bytes: Buffer;
  parts: { changed: string[]; same: number };
  losesSignature: boolean;
}

export const CONTENT = 'content.xml';
export const SIGNATURES = 'META-INF/documentsignatures.xml';

/**
 * An OpenDocument spreadsheet (ODF 1.3), packed or flat, with these cells written: its content is changed at those cells, every
 * other part is copied as it is. A document cannot be marked to be recalculated when it is opened, so that one with formulas is
 * refused unless `isRecalculated` says that all that depends on the cells is among them. Faults: those of reading and of
 * `patchContent`.
 */
export async function writeSpreadsheet(
  path: string,
  shownPath: string,
  patches: readonly ContentPatch[],
  { isFlat, isRecalculated }: { isFlat: boolean; isRecalculated: boolean },
): Promise<Result<WrittenSpreadsheet>> {
  if (isFlat) {
    const made = patched((await readFile(path)).toString('utf8'), patches, isRecalculated);
    if (!made.ok) return made;
    const parts = { changed: patches.length > 0 ? [shownPath] : [], same: 0 };
    return ok({ bytes: Buffer.from(made.value, 'utf8'), parts, losesSignature: false });
  }
  const opened = await PackageFile.open(path, shownPath);
  if (!opened.ok) return opened;
  const file = opened.value;
  try {
    const content = await file.read(CONTENT);
    if (!content.ok) return content;
    const made = patched(content.value.toString('utf8'), patches, isRecalculated);
    if (!made.ok) return made;
    const now = Buffer.from(made.value, 'utf8');
    const changed = now.equals(content.value) ? [] : [CONTENT];
    const changes = new Map(changed.map((part) => [part, now]));
    const bytes = rewritePackage(await readFile(path), changes, shownPath);
    if (!bytes.ok) return bytes;
    return ok({
      bytes: bytes.value,
      parts: { changed, same: file.count - changed.length },
      losesSignature: changed.length > 0 && file.has(SIGNATURES),
    });
  } finally {
    await file.close();
  }
}

function patched(
  xml: string,
  patches: readonly ContentPatch[],
  isRecalculated: boolean,
): Result<string> {
  if (!isRecalculated && /\stable:formula\s*=/.test(xml)) {
    return fail('write-not-possible', { why: 'its formulas would show what they came to before' });
  }
  return patchContent(xml, patches);
}
