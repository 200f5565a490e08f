import { isFilled, type Snapshot } from '../sheet/sheet.ts';

/** What is to be said where a table stands whose cells show nothing of use; null where they do. */
export function emptyWords({ cells }: Pick<Snapshot, 'cells'>): string | null {
  const filled = cells.filter(isFilled);
  if (filled.length === 0) return 'These cells are empty in the source.';
  const figures = filled.filter(({ type }) => type !== 'text');
  const errors = figures.filter(({ type }) => type === 'error');
  if (errors.length === 0 || errors.length < figures.length) return null;
  const kinds = [...new Set(errors.map(({ text }) => text))].join(', ');
  return errors.length === 1
    ? `Its only figure is an error in the source: ${kinds}.`
    : `All of its ${errors.length} figures are errors in the source: ${kinds}.`;
}

/** Letters below this size, in points, are not read on paper without effort (common practice). */
const LEAST_LETTERS = 5;

/** What is to be said of a facsimile scaled so far down that its letters are not read; null where they are. */
export function smallWords({ cells, dresses }: Snapshot, scale: number): string | null {
  let smallest = Number.POSITIVE_INFINITY;
  for (const cell of cells) {
    if (!isFilled(cell)) continue;
    const dress = cell.dress === undefined ? undefined : dresses[cell.dress];
    smallest = Math.min(smallest, dress?.letters.size ?? 10.5);
  }
  const shown = smallest * scale;
  if (!Number.isFinite(shown) || shown >= LEAST_LETTERS) return null;
  return `Its letters are ${shown.toFixed(1)} pt on paper: too small to read. Make it wider, or show it as a table, which folds.`;
}
