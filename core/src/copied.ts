import { usualAlignment } from './layout.ts';
import { type Cell, type Dress, gridOf, type Snapshot } from './sheet.ts';

/** A cell of a table on its way to another program. */
export interface CopiedCell {
  /** The whole text shown, never what fits a narrow column. */
  text: string;
  /** Rows and columns that it spans; those that are hidden do not count. */
  rows: number;
  columns: number;
  isHead: boolean;
  align: 'left' | 'center' | 'right';
  dress: Dress | undefined;
  /** Letter colour that the number format sets. */
  ink: string | undefined;
}

/** Which rows and columns of a snapshot are shown, counted from 0. */
function shownBands({ area, rows, columns }: Snapshot): { rows: number[]; columns: number[] } {
  const shown = (bands: Snapshot['rows'], from: number, to: number) => {
    const hidden = new Set(bands.filter((band) => band.hidden).map(({ index }) => index - from));
    return Array.from({ length: to - from + 1 }, (_, at) => at).filter((at) => !hidden.has(at));
  };
  return {
    rows: shown(rows, area.top, area.bottom),
    columns: shown(columns, area.left, area.right),
  };
}

/**
 * The rows of a table as another program is to get them: hidden ones left out, merged cells as spans (with their words also
 * where the row that holds these is hidden), the first `headRows` rows as heads.
 */
export function copiedTable(snapshot: Snapshot, headRows: number): CopiedCell[][] {
  const { area, merges, dresses } = snapshot;
  const shown = shownBands(snapshot);
  const grid = gridOf(snapshot);
  const spans = new Map<string, { cell: Cell | undefined; rows: number; columns: number } | null>();
  for (const { top, left, bottom, right } of merges) {
    const rows = shown.rows.filter((at) => at >= top - area.top && at <= bottom - area.top);
    const columns = shown.columns.filter((at) => at >= left - area.left && at <= right - area.left);
    for (const row of rows) for (const column of columns) spans.set(`${row},${column}`, null);
    spans.set(`${rows[0]},${columns[0]}`, {
      cell: grid[top - area.top]?.[left - area.left],
      rows: rows.length,
      columns: columns.length,
    });
  }
  return shown.rows.map((row) =>
    shown.columns.flatMap((column): CopiedCell[] => {
      const span = spans.get(`${row},${column}`);
      if (span === null) return [];
      const cell = span ? span.cell : grid[row]![column];
      const dress = cell?.dress === undefined ? undefined : dresses[cell.dress];
      const set = dress?.horizontal;
      return [
        {
          text: cell?.text ?? '',
          rows: span?.rows ?? 1,
          columns: span?.columns ?? 1,
          isHead: row < headRows,
          align:
            set === undefined || set === 'fill' || set === 'justify' ? usualAlignment(cell) : set,
          dress,
          ink: cell?.ink,
        },
      ];
    }),
  );
}

/** The shown texts of a snapshot, row by row, without hidden rows and columns. */
export function shownTexts(snapshot: Snapshot): string[][] {
  const shown = shownBands(snapshot);
  const grid = gridOf(snapshot);
  return shown.rows.map((row) => shown.columns.map((column) => grid[row]![column]?.text ?? ''));
}

/**
 * Rows as plain text that spreadsheet programs take apart again: tabs between cells, a cell with a tab, a quote or a line
 * end in quotes (common practice, after RFC 4180, 2.5 to 2.7).
 */
export function tabbed(rows: readonly (readonly string[])[]): string {
  const quoted = (text: string) =>
    /["\t\n\r]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
  return rows.map((texts) => texts.map(quoted).join('\t')).join('\n');
}
