import { usualAlignment } from '../look/layout.ts';
import { shownPlaces, spansIn } from '../sheet/merged.ts';
import { type Dress, gridOf, type Snapshot } from '../sheet/sheet.ts';

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

/**
 * The rows of a table as another program is to get them: hidden ones left out, merged cells as spans (with their words also
 * where the row that holds these is hidden), the first `headRows` rows as heads.
 */
export function copiedTable(snapshot: Snapshot, headRows: number): CopiedCell[][] {
  const { dresses } = snapshot;
  const shown = shownPlaces(snapshot);
  const grid = gridOf(snapshot);
  const spans = spansIn(snapshot, [shown.rows], shown.columns, grid);
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
  const shown = shownPlaces(snapshot);
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
