import { layoutTable, type TableLayout } from '../look/layout.ts';
import { dressSnapshot, type Wish } from '../look/look.ts';
import { type Cell, gridOf, type Snapshot } from '../sheet/sheet.ts';
import { FOLD_GAP, foldedSize, foldTable, type Strip } from './fold.ts';

/** How a placed table is to stand on its page. */
export interface TableWish extends Wish {
  /** In how many parts its rows stand side by side, where they fit; `fitting` for as few as it takes to be no higher than the page. */
  beside: number | 'fitting';
  /** How many of these parts stand at places of their own, and take none of the room. */
  apart?: number;
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
  if (wish.beside === 'fitting') return faceFitting(source, wish);
  return faceWith(source, wish, wish.beside);
}

/** The most parts that a table is folded into by itself, beyond those that stand elsewhere. */
const MOST_FITTING = 6;

/** In as few parts as make it no higher than its page; in one where no number of parts does. */
function faceFitting(source: Snapshot, wish: TableWish): TableFace {
  const asOne = faceWith(source, wish, 1);
  const heightOf = ({ layout, strips }: TableFace) => foldedSize(layout, strips).height;
  if (heightOf(asOne) <= wish.pageHeight) return asOne;
  const most = MOST_FITTING + (wish.apart ?? 0);
  for (let beside = 2; beside <= most; beside++) {
    const face = faceWith(source, wish, beside);
    if (heightOf(face) <= wish.pageHeight) return face;
  }
  return asOne;
}

function faceWith(source: Snapshot, wish: TableWish, beside: number): TableFace {
  const snapshot = dressSnapshot(source, wish);
  const fit = wish.look.widths === 'document' ? 'page' : 'source';
  // Parts side by side share the room.
  const sharing = Math.max(1, beside - (wish.apart ?? 0));
  const room = (wish.room - (sharing - 1) * FOLD_GAP.x) / sharing;
  const layout = layoutTable(snapshot, fit, fit === 'page' ? room : wish.room);
  const strips = foldTable(layout, {
    room: wish.room,
    pageHeight: wish.pageHeight,
    beside,
    apart: wish.apart ?? 0,
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
