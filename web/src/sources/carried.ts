import { areaSchema } from '@tether/contract';
import { MAX_PASTED_CELLS, readPastedText, type Snapshot, shownTexts, tabbed } from '@tether/core';
import { z } from 'zod';

const carriedSchema = z.object({
  sourceId: z.uuid(),
  path: z.string(),
  sheet: z.string(),
  area: areaSchema,
});

/** Cells of a source on their way into a document: dragged, or on the clipboard. */
export type CarriedCells = z.infer<typeof carriedSchema>;

const MARK = 'data-carried-cells';

/** What stands for cells on the clipboard: for our documents where they come from, for other programs their texts. */
export function writeCarried(
  cells: CarriedCells,
  snapshot: Snapshot | undefined,
): { html: string; text: string } {
  const rows = snapshot ? shownTexts(snapshot) : [];
  const table = document.createElement('table');
  table.setAttribute(MARK, JSON.stringify(cells));
  for (const texts of rows) {
    const row = table.insertRow();
    for (const text of texts) row.insertCell().textContent = text;
  }
  return {
    html: table.outerHTML,
    text: tabbed(rows),
  };
}

/** What comes in from the clipboard or a drag. */
export type Incoming =
  | { kind: 'carried'; cells: CarriedCells }
  /** Cells of another program, as rows of shown texts. */
  | { kind: 'foreign'; rows: string[][] };

/** Cells in what comes in; null when there are none: words, or a part of one of our own documents. */
export function readIncoming(data: Pick<DataTransfer, 'getData'>): Incoming | null {
  const html = data.getData('text/html');
  if (html.includes('data-pm-slice') || html.includes(' data-tether=')) return null;
  const parsed = new DOMParser().parseFromString(html, 'text/html');
  const mark = parsed.querySelector(`[${MARK}]`)?.getAttribute(MARK);
  if (mark) {
    const cells = carriedSchema.safeParse(parseJson(mark));
    if (cells.success) return { kind: 'carried', cells: cells.data };
  }
  const text = data.getData('text/plain');
  const rows = readPastedText(text) ?? rowsOfTable(parsed);
  // More than can be looked up is pasted as it comes: nothing of it is left out.
  if (!rows || rows.flat().length > MAX_PASTED_CELLS) return null;
  return rows.flat().some((each) => each.trim() !== '') ? { kind: 'foreign', rows } : null;
}

/** The rows of a page whose only content is a table, as spreadsheet programs put it beside the text. */
function rowsOfTable(page: Document): string[][] | null {
  const tables = page.querySelectorAll('table');
  const [table] = tables;
  if (!table || tables.length !== 1) return null;
  const around = page.body.cloneNode(true) as HTMLElement;
  for (const each of around.querySelectorAll('table, style, meta, title')) each.remove();
  if (around.textContent?.trim()) return null;
  const rows = [...table.rows].map((row) =>
    [...row.cells].flatMap((cell) => [
      cell.textContent?.replace(/\s+/g, ' ').trim() ?? '',
      ...new Array<string>(Math.max(0, Math.min(200, cell.colSpan) - 1)).fill(''),
    ]),
  );
  return rows.length > 0 ? rows : null;
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
