import { Table, TableCell, TableHeader, TableRow } from '@tiptap/extension-table';
import type { Schema, Node as TextNode } from '@tiptap/pm/model';
import { TextSelection, type Transaction } from '@tiptap/pm/state';
import type { Editor } from '@tiptap/react';

/** A table of fixed figures: text that follows nothing. `pasted` names the paste that it came by. */
const FixedTable = Table.extend({
  addAttributes: () => ({
    pasted: { default: null, rendered: false },
  }),
}).configure({ resizable: false, HTMLAttributes: { class: 'fixed-table' } });

/** The nodes of a table of fixed figures. */
export const FIXED_TABLE_NODES = [FixedTable, TableRow, TableHeader, TableCell];

function tableOf(schema: Schema, rows: readonly (readonly string[])[], pasted: string): TextNode {
  const width = Math.max(1, ...rows.map((row) => row.length));
  const cell = (text: string) =>
    schema.nodes.tableCell!.create(
      null,
      schema.nodes.paragraph!.create(null, text === '' ? null : schema.text(text)),
    );
  return schema.nodes.table!.create(
    { pasted },
    rows.map((row) =>
      schema.nodes.tableRow!.create(
        null,
        Array.from({ length: width }, (_, at) => cell(row[at] ?? '')),
      ),
    ),
  );
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
  const { $to } = selection;
  const isEmptyLine = $to.depth === 1 && $to.parent.content.size === 0;
  const at = $to.depth === 0 ? $to.pos : isEmptyLine ? $to.before(1) : $to.after(1);
  const table = tableOf(schema, rows, pasted);
  tr.insert(at, table);
  behind(tr, at + table.nodeSize);
  editor.view.dispatch(tr.scrollIntoView());
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

/** Puts a table of fixed figures in the place of an object: its tether is let go. */
export function fixObject(
  editor: Editor,
  object: { position: number; node: TextNode },
  rows: readonly (readonly string[])[],
): void {
  const { schema, tr } = editor.state;
  const { position, node } = object;
  const end = position + node.nodeSize;
  if (node.isInline) {
    tr.insertText(rows[0]?.[0] ?? '', position, end);
  } else {
    const table = tableOf(schema, rows, crypto.randomUUID());
    tr.replaceWith(position, end, table);
    behind(tr, position + table.nodeSize);
  }
  editor.view.dispatch(tr.scrollIntoView());
  editor.view.focus();
}
