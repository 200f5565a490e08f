import { readFile } from 'node:fs/promises';
import { fail, type LineChange, ok, type Result } from '@tether/core';
import { CannotFollow, type MovedLines } from '../../moved-lines.ts';
import { PackageFile } from '../../package/package-file.ts';
import { rewritePackage } from '../../package/rewrite-package.ts';
import { child, children, parseXml } from '../../package/xml.ts';
import { type Relationship, readRelationships } from '../read/relationships.ts';
import { patchSheet } from '../write/patch-sheet.ts';
import { freeFormulas, targetOf, workbookIn } from '../write/write-workbook.ts';
import { Follower } from './follower.ts';
import {
  followChart,
  followControl,
  followNames,
  followPivotSource,
  followTable,
  type MovedTable,
  moveDrawing,
  moveNoteShapes,
  moveNotes,
  movePivot,
  moveTable,
} from './move-parts.ts';
import { followSheet, moveSheet } from './move-sheet.ts';

/**
 * A workbook (ECMA-376) with rows or columns of one sheet put in or taken out: formulas on every sheet, names, merged cells,
 * tables, filters, rules, checks, notes, pictures, charts and summaries follow. What formulas came to stays as it was. Faults:
 * those of reading, `sheet-missing`, `write-not-possible` where something cannot follow.
 */
export async function moveLines(
  path: string,
  shownPath: string,
  change: LineChange,
): Promise<Result<MovedLines>> {
  const opened = await PackageFile.open(path, shownPath);
  if (!opened.ok) return opened;
  const file = opened.value;
  try {
    return await movedWithin(file, path, shownPath, change);
  } catch (error) {
    if (!(error instanceof CannotFollow)) throw error;
    return fail('write-not-possible', { why: error.message });
  } finally {
    await file.close();
  }
}

async function movedWithin(
  file: PackageFile,
  path: string,
  shownPath: string,
  change: LineChange,
): Promise<Result<MovedLines>> {
  const opened = await workbookIn(file, shownPath);
  if (!opened.ok) return opened;
  const { root, workbookPart, workbook, links } = opened.value;
  const sheets = children(child(parseXml(workbook), 'sheets'), 'sheet').flatMap(
    ({ attributes: { name = '', id } }) => {
      const link = links.find((each) => each.id === id);
      return link ? [{ name, link }] : [];
    },
  );
  const own = sheets.find(({ name }) => name.toLowerCase() === change.sheet.toLowerCase());
  if (!own) {
    const known = sheets.map(({ name }) => name).join(', ');
    return fail('sheet-missing', { sheet: change.sheet, sheets: known });
  }
  if (own.link.type !== 'worksheet') {
    return fail('write-not-possible', { why: `${own.name} is a sheet without cells` });
  }
  const follower = new Follower({ ...change, sheet: own.name });
  const parts = new Map<string, Buffer | null>();
  /** Rewrites a part, where something of it changes. */
  const rewrite = async (part: string, make: (xml: string) => string): Promise<Result<null>> => {
    if (!file.has(part)) return ok(null);
    const bytes = await file.read(part);
    if (!bytes.ok) return bytes;
    const [first, second] = bytes.value;
    if ((first === 0xff && second === 0xfe) || (first === 0xfe && second === 0xff)) {
      throw new CannotFollow('a part of it is written in an unusual way');
    }
    const before = bytes.value.toString('utf8');
    if (before.includes('<![CDATA[') || (before.includes('<!--') && part.includes('sheet'))) {
      throw new CannotFollow('a part of it is written in an unusual way');
    }
    const after = make(before);
    if (after !== before) parts.set(part, Buffer.from(after, 'utf8'));
    return ok(null);
  };

  const beside = await readRelationships(file, own.link.target);
  if (!beside.ok) return beside;
  const moved = await moveBeside(beside.value, own.name, follower, rewrite);
  if (!moved.ok) return moved;
  const { headers, gone } = moved.value;
  const standing = new Set(beside.value.map(({ target }) => target.toLowerCase()));
  for (const { name, link } of sheets) {
    if (link.type !== 'worksheet') continue;
    const done = await rewrite(link.target, (xml) => {
      const lost = gone.find((column) => xml.includes(column));
      if (lost) throw new CannotFollow(`a formula reads the column ${lost} of a table`);
      return link === own.link ? moveSheet(xml, name, follower) : followSheet(xml, name, follower);
    });
    if (!done.ok) return done;
  }
  if (headers.length > 0) {
    const patches = headers.map(({ row, column, text }) => ({
      ...{ row, column },
      value: text,
      how: 'value' as const,
    }));
    const patched = patchSheet(parts.get(own.link.target)!, patches, shownPath);
    if (!patched.ok) return patched;
    parts.set(own.link.target, patched.value.bytes);
  }
  const everywhere: [RegExp, (xml: string) => string][] = [
    [/(?:^|\/)charts\/chart[^/]*\.xml$/, (xml) => followChart(xml, follower)],
    [/(?:^|\/)pivotcachedefinition[^/]*\.xml$/, (xml) => followPivotSource(xml, follower)],
    [/(?:^|\/)tables\/table[^/]*\.xml$/, (xml) => followTable(xml, follower)],
  ];
  const beyond = file.names.filter((part) => !standing.has(part));
  for (const part of beyond) {
    for (const [meant, make] of everywhere) {
      const done = meant.test(part) ? await rewrite(part, make) : ok(null);
      if (!done.ok) return done;
    }
  }
  const named = await rewrite(workbookPart, (xml) => followNames(xml, follower));
  if (!named.ok) return named;
  // In which order formulas are computed, the next program finds out by itself.
  const freed = await freeFormulas(file, workbookPart, links, 'all', parts);
  if (!freed.ok) return freed;
  const bytes = rewritePackage(await readFile(path), parts, shownPath);
  if (!bytes.ok) return bytes;
  return ok({
    bytes: bytes.value,
    changed: [...parts.keys()],
    follows: { formulas: follower.formulas, lost: follower.lost },
    losesSignature: targetOf(root, 'origin') !== undefined,
    hasPrograms: links.some(({ type }) => type === 'vbaProject'),
  });
}

/** What stands beside the sheet in parts of its own. */
async function moveBeside(
  links: readonly Relationship[],
  own: string,
  follower: Follower,
  rewrite: (part: string, make: (xml: string) => string) => Promise<Result<null>>,
): Promise<Result<Pick<MovedTable, 'headers' | 'gone'>>> {
  const headers: MovedTable['headers'] = [];
  const gone: string[] = [];
  const makes: Record<string, (xml: string) => string> = {
    table(xml) {
      const made = moveTable(xml, own, follower);
      headers.push(...made.headers);
      gone.push(...made.gone);
      return made.xml;
    },
    drawing: (xml) => moveDrawing(xml, follower.change),
    comments: (xml) => moveNotes(xml, follower),
    threadedComment: (xml) => moveNotes(xml, follower),
    vmlDrawing: (xml) => moveNoteShapes(xml, follower.change),
    pivotTable: (xml) => movePivot(xml, follower),
    ctrlProp: (xml) => followControl(xml, follower, own),
  };
  for (const { type, target, external } of links) {
    const make = makes[type];
    if (external || !make) continue;
    const done = await rewrite(target, make);
    if (!done.ok) return done;
  }
  return ok({ headers, gone });
}
