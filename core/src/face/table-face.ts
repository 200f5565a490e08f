import { layoutTable, type TableLayout } from '../look/layout.ts';
import { dressSnapshot, type Wish } from '../look/look.ts';
import { type Cell, gridOf, type Snapshot } from '../sheet/sheet.ts';
import { FOLD_GAP, foldTable, type Strip } from './fold.ts';

/** How a placed table is to stand on its page. */
export interface TableWish extends Wish {
  /** In how many parts its rows stand side by side, where they fit. */
  beside: number;
  /** Pixels there are for it across, and down the page. */
  room: number;
  pageHeight: number;
}

/** A placed table ready to be drawn: dressed, measured and folded. */
export interface TableFace {
  snapshot: Snapshot;
  layout: TableLayout;
  strips: Strip[];
}

/** Dresses, measures and folds what a tether takes. The same on every screen, in print and in a worker. */
export function faceTable(source: Snapshot, wish: TableWish): TableFace {
  const snapshot = dressSnapshot(source, wish);
  const fit = wish.look.widths === 'document' ? 'page' : 'source';
  // Parts side by side share the room.
  const room = (wish.room - (wish.beside - 1) * FOLD_GAP.x) / wish.beside;
  const layout = layoutTable(snapshot, fit, fit === 'page' ? room : wish.room);
  const strips = foldTable(layout, {
    room: wish.room,
    pageHeight: wish.pageHeight,
    beside: wish.beside,
    nameColumns: nameColumns(snapshot),
  });
  return { snapshot, layout, strips };
}

const MOST_NAME_COLUMNS = 2;

/** How many columns from the left name the rows: those before the first with numbers, one at least. */
function nameColumns(snapshot: Snapshot): number {
  const grid = gridOf(snapshot);
  const width = grid[0]?.length ?? 0;
  let count = 0;
  const isFigure = (cell: Cell | undefined) =>
    cell?.type === 'number' || cell?.type === 'uncomputed';
  while (count < width && !grid.some((row) => isFigure(row[count]))) count++;
  return Math.max(1, Math.min(MOST_NAME_COLUMNS, count));
}
