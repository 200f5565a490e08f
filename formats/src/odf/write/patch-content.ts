import {
  FormulaError,
  fail,
  formatCell,
  isoToSerial,
  ok,
  type Result,
  serialToIso,
} from '@tether/core';
import { attributeIn } from '../../package/tags.ts';
import {
  CELL,
  COLUMNS_REPEATED,
  elementAt,
  ROWS_REPEATED,
  repeatedAs,
  repetition,
  type Table,
  tablesIn,
  usual,
} from './elements.ts';
import { openFormula } from './formula-text.ts';
import { escaped } from './open-text.ts';

/** A cell of an open document to be written, rows and columns counted from 1. */
export interface ContentPatch {
  sheet: string;
  row: number;
  column: number;
  /** Null for nothing. */
  value: number | string | boolean | FormulaError | null;
  /** Whether a formula may give way, or another one is put in. */
  how: 'value' | 'formula too' | 'result' | 'formula';
  /** The formula that is put in, without its `=`. */
  formula?: string | undefined;
  /** What the cell shows, where that is not the value as it stands. */
  shown?: string;
}

/** What says what a cell holds (ODF 1.3 Part 3, 19.385 to 19.391); all of it follows the value. */
const VALUE_ATTRIBUTES =
  /\s(?:office:(?:value-type|value|date-value|time-value|boolean-value|string-value|currency)|calcext:value-type)\s*=\s*(?:"[^"]*"|'[^']*')/g;
const FORMULA = /\stable:formula\s*=\s*(?:"[^"]*"|'[^']*')/;

/**
 * The content of an OpenDocument spreadsheet (ODF 1.3 Part 3, 9.1) with other values in some cells: all other text stays as it
 * is. Rows and cells that stand for several alike are parted where one of them changes. Faults: `sheet-missing`,
 * `write-formula`, `write-array`, `write-not-possible`.
 */
export function patchContent(xml: string, patches: readonly ContentPatch[]): Result<string> {
  const known = usual(xml);
  if (!known.ok) return known;
  const tables = tablesIn(xml);
  const edits: Edit[] = [];
  for (const [name, own] of bySheet(patches)) {
    const table = tables.find((each) => each.title.toLowerCase() === name);
    if (!table) {
      const sheets = tables.map((each) => each.title).join(', ');
      return fail('sheet-missing', { sheet: own[0]!.sheet, sheets });
    }
    const patched = patchTable(xml, table, own);
    if (!patched.ok) return patched;
    edits.push(...patched.value);
  }
  let made = '';
  let at = 0;
  for (const { from, to, text } of edits.sort((a, b) => a.from - b.from)) {
    made += xml.slice(at, from) + text;
    at = to;
  }
  return ok(made + xml.slice(at));
}

interface Edit {
  from: number;
  to: number;
  text: string;
}

function bySheet(patches: readonly ContentPatch[]): Map<string, ContentPatch[]> {
  const sheets = new Map<string, ContentPatch[]>();
  for (const each of patches) {
    const name = each.sheet.toLowerCase();
    sheets.set(name, [...(sheets.get(name) ?? []), each]);
  }
  return sheets;
}

function patchTable(xml: string, table: Table, patches: readonly ContentPatch[]): Result<Edit[]> {
  const rows = new Map<number, Map<number, ContentPatch>>();
  for (const each of patches) {
    rows.set(each.row, (rows.get(each.row) ?? new Map()).set(each.column, each));
  }
  const wanted = [...rows.keys()].sort((a, b) => a - b);
  const edits: Edit[] = [];
  let number = 1;
  let at = table.lines;
  let last = table.lines;
  while (wanted.length > 0) {
    const row = elementAt(xml, 'table:table-row', at, table.innerEnd);
    if (!row) break;
    const repeated = repetition(row, ROWS_REPEATED);
    const own = wanted.filter((each) => each < number + repeated);
    if (own.length > 0) {
      const whole = xml.slice(row.from, row.to);
      const parts: string[] = [];
      let next = number;
      for (const each of own) {
        if (each > next) parts.push(repeatedAs(whole, ROWS_REPEATED, each - next));
        const patched = patchRow(repeatedAs(whole, ROWS_REPEATED, 1), rows.get(each)!);
        if (!patched.ok) return patched;
        parts.push(patched.value);
        next = each + 1;
      }
      const left = number + repeated - next;
      if (left > 0) parts.push(repeatedAs(whole, ROWS_REPEATED, left));
      edits.push({ from: row.from, to: row.to, text: parts.join('') });
      wanted.splice(0, own.length);
    }
    number += repeated;
    at = row.to;
    last = row.to;
  }
  // Behind the last row that is written out.
  let text = '';
  for (const each of wanted) {
    const cells = rows.get(each)!;
    if ([...cells.values()].every(isEmptied)) continue;
    if (each > number) {
      const empty = '<table:table-row><table:table-cell/></table:table-row>';
      text += repeatedAs(empty, ROWS_REPEATED, each - number);
    }
    const patched = patchRow('<table:table-row></table:table-row>', cells);
    if (!patched.ok) return patched;
    text += patched.value;
    number = each + 1;
  }
  if (text !== '') edits.push({ from: last, to: last, text });
  return ok(edits);
}

function patchRow(row: string, cells: ReadonlyMap<number, ContentPatch>): Result<string> {
  const whole = elementAt(row, 'table:table-row', 0, row.length)!;
  const wanted = [...cells.keys()].sort((a, b) => a - b);
  const parts: string[] = [];
  let column = 1;
  let at = whole.inner;
  while (wanted.length > 0) {
    const cell = elementAt(row, CELL, at, whole.innerEnd);
    if (!cell) break;
    const repeated = repetition(cell, COLUMNS_REPEATED);
    const own = wanted.filter((each) => each < column + repeated);
    const text = row.slice(cell.from, cell.to);
    if (own.length === 0) parts.push(text);
    else {
      let next = column;
      const as = (count: number) => repeatedAs(text, COLUMNS_REPEATED, count);
      for (const each of own) {
        if (each > next) parts.push(as(each - next));
        const patched = patchCell(as(1), cells.get(each)!);
        if (!patched.ok) return patched;
        parts.push(patched.value);
        next = each + 1;
      }
      if (column + repeated > next) parts.push(as(column + repeated - next));
      wanted.splice(0, own.length);
    }
    column += repeated;
    at = cell.to;
  }
  const rest = row.slice(at, whole.innerEnd);
  for (const each of wanted) {
    const patch = cells.get(each)!;
    if (isEmptied(patch)) continue;
    if (each > column) {
      parts.push(repeatedAs('<table:table-cell/>', COLUMNS_REPEATED, each - column));
    }
    const patched = patchCell('<table:table-cell/>', patch);
    if (!patched.ok) return patched;
    parts.push(patched.value);
    column = each + 1;
  }
  const open = row.slice(0, whole.inner).replace(/\/>$/, '>');
  return ok(`${open}${parts.join('')}${rest}</table:table-row>`);
}

const isEmptied = ({ value, how }: ContentPatch) => value === null && how !== 'formula';

function patchCell(cell: string, patch: ContentPatch): Result<string> {
  const element = elementAt(cell, CELL, 0, cell.length)!;
  const { name, attributes } = element;
  const where = formatCell(patch);
  const formula = FORMULA.exec(attributes);
  const isMatrix = /\stable:number-matrix-(?:rows|columns)-spanned/.test(attributes);
  if (isMatrix && patch.how !== 'result') {
    return fail('write-array', { cell: where });
  }
  if (formula && patch.how === 'value') return fail('write-formula', { cell: where });
  const inner = cell.slice(element.inner, element.innerEnd);
  if (inner.includes('<table:table')) {
    return fail('write-not-possible', { why: `a table stands in ${where}` });
  }
  const kind = attributeIn(attributes, 'office:value-type');
  const isReplaced = patch.how === 'formula too' || patch.how === 'formula';
  let kept = attributes.replace(VALUE_ATTRIBUTES, '').replace(isReplaced ? FORMULA : /$^/, '');
  if (patch.how === 'formula' && patch.formula !== undefined) {
    const made = openFormula(patch.formula);
    if (!made.ok) return made;
    kept = ` table:formula="${escaped(made.value).replaceAll('"', '&quot;')}"${kept}`;
  }
  const { said, shown } = saidOf(patch, kind);
  // Notes and drawings stay: they stand beside what the cell holds.
  const others = childrenOf(inner).filter((child) => !child.startsWith('<text:p'));
  const content = others.join('') + (shown === null ? '' : shown);
  const open = `<${name}${kept.trimEnd()}${said}`;
  return ok(content === '' ? `${open}/>` : `${open}>${content}</${name}>`);
}

/** The elements that stand in a cell, one by one. */
function childrenOf(inner: string): string[] {
  const children: string[] = [];
  let at = 0;
  for (;;) {
    const child = elementAt(inner, '[A-Za-z_][\\w.:-]*', at, inner.length);
    if (!child) return children;
    children.push(inner.slice(child.from, child.to));
    at = child.to;
  }
}

/** What a cell says of its value, and the paragraphs that show it. A number in a cell of dates is a day. */
function saidOf(
  { value, shown: seen }: ContentPatch,
  kind: string | null,
): { said: string; shown: string | null } {
  const shown = (text: string) =>
    text
      .split(/\r\n|\n|\r/)
      .map((line) => `<text:p>${spaced(escaped(line))}</text:p>`)
      .join('');
  if (value === null) return { said: '', shown: null };
  if (value instanceof FormulaError) {
    // How errors are kept the standard leaves open: as a text without value, and what is shown.
    const said = ' office:value-type="string" office:string-value=""';
    return { said, shown: shown(value.code) };
  }
  if (typeof value === 'boolean') {
    const said = ` office:value-type="boolean" office:boolean-value="${value}"`;
    return { said, shown: shown(value ? 'TRUE' : 'FALSE') };
  }
  if (typeof value === 'string')
    return { said: ' office:value-type="string"', shown: shown(value) };
  if (kind === 'date') {
    const iso = serialToIso(value, '1900');
    if (iso !== null && isoToSerial(iso, '1900') === value) {
      return {
        said: ` office:value-type="date" office:date-value="${iso}"`,
        shown: shown(seen ?? iso),
      };
    }
  }
  const type = kind === 'percentage' ? 'percentage' : 'float';
  return {
    said: ` office:value-type="${type}" office:value="${value}"`,
    shown: shown(seen ?? String(value)),
  };
}

/** More than one space, and one at the ends, is said by an element: else it is one, or none (ODF 1.3 Part 3, 6.1.2). */
function spaced(text: string): string {
  return text.replace(/^ | (?= )| $/g, '<text:s/>').replaceAll('\t', '<text:tab/>');
}
