import {
  type Area,
  FormulaError,
  fail,
  formatArea,
  formatCell,
  ok,
  parseCell,
  type Result,
} from '@tether/core';
import { formulaText } from './formula-text.ts';
import { type Edit, handedOn, type SharedMaster, sharedBy } from './shared-master.ts';
import { escaped } from './xml-text.ts';

/** What a cell is to hold; null for nothing. Its look stays. */
export type WrittenValue = number | string | boolean | FormulaError | null;

/** A cell to be written, rows and columns counted from 1. */
export interface CellPatch {
  row: number;
  column: number;
  value: WrittenValue;
  /**
   * `value` writes over a plain cell, `formula too` over one with a formula as well, which then has none; `result` keeps the
   * formula and changes what it last came to; `formula` puts in another formula, which comes to the value.
   */
  how: 'value' | 'formula too' | 'result' | 'formula';
  /** The formula that is put in, without its `=`. */
  formula?: string | undefined;
  /** The cells that its formula fills now, where those are others than before. */
  fills?: Area;
  /** What is shown, in files that say so. */
  shown?: string;
}

/** What a sheet part was before and is now. */
export interface PatchedSheet {
  bytes: Buffer;
  /** Cells that had a formula and have none any more: the list of formulas must not name them. */
  freed: { row: number; column: number }[];
  /** Whether formulas were put in, which that list does not name. */
  hasNew: boolean;
}

// Searched for as bytes, and by a first one that is rare in a sheet: many times as fast as a text that begins with `<`.
const COMMENT = Buffer.from('!--');
const UNPARSED = Buffer.from('![CDATA[');
const LESS = 0x3c;
const GREATER = 0x3e;
const SLASH = 0x2f;

/**
 * A sheet part (ECMA-376 Part 1, 18.3.1.99) with other values in some of its cells: all other bytes stay as they are. Cells
 * and rows that are not there are put in at their place in the order (18.3.1.73). A text is written into its cell
 * (`inlineStr`, 18.3.1.53), so that the shared strings stay untouched. Faults: `write-formula` for a cell with a formula that
 * is not to be written over, `write-array` for one of several that one formula fills, `source-damaged`.
 */
export function patchSheet(
  bytes: Buffer,
  patches: readonly CellPatch[],
  shownPath: string,
): Result<PatchedSheet> {
  const damaged = (detail: string) => fail('source-damaged', { path: shownPath, detail });
  // Comments and unparsed text may hold what looks like cells.
  if (
    bytes.includes(COMMENT) ||
    bytes.includes(UNPARSED) ||
    bytes[0] === 0xff ||
    bytes[0] === 0xfe
  ) {
    return fail('write-not-possible', { why: 'its cells are written in an unusual way' });
  }
  const prefix = prefixOf(bytes);
  const data = openingTag(bytes, `${prefix}sheetData`, 0);
  if (!data) return damaged('a sheet has no cells part');
  const wanted = byRow(patches);
  const edits: Edit[] = [];
  const freed: PatchedSheet['freed'] = [];
  const masters: Given[] = [];
  if (data.isEmpty) {
    const rows = wanted.map(([row, cells]) => newRow(prefix, row, cells)).join('');
    const name = bytes.toString('latin1', data.from + 1, data.nameEnd);
    edits.push({ from: data.to - 2, to: data.to, text: `>${rows}</${name}>` });
  } else {
    // There is one, and it stands near the end.
    const close = bytes.lastIndexOf(Buffer.from(`</${prefix}sheetData`));
    if (close < data.to) return damaged('the cells of a sheet do not end');
    let at = data.to;
    let number = 0;
    let next = wanted.shift();
    let canJump = true;
    while (next) {
      // One that is not there is not looked for again: a search goes to the end.
      const start: number | null = canJump ? rowStart(bytes, prefix, next[0], at, close) : null;
      canJump = start !== null;
      at = start ?? at;
      const tag = openingTag(bytes, `${prefix}row`, at, close);
      if (!tag) break;
      number = Number(attribute(bytes, tag, 'r') ?? number + 1);
      while (next && next[0] < number) {
        edits.push({ from: tag.from, to: tag.from, text: newRow(prefix, ...next) });
        next = wanted.shift();
      }
      const end = tag.isEmpty ? tag.to : bytes.indexOf(`</${prefix}row`, tag.to, 'latin1');
      if (end < 0 || end > close) return damaged('a row of a sheet does not end');
      if (next && next[0] === number) {
        const patched = patchRow(bytes, prefix, tag, end, next, freed, masters);
        if (!patched.ok) return patched;
        edits.push(...patched.value);
        next = wanted.shift();
      }
      at = end;
    }
    for (; next; next = wanted.shift()) {
      edits.push({ from: close, to: close, text: newRow(prefix, ...next) });
    }
    const written = new Set(
      patches.filter(({ how }) => how !== 'result').map((each) => formatCell(each)),
    );
    for (const { behind, ...master } of masters) {
      const isWritten = (row: number, column: number) => written.has(formatCell({ row, column }));
      const edit = handedOn(bytes, prefix, master, behind, close, isWritten);
      if (edit) addWithin(edits, edit);
    }
  }
  edits.push(...widened(bytes, prefix, patches, data.from));
  const hasNew = patches.some(({ how }) => how === 'formula');
  return ok({ bytes: applied(bytes, edits), freed, hasNew });
}

/** A shared formula whose cell gets something else, and where that cell ends. */
type Given = SharedMaster & { behind: number };

/** Adds what changes within a cell; where that cell gets another result as well, it changes within that. */
function addWithin(edits: Edit[], { from, to, text }: Edit): void {
  const around = edits.find((each) => each.from <= from && each.to >= to);
  if (!around) edits.push({ from, to, text });
  else around.text = around.text.replace(/<[^<>]*\bsi\s*=[^<>]*?(?:\/>|><\/[^<>]*>)/, () => text);
}

/** An opening tag: where it begins and ends, and where its name ends. */
interface Tag {
  from: number;
  to: number;
  nameEnd: number;
  isEmpty: boolean;
}

type Row = [row: number, cells: CellPatch[]];

function byRow(patches: readonly CellPatch[]): Row[] {
  const rows = new Map<number, Map<number, CellPatch>>();
  for (const each of patches) {
    const row = rows.get(each.row) ?? new Map<number, CellPatch>();
    row.set(each.column, each);
    rows.set(each.row, row);
  }
  return [...rows]
    .sort(([a], [b]) => a - b)
    .map(([row, cells]) => [row, [...cells.values()].sort((a, b) => a.column - b.column)]);
}

/**
 * Where a row begins that says its number first, as most programs write it: then no row before it has to be looked at. Null where
 * it does not stand so.
 */
function rowStart(
  bytes: Buffer,
  prefix: string,
  row: number,
  from: number,
  until: number,
): number | null {
  const at = bytes.indexOf(Buffer.from(`<${prefix}row r="${row}"`), from);
  return at >= 0 && at < until ? at : null;
}

/** The prefix of the root's namespace with its colon; empty for none. */
function prefixOf(bytes: Buffer): string {
  const root = /<([A-Za-z_][\w.-]*:)?(?:worksheet|chartsheet|dialogsheet)[\s>]/.exec(
    bytes.toString('latin1', 0, Math.min(bytes.length, 4_096)),
  );
  return root?.[1] ?? '';
}

/** The next opening tag with this name, before `until`. */
function openingTag(bytes: Buffer, name: string, from: number, until = bytes.length): Tag | null {
  const start = `<${name}`;
  for (let at = bytes.indexOf(start, from, 'latin1'); at >= 0 && at < until; ) {
    const nameEnd = at + start.length;
    const behind = bytes[nameEnd]!;
    if (behind === GREATER || behind === SLASH || behind <= 0x20) {
      const to = endOfTag(bytes, nameEnd);
      return to < 0 ? null : { from: at, to, nameEnd, isEmpty: bytes[to - 2] === SLASH };
    }
    at = bytes.indexOf(start, nameEnd, 'latin1');
  }
  return null;
}

/** Where a tag ends, behind its bracket; brackets within values are passed over. -1 for one that does not. */
function endOfTag(bytes: Buffer, from: number): number {
  let quote = 0;
  for (let at = from; at < bytes.length; at++) {
    const byte = bytes[at]!;
    if (quote) {
      if (byte === quote) quote = 0;
    } else if (byte === 0x22 || byte === 0x27) quote = byte;
    else if (byte === GREATER) return at + 1;
    else if (byte === LESS) return -1;
  }
  return -1;
}

function attribute(bytes: Buffer, { nameEnd, to }: Tag, name: string): string | null {
  const said = bytes.toString('latin1', nameEnd, to);
  const match = new RegExp(`\\s${name}\\s*=\\s*(?:"([^"]*)"|'([^']*)')`).exec(said);
  return match ? (match[1] ?? match[2] ?? '') : null;
}

/** What changes within a row that is there. `end` is where its content ends. */
function patchRow(
  bytes: Buffer,
  prefix: string,
  row: Tag,
  end: number,
  [number, cells]: Row,
  freed: PatchedSheet['freed'],
  masters: Given[],
): Result<Edit[]> {
  // How far cells go in it is only said to help; it may be wrong now (18.3.1.73, spans).
  const edits: Edit[] = [...withoutAttribute(bytes, row, 'spans')];
  const fresh = (each: CellPatch) => (isEmptied(each) ? '' : newCell(prefix, each));
  if (row.isEmpty) {
    const name = bytes.toString('latin1', row.from + 1, row.nameEnd);
    const text = cells.map(fresh).join('');
    if (text !== '') edits.push({ from: row.to - 2, to: row.to, text: `>${text}</${name}>` });
    return ok(edits);
  }
  const left = [...cells];
  let at = row.to;
  let column = 0;
  while (left.length > 0) {
    const tag = openingTag(bytes, `${prefix}c`, at, end);
    if (!tag) break;
    const name = attribute(bytes, tag, 'r');
    column = name === null ? column + 1 : columnOf(name);
    while (left[0] && left[0].column < column) {
      edits.push({ from: tag.from, to: tag.from, text: fresh(left.shift()!) });
    }
    const closing = `</${prefix}c>`;
    const close = tag.isEmpty ? tag.to : bytes.indexOf(closing, tag.to, 'latin1') + closing.length;
    if (!tag.isEmpty && close < closing.length) break;
    const [patch] = left;
    if (patch?.column === column) {
      left.shift();
      const inner = tag.isEmpty ? '' : bytes.toString('utf8', tag.to, close - closing.length);
      const formula = formulaIn(inner, prefix);
      if (formula && patch.how === 'value') {
        return fail('write-formula', { cell: formatCell({ row: number, column }) });
      }
      if (formula && (patch.how === 'formula too' || patch.how === 'formula')) {
        if (sharedBy(formula.tag) !== null) {
          masters.push({ ...formula, row: number, column, behind: close });
        } else if (/\b(?:t\s*=\s*["'](?:array|dataTable)|ref\s*=)/.test(formula.tag)) {
          return fail('write-array', { cell: formatCell({ row: number, column }) });
        }
        if (patch.how === 'formula too') freed.push({ row: number, column });
      }
      const kept =
        patch.how === 'result'
          ? filling(formula?.whole ?? '', patch.fills)
          : newFormula(prefix, patch);
      const said = bytes.toString('latin1', tag.nameEnd, tag.isEmpty ? tag.to - 2 : tag.to - 1);
      edits.push({ from: tag.from, to: close, text: cellText(prefix, said, patch, kept) });
    }
    at = close;
  }
  const rest = left.map(fresh).join('');
  if (rest !== '') edits.push({ from: end, to: end, text: rest });
  return ok(edits);
}

/** A formula that fills several cells, with the area that it fills now. */
function filling(formula: string, area: Area | undefined): string {
  if (!area) return formula;
  return formula.replace(/(\sref\s*=\s*)(?:"[^"]*"|'[^']*')/, `$1"${formatArea(area)}"`);
}

/** The formula of a cell, as it is written and its opening tag. */
function formulaIn(
  inner: string,
  prefix: string,
): { whole: string; tag: string; text: string } | null {
  const match = new RegExp(`<${prefix}f(?:\\s[^>]*)?(?:/>|>[\\s\\S]*?</${prefix}f\\s*>)`).exec(
    inner,
  );
  if (!match) return null;
  const [whole] = match;
  const tag = whole.slice(0, whole.indexOf('>') + 1);
  const text = tag.endsWith('/>') ? '' : whole.slice(tag.length, whole.lastIndexOf('<'));
  return { whole, tag, text };
}

function withoutAttribute(bytes: Buffer, tag: Tag, name: string): Edit[] {
  const said = bytes.toString('latin1', tag.nameEnd, tag.to);
  const match = new RegExp(`\\s${name}\\s*=\\s*(?:"[^"]*"|'[^']*')`).exec(said);
  if (!match) return [];
  const from = tag.nameEnd + match.index;
  return [{ from, to: from + match[0].length, text: '' }];
}

function newRow(prefix: string, row: number, cells: readonly CellPatch[]): string {
  const inner = cells.filter((each) => !isEmptied(each)).map((each) => newCell(prefix, each));
  return inner.length === 0 ? '' : `<${prefix}row r="${row}">${inner.join('')}</${prefix}row>`;
}

const isEmptied = ({ value, how }: CellPatch) => value === null && how !== 'formula';

function newCell(prefix: string, patch: CellPatch): string {
  return cellText(prefix, ` r="${formatCell(patch)}"`, patch, newFormula(prefix, patch));
}

/** The formula that is put in; empty for none. */
function newFormula(prefix: string, { how, formula }: CellPatch): string {
  if (how !== 'formula' || formula === undefined) return '';
  return `<${prefix}f>${escaped(formulaText(formula))}</${prefix}f>`;
}

/** A cell with the attributes that it had, but for its type, which follows its value (18.18.11). */
function cellText(
  prefix: string,
  attributes: string,
  { value }: CellPatch,
  formula: string,
): string {
  // What a cell shows beyond its value (`vm`) was that of the old one.
  const kept = attributes.replace(/\s(?:t|vm)\s*=\s*(?:"[^"]*"|'[^']*')/g, '').trimEnd();
  const cell = (type: string, inner: string) =>
    formula + inner === ''
      ? `<${prefix}c${kept}/>`
      : `<${prefix}c${kept}${type}>${formula}${inner}</${prefix}c>`;
  const v = (text: string) => `<${prefix}v>${text}</${prefix}v>`;
  if (value === null) return cell('', '');
  if (typeof value === 'number') return cell('', v(numberText(value)));
  if (typeof value === 'boolean') return cell(' t="b"', v(value ? '1' : '0'));
  if (value instanceof FormulaError) return cell(' t="e"', v(escaped(value.code)));
  const text = escaped(value);
  if (formula !== '') return cell(' t="str"', v(text));
  const space = /^\s|\s$|\n/.test(value) ? ' xml:space="preserve"' : '';
  return cell(
    ' t="inlineStr"',
    `<${prefix}is><${prefix}t${space}>${text}</${prefix}t></${prefix}is>`,
  );
}

/** A number as sheets write it: the shortest text that reads back as the same number. */
function numberText(value: number): string {
  return String(value).replace('e', 'E');
}

function columnOf(name: string): number {
  let column = 0;
  for (const letter of name.toUpperCase()) {
    if (letter < 'A' || letter > 'Z') break;
    column = column * 26 + letter.charCodeAt(0) - 64;
  }
  return column;
}

/** The used area of a sheet (18.3.1.35) where cells were put in outside of it. It is a hint, and only widened. */
function widened(
  bytes: Buffer,
  prefix: string,
  patches: readonly CellPatch[],
  until: number,
): Edit[] {
  const tag = openingTag(bytes, `${prefix}dimension`, 0, until);
  const said = tag && attribute(bytes, tag, 'ref');
  const area = said ? areaOf(said) : null;
  if (!tag || !area) return [];
  const all: Area = { ...area };
  for (const patch of patches) {
    if (isEmptied(patch)) continue;
    const { row, column } = patch;
    all.top = Math.min(all.top, row);
    all.bottom = Math.max(all.bottom, row);
    all.left = Math.min(all.left, column);
    all.right = Math.max(all.right, column);
  }
  const now = formatArea(all);
  if (now === formatArea(area)) return [];
  const text = bytes.toString('latin1', tag.from, tag.to).replace(said!, now);
  return [{ from: tag.from, to: tag.to, text }];
}

function areaOf(said: string): Area | null {
  const [first, last = first] = said.split(':').map(parseCell);
  if (!first || !last) return null;
  return { top: first.row, left: first.column, bottom: last.row, right: last.column };
}

function applied(bytes: Buffer, edits: Edit[]): Buffer {
  const pieces: Buffer[] = [];
  let at = 0;
  // In their order; of several at one place in that in which they were found.
  const sorted = edits.map((edit, nth) => ({ ...edit, nth }));
  for (const { from, to, text } of sorted.sort((a, b) => a.from - b.from || a.nth - b.nth)) {
    pieces.push(bytes.subarray(at, from), Buffer.from(text, 'utf8'));
    at = to;
  }
  pieces.push(bytes.subarray(at));
  return Buffer.concat(pieces);
}
