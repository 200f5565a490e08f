import { readFile } from 'node:fs/promises';
import { fail, type LineChange, ok, type Result } from '@tether/core';
import { CannotFollow, type MovedLines } from '../../moved-lines.ts';
import { PackageFile } from '../../package/package-file.ts';
import { rewritePackage } from '../../package/rewrite-package.ts';
import { tablesIn, usual } from '../write/elements.ts';
import { CONTENT, SIGNATURES } from '../write/write-spreadsheet.ts';
import { moveTable } from './move-table.ts';
import { OpenFollower } from './open-follower.ts';

/** Parts beside the content that say where something stands: styles with conditions, charts. */
const BESIDE = /^(?:styles\.xml|[^/]+\/content\.xml)$/;

/**
 * An OpenDocument spreadsheet (ODF 1.3), packed or flat, with rows or columns of one sheet put in or taken out: formulas on every
 * sheet, names, merged cells, filters, conditions, checks, charts and summaries follow. What formulas came to stays as it was.
 * Faults: those of reading, `sheet-missing`, `write-not-possible` where something cannot follow.
 */
export async function moveSpreadsheet(
  path: string,
  shownPath: string,
  change: LineChange,
  { isFlat }: { isFlat: boolean },
): Promise<Result<MovedLines>> {
  const follower = new OpenFollower(change);
  try {
    return isFlat
      ? await movedFlat(path, shownPath, follower)
      : await movedPackage(path, shownPath, follower);
  } catch (error) {
    if (!(error instanceof CannotFollow)) throw error;
    return fail('write-not-possible', { why: error.message });
  }
}

async function movedFlat(
  path: string,
  shownPath: string,
  follower: OpenFollower,
): Promise<Result<MovedLines>> {
  const made = moveContent((await readFile(path)).toString('utf8'), follower);
  return made.ok ? ok(moved(Buffer.from(made.value, 'utf8'), [shownPath], follower, false)) : made;
}

async function movedPackage(
  path: string,
  shownPath: string,
  follower: OpenFollower,
): Promise<Result<MovedLines>> {
  const opened = await PackageFile.open(path, shownPath);
  if (!opened.ok) return opened;
  const file = opened.value;
  try {
    const content = await file.read(CONTENT);
    if (!content.ok) return content;
    const made = moveContent(content.value.toString('utf8'), follower);
    if (!made.ok) return made;
    const parts = new Map([[CONTENT, Buffer.from(made.value, 'utf8')]]);
    for (const part of file.names.filter((name) => BESIDE.test(name))) {
      const bytes = await file.read(part);
      if (!bytes.ok) return bytes;
      const before = bytes.value.toString('utf8');
      const after = follower.tags(before, '');
      if (after !== before) parts.set(part, Buffer.from(after, 'utf8'));
    }
    const bytes = rewritePackage(await readFile(path), parts, shownPath);
    if (!bytes.ok) return bytes;
    return ok(moved(bytes.value, [...parts.keys()], follower, file.has(SIGNATURES)));
  } finally {
    await file.close();
  }
}

function moved(
  bytes: Buffer,
  changed: string[],
  { formulas, lost }: OpenFollower,
  losesSignature: boolean,
): MovedLines {
  return { bytes, changed, follows: { formulas, lost }, losesSignature, hasPrograms: false };
}

function moveContent(xml: string, follower: OpenFollower): Result<string> {
  const known = usual(xml);
  if (!known.ok) return known;
  if (xml.includes('<table:tracked-changes')) {
    return fail('write-not-possible', { why: 'it keeps a list of changes, which cannot follow' });
  }
  const { change } = follower;
  const left = follower.withoutGone(xml);
  const tables = tablesIn(left);
  const own = tables.find(({ title }) => title.toLowerCase() === change.sheet.toLowerCase());
  if (!own) {
    const sheets = tables.map(({ title }) => title).join(', ');
    return fail('sheet-missing', { sheet: change.sheet, sheets });
  }
  let made = '';
  let at = 0;
  for (const table of tables) {
    const text = left.slice(table.from, table.to);
    const shifted = table === own ? moveTable(text, change) : text;
    made += follower.tags(left.slice(at, table.from), '') + follower.tags(shifted, table.title);
    at = table.to;
  }
  return ok(made + follower.tags(left.slice(at), ''));
}
