import type { CalcBook, ChangedCell, NotOurs } from '@tether/core';
import type { SheetPatch } from '../ooxml/write/write-workbook.ts';
import type { NotComputed } from './load-book.ts';

/** All that is to be written where some cells are to hold something else. */
export interface WritePlan {
  /** The cells that were named, in their order, with what their formulas come to; behind them those that follow from them. */
  patches: SheetPatch[];
  recalculated: ChangedCell[];
  /** Formulas that should be computed anew and cannot be here: their figures are not final. */
  notFinal: NotOurs[];
  /** Whether all that depends on the cells is among them. */
  isRecalculated: boolean;
}

/** Adds to the cells that are to be written what depends on them. The book stays as it is. */
export function planWrite(book: CalcBook | NotComputed, patches: readonly SheetPatch[]): WritePlan {
  if (typeof book === 'string') {
    // Formulas that are put into what is not computed have no value until another program computes them.
    const isRecalculated = book === 'no formulas' && patches.every(({ how }) => how !== 'formula');
    return { patches: [...patches], recalculated: [], notFinal: [], isRecalculated };
  }
  const tried = book.tryOut(patches);
  const { notFinal, refilled } = tried;
  const given = new Map(
    patches.filter(({ how }) => how === 'formula').map((each) => [placeKey(each), each]),
  );
  const come = new Map(tried.changed.map((each) => [placeKey(each), each.after]));
  const left = new Set(notFinal.map(placeKey));
  const wished = patches.map((each): SheetPatch => {
    const key = placeKey(each);
    if (!given.has(key)) return each;
    const value = left.has(key) ? null : come.has(key) ? come.get(key)! : valueAt(book, each);
    return { ...each, value };
  });
  const changed = tried.changed.filter((each) => !given.has(placeKey(each)));
  const fills = new Map(refilled.map((each) => [placeKey(each), each.area]));
  const results = changed.map(({ sheet, row, column, after }): SheetPatch => {
    const area = fills.get(placeKey({ sheet, row, column }));
    fills.delete(placeKey({ sheet, row, column }));
    return { sheet, row, column, value: after, how: 'result', ...(area ? { fills: area } : {}) };
  });
  // A formula whose own cell shows the same as before, and which fills others now.
  const others = refilled
    .filter((each) => fills.has(placeKey(each)))
    .map(({ sheet, row, column, area }): SheetPatch => {
      const value = book.get(sheet, row, column);
      return { sheet, row, column, value, how: 'result', fills: area };
    });
  return {
    patches: [...wished, ...results, ...others],
    recalculated: changed,
    notFinal,
    isRecalculated: notFinal.length === 0,
  };
}

const valueAt = (book: CalcBook, { sheet, row, column }: SheetPatch) =>
  book.get(sheet, row, column);

const placeKey = ({ sheet, row, column }: { sheet: string; row: number; column: number }) =>
  `${sheet.toLowerCase()} ${row} ${column}`;
