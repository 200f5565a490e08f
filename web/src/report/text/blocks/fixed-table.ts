import { Table, TableCell, TableHeader, TableRow } from '@tiptap/extension-table';
import type { Schema, Node as TextNode } from '@tiptap/pm/model';
import { type Selection, TextSelection, type Transaction } from '@tiptap/pm/state';
import { findTable, TableMap } from '@tiptap/pm/tables';
import type { Editor } from '@tiptap/react';
import type { FixedCell, Surface } from '../../../documents/surface.ts';
import { captionedAround, placeForBlock } from '../reading/places.ts';

/**
 * A table of one's own, or of fixed figures: text that follows nothing. `pasted` names the paste that it came by, `was` the object
 * whose figures these are.
 */
const FixedTable = Table.extend({
  addAttributes: () => ({
    pasted: { default: null, rendered: false },
    was: { default: null, rendered: false },
  }),
}).configure({ resizable: false, HTMLAttributes: { class: 'fixed-table' } });

/** The nodes of a table that is text. */
export const FIXED_TABLE_NODES = [FixedTable, TableRow, TableHeader, TableCell];

function tableOf(
  schema: Schema,
  rows: FixedRows,
  pasted: string,
  was: string | null = null,
): TextNode {
  const width = Math.max(1, ...rows.map((row) => row.length));
  const cell = ({ text, isHead, isRight, rows: rowspan, columns: colspan }: FixedCell) =>
    schema.nodes[isHead ? 'tableHeader' : 'tableCell']!.create(
      { rowspan, colspan },
      schema.nodes.paragraph!.create(
        isRight ? { align: 'right' } : null,
        text === '' ? null : schema.text(text),
      ),
    );
  const plain = (text: string) =>
    cell({ text, isHead: false, isRight: false, rows: 1, columns: 1 });
  return schema.nodes.table!.create(
    { pasted, was },
    rows.map((row) =>
      schema.nodes.tableRow!.create(
        null,
        isOfTexts(row)
          ? Array.from({ length: width }, (_, at) => plain(row[at] ?? ''))
          : row.map(cell),
      ),
    ),
  );
}

/** Rows of texts, or of whole cells, which together fill the table. */
export type FixedRows = Parameters<Surface['fix']>[1];

function isOfTexts(row: readonly string[] | readonly FixedCell[]): row is readonly string[] {
  return row.every((each) => typeof each === 'string');
}

/** Puts rows of texts into the text as a table behind the block at the cursor, one cell alone as words in its line. */
export function insertFixed(
  editor: Editor,
  rows: readonly (readonly string[])[],
  pasted: string,
): void {
  const { schema, tr, selection } = editor.state;
  const [[only = ''] = []] = rows;
  if (rows.length === 1 && rows[0]!.length === 1) {
    editor.view.dispatch(tr.insertText(only, selection.from, selection.to).scrollIntoView());
    return;
  }
  const at = placeForBlock(selection.$to);
  const table = tableOf(schema, rows, pasted);
  tr.insert(at, table);
  behind(tr, at + table.nodeSize);
  editor.view.dispatch(tr.scrollIntoView());
}

/** The most rows and columns that a table of one's own begins with. */
export const MOST_ROWS = 200;
export const MOST_COLUMNS = 30;

/** Puts an empty table into the text, the cursor in its first cell; a table is never put into another one's cell. */
export function insertTable(
  editor: Editor,
  wish: { rows: number; columns: number; hasHeader: boolean },
): void {
  const { schema, tr, selection } = editor.state;
  const { rows, columns, hasHeader } = wish;
  const cell = (isHeader: boolean) =>
    schema.nodes[isHeader ? 'tableHeader' : 'tableCell']!.create(
      null,
      schema.nodes.paragraph!.create(),
    );
  const table = schema.nodes.table!.create(
    null,
    Array.from({ length: rows }, (_, row) =>
      schema.nodes.tableRow!.create(
        null,
        Array.from({ length: columns }, () => cell(hasHeader && row === 0)),
      ),
    ),
  );
  const at = placeForBlock(selection.$to);
  tr.insert(at, table);
  behind(tr, at + table.nodeSize);
  tr.setSelection(TextSelection.near(tr.doc.resolve(at + 1)));
  editor.view.dispatch(tr.scrollIntoView());
  editor.view.focus();
}

/** Whether all words of the column at the cursor stand at its right side, as figures do; null outside of tables. */
export function areFiguresRight({ selection }: Editor['state']): boolean | null {
  const lines = linesOfColumn(selection);
  return lines && lines.length > 0 ? lines.every(({ node }) => node.attrs.align === 'right') : null;
}

/** Puts the words of the column at the cursor at its right side, or back. */
export function setFiguresRight(editor: Editor, isRight: boolean): void {
  const { selection, tr } = editor.state;
  for (const { position } of linesOfColumn(selection) ?? []) {
    tr.setNodeAttribute(position, 'align', isRight ? 'right' : null);
  }
  editor.view.dispatch(tr);
  editor.view.focus();
}

/** The paragraphs in the column at the cursor, but for its header. */
function linesOfColumn(selection: Selection) {
  const table = findTable(selection.$from);
  if (!table) return null;
  const map = TableMap.get(table.node);
  const cell = selection.$from.node(table.depth + 2)
    ? selection.$from.before(table.depth + 2)
    : null;
  if (cell === null) return null;
  const { left } = map.findCell(cell - table.start);
  const lines: { node: TextNode; position: number }[] = [];
  const seen = new Set<number>();
  for (let row = 0; row < map.height; row++) {
    const at = map.map[row * map.width + left]!;
    const inColumn = table.node.nodeAt(at);
    if (!inColumn || inColumn.type.name === 'tableHeader' || seen.has(at)) continue;
    seen.add(at);
    inColumn.descendants((node, offset) => {
      if (node.type.name === 'paragraph') {
        lines.push({ node, position: table.start + at + 1 + offset });
      }
      return !node.isTextblock;
    });
  }
  return lines;
}

/** The cursor goes on behind what was put in. */
function behind(tr: Transaction, position: number): void {
  if (position >= tr.doc.content.size) {
    tr.insert(position, tr.doc.type.schema.nodes.paragraph!.create());
  }
  tr.setSelection(TextSelection.near(tr.doc.resolve(position)));
}

/** Where the table of a paste stands now; null when it is gone. */
export function findPastedTable(
  doc: TextNode,
  pasted: string,
): { position: number; node: TextNode } | null {
  let found: { position: number; node: TextNode } | null = null;
  doc.descendants((node, position) => {
    if (node.type.name === 'table' && node.attrs.pasted === pasted) found = { position, node };
    return found === null;
  });
  return found;
}

/** Puts a table of fixed figures in the place of an object: its tether is let go. The words of its caption stand above it. */
export function fixObject(
  editor: Editor,
  object: { position: number; node: TextNode },
  rows: FixedRows,
): void {
  const { schema, tr } = editor.state;
  const { position, node } = object;
  const end = position + node.nodeSize;
  if (node.isInline) {
    const [[only = ''] = []] = rows;
    tr.insertText(typeof only === 'string' ? only : only.text, position, end);
  } else {
    const table = tableOf(schema, rows, crypto.randomUUID(), String(node.attrs.tetherId));
    const around = captionedAround(tr.doc, position);
    const words = around?.caption?.content;
    const above = words && words.size > 0 ? [schema.nodes.paragraph!.create(null, words)] : [];
    const from = around ? around.from : position;
    tr.replaceWith(from, around ? from + around.node.nodeSize : end, [...above, table]);
    const at = from + above.reduce((sum, each) => sum + each.nodeSize, 0);
    const next = tr.doc.nodeAt(at + table.nodeSize);
    if (!next || next.isTextblock) behind(tr, at + table.nodeSize);
    // What is no line would be selected as a whole.
    else tr.setSelection(TextSelection.near(tr.doc.resolve(at + 1)));
  }
  editor.view.dispatch(tr.scrollIntoView());
  editor.view.focus();
}
