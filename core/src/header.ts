import { type Cell, gridOf, type Snapshot } from './sheet.ts';

/** Whether the first row of a grid reads as headers: at least two cells, all text, above something that is not. */
export function hasHeaderRow(grid: readonly (Cell | undefined)[][]): boolean {
  const filled = (grid[0] ?? []).filter((cell) => cell && cell.type !== 'blank');
  if (filled.length < 2 || grid.length < 2) return false;
  return filled.every((cell) => cell?.type === 'text');
}

/** The header text of each column, or its letter's place left empty when there is no header row. */
export function headersOf(grid: readonly (Cell | undefined)[][]): string[] {
  const width = grid[0]?.length ?? 0;
  if (!hasHeaderRow(grid)) return new Array<string>(width).fill('');
  return Array.from({ length: width }, (_, column) => grid[0]?.[column]?.text.trim() ?? '');
}

/** What a person would call the row: the text of its first filled cell. */
export function rowLabel(row: readonly (Cell | undefined)[]): string {
  return row.find((cell) => cell && cell.type !== 'blank')?.text.trim() ?? '';
}

/**
 * A name for an object that shows `snapshot`: `Counts: Plot, Planted, Surviving` from its headers, else from the words at
 * the heads of its row or columns, `Counts: Total, Surviving`, else the sheet with its first text, else the sheet alone.
 */
export function suggestName(snapshot: Snapshot): string {
  const grid = gridOf(snapshot);
  const own = headersOf(grid).filter((text) => text !== '');
  const headers = own.length > 0 ? own : headsOf(snapshot);
  if (headers.length > 0) {
    const shown = headers.slice(0, 3).join(', ');
    return `${snapshot.sheet}: ${shown}${headers.length > 3 ? ' …' : ''}`.slice(0, 80);
  }
  const text = snapshot.cells.find((cell) => cell.type === 'text')?.text.trim();
  return (text ? `${snapshot.sheet}: ${text}` : snapshot.sheet).slice(0, 80);
}

/** A single row goes by its own word, cells of several rows by those of their columns, a single cell by both. */
function headsOf({ landmarks }: Snapshot): string[] {
  if (!landmarks) return [];
  const { rows, columns } = landmarks;
  const own = rows.length === 1 ? rows : [];
  const words = [...own, ...(rows.length > 1 || columns.length === 1 ? columns : [])];
  return [...new Set(words.filter((text) => text !== ''))];
}
