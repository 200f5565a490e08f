import { readFile } from 'node:fs/promises';
import { fail, ok, type Result } from '@tether/core';
import { PackageFile } from '../../package/package-file.ts';
import { rewritePackage } from '../../package/rewrite-package.ts';
import { attributeIn } from '../../package/tags.ts';
import { workbookIn } from './write-workbook.ts';
import { escaped } from './xml-text.ts';

/** Names that are put into a workbook or taken out of it. */
export interface NameChange {
  /** `name` of letters, digits and `_`. */
  add: { name: string; refersTo: string }[];
  remove: string[];
}

/** A workbook with other names; `bytes` are as before where nothing differs. */
export interface NamesWritten {
  before: Buffer;
  bytes: Buffer;
}

/**
 * A workbook (ECMA-376) with hidden names of its own put in or taken out (18.2.5): the workbook part alone is changed, every
 * other part is copied as it is. A name that is there already refers to what is said now. Faults: those of reading, and
 * `write-not-possible`.
 */
export async function writeNames(
  path: string,
  shownPath: string,
  change: NameChange,
): Promise<Result<NamesWritten>> {
  const opened = await PackageFile.open(path, shownPath);
  if (!opened.ok) return opened;
  const file = opened.value;
  try {
    const found = await workbookIn(file, shownPath);
    if (!found.ok) return found;
    const { root, workbookPart, workbook } = found.value;
    if (root.some(({ type }) => type === 'origin')) {
      return fail('write-not-possible', { why: 'it is signed, and would not be any more' });
    }
    const before = await readFile(path);
    const text = workbook.toString('utf8');
    const changed = withNames(text, change);
    if (changed === text) return ok({ before, bytes: before });
    const parts = new Map([[workbookPart, Buffer.from(changed, 'utf8')]]);
    const bytes = rewritePackage(before, parts, shownPath);
    return bytes.ok ? ok({ before, bytes: bytes.value }) : bytes;
  } finally {
    await file.close();
  }
}

/** What may stand before the names of a workbook, the last first (18.2.27). */
const BEFORE_NAMES = ['externalReferences', 'functionGroups', 'sheets'];
const PREFIX = '(?:[A-Za-z_][\\w.-]*:)?';
const ONE = new RegExp(
  `<(${PREFIX})definedName(?=[\\s/>])(?:[^>]*/>|[^>]*>[^<]*</${PREFIX}definedName\\s*>)`,
  'g',
);

/** The workbook part with other names. */
function withNames(workbook: string, { add, remove }: NameChange): string {
  const gone = new Set(
    [...remove, ...add.map(({ name }) => name)].map((each) => each.toLowerCase()),
  );
  const isGone = (element: string) => {
    // A sheet's own name is none of ours, whatever it is called.
    const tag = element.slice(0, element.indexOf('>') + 1);
    const name = attributeIn(tag, 'name');
    return (
      name !== null && gone.has(name.toLowerCase()) && attributeIn(tag, 'localSheetId') === null
    );
  };
  let text = workbook.replace(ONE, (element) => (isGone(element) ? '' : element));
  for (const each of add) text = withName(text, each);
  // An element without names is not valid.
  return text.replace(
    new RegExp(`<(${PREFIX})definedNames(?:\\s[^>]*)?>\\s*</\\1definedNames\\s*>`),
    '',
  );
}

function withName(workbook: string, { name, refersTo }: NameChange['add'][number]): string {
  const element = (prefix: string) =>
    `<${prefix}definedName name="${name}" hidden="1">${escaped(refersTo)}</${prefix}definedName>`;
  const list = new RegExp(`<(${PREFIX})definedNames(?:\\s[^>]*)?>`).exec(workbook);
  if (list) {
    // In the order of their names, as programs keep them.
    const others = [...workbook.matchAll(ONE)].filter(({ index }) => index > list.index);
    const after = others.find(
      ([each]) => (attributeIn(each, 'name') ?? '').toLowerCase() > name.toLowerCase(),
    );
    const last = others.at(-1);
    const end = last ? last.index + last[0].length : list.index + list[0].length;
    return insert(workbook, after?.index ?? end, element(list[1]!));
  }
  for (const each of BEFORE_NAMES) {
    const found = new RegExp(`</(${PREFIX})${each}\\s*>|<(${PREFIX})${each}(?:\\s[^>]*)?/>`).exec(
      workbook,
    );
    if (!found) continue;
    const prefix = found[1] ?? found[2] ?? '';
    const names = `<${prefix}definedNames>${element(prefix)}</${prefix}definedNames>`;
    return insert(workbook, found.index + found[0].length, names);
  }
  return workbook;
}

function insert(text: string, at: number, what: string): string {
  return text.slice(0, at) + what + text.slice(at);
}
