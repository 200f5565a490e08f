import { readFile } from 'node:fs/promises';
import { fail, formatCell, ok, parseReference, type Result } from '@tether/core';
import { PackageFile } from '../../package/package-file.ts';
import { rewritePackage } from '../../package/rewrite-package.ts';
import { child, children, parseXml } from '../../package/xml.ts';
import { type Relationship, readRelationships, relationshipsOf } from '../read/relationships.ts';
import { type FreedCell, withoutFormulas } from './formula-list.ts';
import { type CellPatch, patchSheet } from './patch-sheet.ts';

/** A cell of a workbook to be written. */
export interface SheetPatch extends CellPatch {
  sheet: string;
}

/** A workbook with other values in some of its cells. */
export interface WrittenPackage {
  bytes: Buffer;
  /** Parts that are other than before, and how many are the same byte for byte. */
  parts: { changed: string[]; same: number };
  /** Whether the file was signed: a signature does not hold for what was changed. */
  losesSignature: boolean;
}

/**
 * A workbook (ECMA-376) with these cells written: their sheets' parts are changed at those cells, every other part is copied
 * as it is. `isRecalculated` says that all that depends on them is among the patches: otherwise the workbook is marked to be
 * recalculated by the program that opens it next (18.2.2, `fullCalcOnLoad`). Faults: those of reading,
 * `sheet-missing`, `write-formula`, `write-array`, `write-not-possible`.
 */
export async function writeWorkbook(
  path: string,
  shownPath: string,
  patches: readonly SheetPatch[],
  isRecalculated: boolean,
): Promise<Result<WrittenPackage>> {
  const opened = await PackageFile.open(path, shownPath);
  if (!opened.ok) return opened;
  const file = opened.value;
  try {
    const changes = await changedParts(file, shownPath, patches, isRecalculated);
    if (!changes.ok) return changes;
    const { parts, unpacked, losesSignature } = changes.value;
    const bytes = rewritePackage(await readFile(path), parts, shownPath, unpacked);
    if (!bytes.ok) return bytes;
    const changed = [...parts.keys()];
    return ok({
      bytes: bytes.value,
      parts: { changed, same: file.count - changed.length },
      losesSignature,
    });
  } finally {
    await file.close();
  }
}

/** The workbook part of a package, what it is linked to, and what the package is. */
export async function workbookIn(
  file: PackageFile,
  shownPath: string,
): Promise<
  Result<{
    root: Relationship[];
    workbookPart: string;
    workbook: Buffer;
    links: Relationship[];
  }>
> {
  const root = await readRelationships(file, '');
  if (!root.ok) return root;
  const workbookPart = targetOf(root.value, 'officeDocument');
  if (workbookPart === undefined) return fail('source-not-workbook', { path: shownPath });
  const workbook = await file.read(workbookPart);
  if (!workbook.ok) return workbook;
  const links = await readRelationships(file, workbookPart);
  if (!links.ok) return links;
  return ok({ root: root.value, workbookPart, workbook: workbook.value, links: links.value });
}

async function changedParts(
  file: PackageFile,
  shownPath: string,
  patches: readonly SheetPatch[],
  isRecalculated: boolean,
): Promise<
  Result<{
    parts: Map<string, Buffer | null>;
    /** What the changed sheets were before. */
    unpacked: Map<string, Buffer>;
    losesSignature: boolean;
  }>
> {
  const opened = await workbookIn(file, shownPath);
  if (!opened.ok) return opened;
  const { root, workbookPart, workbook, links } = opened.value;
  const parts = new Map<string, Buffer | null>();
  const unpacked = new Map<string, Buffer>();
  const freed: FreedCell[] = [];
  let hasNew = false;
  const sheets = children(child(parseXml(workbook), 'sheets'), 'sheet');
  for (const [name, own] of bySheet(patches)) {
    const sheet = sheets.find(({ attributes }) => attributes.name?.toLowerCase() === name);
    const link = links.find(({ id }) => id === sheet?.attributes.id);
    if (!sheet || !link) {
      const known = sheets.map(({ attributes }) => attributes.name ?? '').join(', ');
      return fail('sheet-missing', { sheet: own[0]!.sheet, sheets: known });
    }
    if (link.type !== 'worksheet') {
      return fail('write-not-possible', { why: `${own[0]!.sheet} is a sheet without cells` });
    }
    const headed = await refuseHeaders(file, link.target, own);
    if (!headed.ok) return headed;
    const bytes = await file.read(link.target);
    if (!bytes.ok) return bytes;
    const patched = patchSheet(bytes.value, own, shownPath);
    if (!patched.ok) return patched;
    hasNew ||= patched.value.hasNew;
    if (!patched.value.bytes.equals(bytes.value)) {
      parts.set(link.target, patched.value.bytes);
      unpacked.set(link.target, bytes.value);
    }
    const sheetId = sheet.attributes.sheetId ?? '';
    freed.push(...patched.value.freed.map((cell) => ({ sheetId, ref: formatCell(cell) })));
  }
  if (freed.length > 0 || hasNew) {
    const done = await freeFormulas(file, workbookPart, links, hasNew ? 'all' : freed, parts);
    if (!done.ok) return done;
  }
  if (!isRecalculated && parts.size > 0) {
    parts.set(workbookPart, Buffer.from(recalculating(workbook.toString('utf8')), 'utf8'));
  }
  const losesSignature = parts.size > 0 && targetOf(root, 'origin') !== undefined;
  return ok({ parts, unpacked, losesSignature });
}

/**
 * Refuses to write the headers of tables: the table part names them too, and formulas do (18.5.1.3), so that a file in which
 * only the cell says another one is damaged.
 */
async function refuseHeaders(
  file: PackageFile,
  sheetPart: string,
  patches: readonly SheetPatch[],
): Promise<Result<null>> {
  const links = await readRelationships(file, sheetPart);
  if (!links.ok) return links;
  for (const { type, target, external } of links.value) {
    if (type !== 'table' || external || !file.has(target)) continue;
    const bytes = await file.read(target);
    if (!bytes.ok) return bytes;
    const { attributes } = parseXml(bytes.value);
    const area = parseReference(attributes.ref ?? '');
    if (!area.ok || attributes.headerRowCount === '0') continue;
    const { top, left, right } = area.value.area;
    const header = patches.find(
      ({ row, column, how }) =>
        row === top && column >= left && column <= right && how !== 'result',
    );
    if (!header) continue;
    const name = attributes.displayName ?? attributes.name ?? '';
    const why = `${formatCell(header)} is a header of the table ${name}, which formulas name`;
    return fail('write-not-possible', { why });
  }
  return ok(null);
}

function bySheet(patches: readonly SheetPatch[]): Map<string, SheetPatch[]> {
  const sheets = new Map<string, SheetPatch[]>();
  // Names of sheets are compared without case.
  for (const each of patches) {
    const name = each.sheet.toLowerCase();
    sheets.set(name, [...(sheets.get(name) ?? []), each]);
  }
  return sheets;
}

/** The part that has a role in a package or beside a part. */
export function targetOf(links: readonly Relationship[], type: string): string | undefined {
  return links.find((link) => link.type === type && !link.external)?.target;
}

/**
 * Takes cells out of the list of formulas; a list of which nothing is left goes, with what names it. It goes too where a formula
 * was put in: in which order that is computed, the next program finds out by itself (ECMA-376 Part 1, 18.6).
 */
export async function freeFormulas(
  file: PackageFile,
  workbookPart: string,
  links: readonly Relationship[],
  freed: readonly FreedCell[] | 'all',
  parts: Map<string, Buffer | null>,
): Promise<Result<null>> {
  const chainPart = targetOf(links, 'calcChain');
  if (chainPart === undefined || !file.has(chainPart)) return ok(null);
  const bytes = await file.read(chainPart);
  if (!bytes.ok) return bytes;
  const left = freed === 'all' ? null : withoutFormulas(bytes.value.toString('utf8'), freed);
  if (left !== null) {
    parts.set(chainPart, Buffer.from(left, 'utf8'));
    return ok(null);
  }
  parts.set(chainPart, null);
  const linksPart = relationshipsOf(workbookPart);
  const named = await file.read(linksPart);
  if (!named.ok) return named;
  const isChain = (tag: string) => /\sType\s*=\s*["'][^"']*\/calcChain["']/.test(tag);
  parts.set(linksPart, without(named.value, 'Relationship', isChain));
  const types = await file.read('[Content_Types].xml');
  if (!types.ok) return types;
  const isNamed = (tag: string) => tag.toLowerCase().includes(`"/${chainPart.toLowerCase()}"`);
  parts.set('[Content_Types].xml', without(types.value, 'Override', isNamed));
  return ok(null);
}

/** A small part without the empty elements of a name of which something holds. */
function without(bytes: Buffer, name: string, holds: (tag: string) => boolean): Buffer {
  const tags = new RegExp(`<(?:[A-Za-z_][\\w.-]*:)?${name}\\s[^>]*?/>`, 'g');
  return Buffer.from(
    bytes.toString('utf8').replace(tags, (tag) => (holds(tag) ? '' : tag)),
    'utf8',
  );
}

/** What may stand in a workbook before what is said of its calculation, the last first (18.2.27). */
const BEFORE_CALC = ['definedNames', 'externalReferences', 'functionGroups', 'sheets'];

/** The workbook part with the wish to be recalculated as a whole when it is opened. */
function recalculating(workbook: string): string {
  const flag = ' fullCalcOnLoad="1"';
  const said = /<((?:[A-Za-z_][\w.-]*:)?)calcPr((?:\s[^>]*?)?)(\/?)>/.exec(workbook);
  if (said) {
    const [whole, prefix, attributes, end] = said;
    const others = attributes!.replace(/\sfullCalcOnLoad\s*=\s*(?:"[^"]*"|'[^']*')/, '');
    return workbook.replace(whole, `<${prefix}calcPr${others}${flag}${end}>`);
  }
  for (const name of BEFORE_CALC) {
    const before = new RegExp(`</((?:[A-Za-z_][\\w.-]*:)?)${name}\\s*>`).exec(workbook);
    if (!before) continue;
    const behind = before.index + before[0].length;
    return `${workbook.slice(0, behind)}<${before[1]}calcPr${flag}/>${workbook.slice(behind)}`;
  }
  return workbook;
}
