import { type LineChange, MAX_COLUMNS, MAX_ROWS } from '@tether/core';
import { CannotFollow } from '../../moved-lines.ts';
import { attributeIn, withAttribute } from '../../package/tags.ts';
import {
  CELL,
  COLUMNS_REPEATED,
  type Element,
  elementAt,
  ROWS_REPEATED,
  repeatedAs,
  repetition,
  tablesIn,
} from '../write/elements.ts';

const ROWS_SPANNED = 'table:number-rows-spanned';
const COLUMNS_SPANNED = 'table:number-columns-spanned';
const MATRIX_ROWS = 'table:number-matrix-rows-spanned';
const MATRIX_COLUMNS = 'table:number-matrix-columns-spanned';
/** Wrappers of rows and columns that nothing may be left of. */
const WRAPPERS =
  /<(table:table-(?:header-rows|row-group|rows|header-columns|column-group|columns))(?=[\s>])[^>]*>\s*<\/\1>/g;

/** Cells that one of them stands for: merged, or filled by one formula. */
interface Span {
  top: number;
  bottom: number;
  left: number;
  right: number;
}

/** An element of a sequence, and the first row or column that it stands for. */
interface Line {
  element: Element;
  first: number;
  count: number;
}

/**
 * The element of a sheet (ODF 1.3 Part 3, 9.1.2) in which rows or columns were put in or taken out, merged cells with it; what
 * is put in looks like the row or column before it. What formulas say stays. Throws `CannotFollow`.
 */
export function moveTable(table: string, change: LineChange): string {
  const inside = bodyOf(table);
  if (/<table:(?:table|sub-table)[\s>]/.test(table.slice(inside.from, inside.to))) {
    throw new CannotFollow('a table stands in one of its cells');
  }
  const { merged, filled } = spansIn(table);
  if (filled.some((span) => isCut(span, change))) {
    throw new CannotFollow('one formula fills cells on both sides');
  }
  const cut = merged.filter((span) => isCut(span, change));
  const fitted = withSpans(table, cut, change);
  const move = change.axis === 'rows' ? moveRows : moveColumns;
  return withoutEmpty(move(fitted, cut, change));
}

/** Where the rows and columns of a sheet stand in its text. */
function bodyOf(table: string): { from: number; to: number } {
  const [own] = tablesIn(table);
  return { from: own!.lines, to: own!.innerEnd };
}

function sequence(text: string, names: string, repeats: string, from: number, to: number): Line[] {
  const lines: Line[] = [];
  let first = 1;
  for (let at = from; ; ) {
    const element = elementAt(text, names, at, to);
    if (!element) return lines;
    const count = repetition(element, repeats);
    lines.push({ element, first, count });
    first += count;
    at = element.to;
  }
}

const rowsOf = (table: string) => {
  const { from, to } = bodyOf(table);
  return sequence(table, 'table:table-row', ROWS_REPEATED, from, to);
};

/** Merged cells of a sheet, and cells that one formula fills. */
function spansIn(table: string): { merged: Span[]; filled: Span[] } {
  const merged: Span[] = [];
  const filled: Span[] = [];
  for (const { element, first, count } of rowsOf(table)) {
    if (!table.slice(element.from, element.to).includes('-spanned')) continue;
    for (const cell of sequence(table, CELL, COLUMNS_REPEATED, element.inner, element.innerEnd)) {
      const { attributes } = cell.element;
      for (const [spans, rowsSpanned, columnsSpanned] of [
        [merged, ROWS_SPANNED, COLUMNS_SPANNED],
        [filled, MATRIX_ROWS, MATRIX_COLUMNS],
      ] as const) {
        const rows = Number(attributeIn(attributes, rowsSpanned) ?? 1);
        const columns = Number(attributeIn(attributes, columnsSpanned) ?? 1);
        if (rows === 1 && columns === 1) continue;
        for (let top = first; top < first + count; top++) {
          const { first: left } = cell;
          spans.push({ top, bottom: top + rows - 1, left, right: left + columns - 1 });
        }
      }
    }
  }
  return { merged, filled };
}

const sidesOf = (span: Span, { axis }: LineChange) =>
  axis === 'rows' ? ([span.top, span.bottom] as const) : ([span.left, span.right] as const);

/** Whether lines are put in within it, or some of it are taken out and not all. */
function isCut(span: Span, change: LineChange): boolean {
  const [first, last] = sidesOf(span, change);
  const { kind, at, count } = change;
  if (kind === 'put in') return first < at && at <= last;
  return at <= last && at + count > first && (at > first || at + count <= last);
}

/** The sheet with merged cells as large as they are going to be; one whose first line goes begins at the next. */
function withSpans(table: string, cut: readonly Span[], change: LineChange): string {
  const { axis, kind, at, count } = change;
  if (cut.length === 0) return table;
  const edits = new Map<number, Map<number, (cell: string) => string>>();
  const edit = (row: number, column: number, make: (cell: string) => string) =>
    edits.set(row, (edits.get(row) ?? new Map()).set(column, make));
  for (const span of cut) {
    const [first, last] = sidesOf(span, change);
    const gone = Math.min(last, at + count - 1) - Math.max(first, at) + 1;
    const size = last - first + 1 + (kind === 'put in' ? count : -gone);
    const rows = axis === 'rows' ? size : span.bottom - span.top + 1;
    const columns = axis === 'rows' ? span.right - span.left + 1 : size;
    const isHeadGone = kind === 'take out' && first >= at;
    const row = axis === 'rows' && isHeadGone ? at + count : span.top;
    const column = axis === 'columns' && isHeadGone ? at + count : span.left;
    edit(row, column, (cell) => {
      const open = cell.replace(/^<table:covered-table-cell/, '<table:table-cell');
      const whole = open.replace(/<\/table:covered-table-cell>$/, '</table:table-cell>');
      return spanned(whole, rows, columns);
    });
  }
  return mapLines(table, rowsOf(table), ROWS_REPEATED, edits, (row, cells) =>
    mapLines(
      row,
      sequence(row, CELL, COLUMNS_REPEATED, 0, row.length),
      COLUMNS_REPEATED,
      cells,
      (cell, make) => make(cell),
    ),
  );
}

function spanned(cell: string, rows: number, columns: number): string {
  const end = /^<[^\s/>]+(?:[^"'>]|"[^"]*"|'[^']*')*>/.exec(cell)![0].length;
  const isSingle = rows === 1 && columns === 1;
  const said = (tag: string, name: string, many: number) =>
    withAttribute(tag, name, isSingle ? null : String(many));
  const tag = said(said(cell.slice(0, end), ROWS_SPANNED, rows), COLUMNS_SPANNED, columns);
  return tag + cell.slice(end);
}

/** A text whose lines with these numbers are made otherwise; those that stand for several alike are parted for that. */
function mapLines<T>(
  text: string,
  lines: readonly Line[],
  repeats: string,
  wanted: ReadonlyMap<number, T>,
  make: (line: string, wish: T) => string,
): string {
  let made = '';
  let done = 0;
  for (const { element, first, count } of lines) {
    const own = [...wanted.keys()].filter((each) => each >= first && each < first + count);
    if (own.length === 0) continue;
    const whole = text.slice(element.from, element.to);
    made += text.slice(done, element.from);
    let next = first;
    for (const each of own.sort((a, b) => a - b)) {
      if (each > next) made += repeatedAs(whole, repeats, each - next);
      made += make(repeatedAs(whole, repeats, 1), wanted.get(each)!);
      next = each + 1;
    }
    if (first + count > next) made += repeatedAs(whole, repeats, first + count - next);
    done = element.to;
  }
  return made + text.slice(done);
}

/** A text in whose sequence lines are put in, made by `put` of the one before, or taken out. */
function moveLines(
  text: string,
  lines: readonly Line[],
  repeats: string,
  { kind, at, count }: LineChange,
  put: (before: string | null, after: string) => string,
): string {
  let made = '';
  let done = 0;
  let before: string | null = null;
  for (const { element, first, count: many } of lines) {
    const whole = text.slice(element.from, element.to);
    const last = first + many - 1;
    const as = (size: number) => (size > 0 ? repeatedAs(whole, repeats, size) : '');
    if (kind === 'put in' && at >= first && at <= last) {
      const above = at > first ? whole : before;
      made += text.slice(done, element.from) + as(at - first);
      made += repeatedAs(put(above, whole), repeats, count) + as(last - at + 1);
      done = element.to;
    } else if (kind === 'take out' && at <= last && at + count > first) {
      const gone = Math.min(last, at + count - 1) - Math.max(first, at) + 1;
      made += text.slice(done, element.from) + as(many - gone);
      done = element.to;
    }
    before = whole;
  }
  return made + text.slice(done);
}

function moveRows(table: string, cut: readonly Span[], change: LineChange): string {
  const lines = rowsOf(table);
  const shortened = withRoom(table, lines, ROWS_REPEATED, change, MAX_ROWS, 'rows');
  const moved = moveLines(shortened, rowsOf(shortened), ROWS_REPEATED, change, (above, after) =>
    emptyRow(above, after, cut),
  );
  if (rowsOf(moved).length > 0) return moved;
  const { to } = bodyOf(moved);
  const row = '<table:table-row><table:table-cell/></table:table-row>';
  return moved.slice(0, to) + row + moved.slice(to);
}

/** A row that looks like the one above it and holds nothing; cells under merged ones are covered. */
function emptyRow(above: string | null, after: string, covered: readonly Span[]): string {
  if (above === null) return '<table:table-row><table:table-cell/></table:table-row>';
  const row = elementAt(above, 'table:table-row', 0, above.length)!;
  const style = ['table:style-name', 'table:default-cell-style-name'].map((name) =>
    kept(row.attributes, name),
  );
  const cells = sequence(above, CELL, COLUMNS_REPEATED, row.inner, row.innerEnd);
  const made: string[] = [];
  for (const { element, first, count } of cells) {
    const check = attributeIn(element.attributes, 'table:content-validation-name');
    // What is checked on both sides is checked between them.
    const isChecked = check !== null && after.includes(`"${check}"`);
    const said =
      kept(element.attributes, 'table:style-name') +
      (isChecked ? kept(element.attributes, 'table:content-validation-name') : '');
    const isUnder = (column: number) =>
      covered.some(({ left, right }) => column >= left && column <= right);
    const edges = covered.flatMap(({ left, right }) => [left, right + 1]);
    const cuts = edges.filter((edge) => edge > first && edge < first + count);
    const starts = [first, ...new Set(cuts)].sort((a, b) => a - b);
    for (const [index, start] of starts.entries()) {
      const size = (starts[index + 1] ?? first + count) - start;
      const name = isUnder(start) ? 'table:covered-table-cell' : 'table:table-cell';
      made.push(repeatedAs(`<${name}${said}/>`, COLUMNS_REPEATED, size));
    }
  }
  return `<table:table-row${style.join('')}>${made.join('') || '<table:table-cell/>'}</table:table-row>`;
}

/** An attribute of a tag as it is to be said in another one. */
function kept(attributes: string, name: string): string {
  const value = attributeIn(attributes, name);
  return value === null ? '' : ` ${name}="${value}"`;
}

function moveColumns(table: string, cut: readonly Span[], change: LineChange): string {
  const { from, to } = bodyOf(table);
  const columns = sequence(table, 'table:table-column', COLUMNS_REPEATED, from, to);
  const shortened = withRoom(table, columns, COLUMNS_REPEATED, change, MAX_COLUMNS, 'columns');
  const inside = bodyOf(shortened);
  const moved = moveLines(
    shortened,
    sequence(shortened, 'table:table-column', COLUMNS_REPEATED, inside.from, inside.to),
    COLUMNS_REPEATED,
    change,
    (before) => `<table:table-column${columnLook(before)}/>`,
  );
  let made = '';
  let done = 0;
  for (const { element, first } of rowsOf(moved)) {
    const isUnder = cut.some(({ top, bottom }) => top <= first && first <= bottom);
    made += moved.slice(done, element.from);
    made += moveCells(moved.slice(element.from, element.to), change, isUnder);
    done = element.to;
  }
  return made + moved.slice(done);
}

function columnLook(before: string | null): string {
  const element = before && elementAt(before, 'table:table-column', 0, before.length);
  if (!element) return '';
  const names = ['table:style-name', 'table:default-cell-style-name'];
  return names.map((name) => kept(element.attributes, name)).join('');
}

function moveCells(row: string, change: LineChange, isUnder: boolean): string {
  const cells = () => sequence(row, CELL, COLUMNS_REPEATED, 0, row.length);
  const name = isUnder ? 'table:covered-table-cell' : 'table:table-cell';
  const shortened = withRoom(row, cells(), COLUMNS_REPEATED, change, MAX_COLUMNS, 'columns');
  const moved = moveLines(
    shortened,
    sequence(shortened, CELL, COLUMNS_REPEATED, 0, shortened.length),
    COLUMNS_REPEATED,
    change,
    (before) => {
      const element = before && elementAt(before, CELL, 0, before.length);
      return `<${name}${element ? kept(element.attributes, 'table:style-name') : ''}/>`;
    },
  );
  if (elementAt(moved, CELL, 0, moved.length)) return moved;
  return moved.replace(/<\/table:table-row>$/, '<table:table-cell/></table:table-row>');
}

/** A text whose last, empty lines are as many less as are put in before them, where the sheet has no more room. */
function withRoom(
  text: string,
  lines: readonly Line[],
  repeats: string,
  { kind, at, count }: LineChange,
  most: number,
  what: 'rows' | 'columns',
): string {
  const last = lines.at(-1);
  if (kind === 'take out' || !last || at > last.first + last.count - 1) return text;
  const over = last.first + last.count - 1 + count - most;
  if (over <= 0) return text;
  const whole = text.slice(last.element.from, last.element.to);
  const isEmpty = !/office:value|<text:p|<draw:|table:formula/.test(whole);
  const room = last.count - Math.max(0, at - last.first);
  if (!isEmpty || over >= room) throw new CannotFollow(`the last ${what} of the sheet are filled`);
  return (
    text.slice(0, last.element.from) +
    repeatedAs(whole, repeats, last.count - over) +
    text.slice(last.element.to)
  );
}

function withoutEmpty(table: string): string {
  for (let left = table; ; ) {
    const next = left.replace(WRAPPERS, '');
    if (next === left) return left;
    left = next;
  }
}
