import { fail, ok, type Result } from '@tether/core';
import { resolved } from '../../package/entities.ts';
import { attributeIn } from '../../package/tags.ts';

/** An opening tag with its attributes, whatever stands in their quotes. */
const TAG = String.raw`((?:[^"'>]|"[^"]*"|'[^']*')*?)(/?)>`;
const NAMESPACES = {
  table: 'urn:oasis:names:tc:opendocument:xmlns:table:1.0',
  office: 'urn:oasis:names:tc:opendocument:xmlns:office:1.0',
  text: 'urn:oasis:names:tc:opendocument:xmlns:text:1.0',
};
/** Whether the content of a spreadsheet is written so that its cells can be found by their text. Fault: `write-not-possible`. */
export function usual(xml: string): Result<null> {
  const isUsual =
    !xml.includes('<!--') &&
    !xml.includes('<![CDATA[') &&
    Object.entries(NAMESPACES).every(([prefix, name]) =>
      new RegExp(`\\sxmlns:${prefix}\\s*=\\s*["']${name}["']`).test(xml),
    );
  return isUsual
    ? ok(null)
    : fail('write-not-possible', { why: 'its cells are written in an unusual way' });
}

/** An element of the text: its opening tag, and where its content and itself end. */
export interface Element {
  name: string;
  attributes: string;
  from: number;
  inner: number;
  innerEnd: number;
  to: number;
}

/** The next element with one of these names from a place on, with what stands in it; null where there is none before `until`. */
export function elementAt(xml: string, names: string, from: number, until: number): Element | null {
  const open = new RegExp(`<(${names})(?=[\\s/>])${TAG}`, 'g');
  open.lastIndex = from;
  const found = open.exec(xml);
  if (!found || found.index >= until) return null;
  const [whole, name = '', attributes = '', isEmpty] = found;
  const inner = found.index + whole.length;
  const element = { name, attributes, from: found.index, inner };
  if (isEmpty) return { ...element, innerEnd: inner, to: inner };
  // Elements of one name can stand in each other: a table in a cell.
  const tags = new RegExp(`<(/?)${name}(?=[\\s/>])${TAG}`, 'g');
  tags.lastIndex = inner;
  for (let depth = 1, tag = tags.exec(xml); tag; tag = tags.exec(xml)) {
    if (tag[1]) depth--;
    else if (!tag[3]) depth++;
    if (depth === 0) return { ...element, innerEnd: tag.index, to: tag.index + tag[0].length };
  }
  return null;
}

/** A sheet: its element, its name, and where its rows and columns begin: behind what is drawn on it. */
export interface Table extends Element {
  title: string;
  lines: number;
}

/** The sheets of a content. */
export function tablesIn(xml: string): Table[] {
  const start = xml.indexOf('<office:spreadsheet');
  const tables: Table[] = [];
  let at = Math.max(0, start);
  for (;;) {
    const table = elementAt(xml, 'table:table', at, xml.length);
    if (!table) return tables;
    const title = resolved(attributeIn(table.attributes, 'table:name') ?? '');
    tables.push({ ...table, title, lines: linesOf(xml, table) });
    at = table.to;
  }
}

/** A chart that is drawn on a sheet can have rows of its own there. */
function linesOf(xml: string, { inner, innerEnd }: Element): number {
  const shapes = elementAt(xml, 'table:shapes', inner, innerEnd);
  const first = elementAt(xml, 'table:table-column|table:table-row', inner, innerEnd);
  return shapes && first && shapes.from < first.from ? shapes.to : inner;
}

/** An element that stands for so many alike. */
export function repeatedAs(element: string, name: string, count: number): string {
  const without = element.replace(
    new RegExp(
      `^(<[^\\s/>]+${'(?:[^"\'>]|"[^"]*"|\'[^\']*\')*?'})\\s${name}\\s*=\\s*(?:"[^"]*"|'[^']*')`,
    ),
    '$1',
  );
  return count === 1
    ? without
    : without.replace(/^<[^\s/>]+/, (tag) => `${tag} ${name}="${count}"`);
}

/** How many alike an element stands for. */
export function repetition({ attributes }: Element, name: string): number {
  return Number(attributeIn(attributes, name) ?? 1);
}

export const ROWS_REPEATED = 'table:number-rows-repeated';
export const COLUMNS_REPEATED = 'table:number-columns-repeated';
/** Elements of cells; those that stand under a merged one are covered. */
export const CELL = 'table:table-cell|table:covered-table-cell';
