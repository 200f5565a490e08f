import { headerOf } from '../sheet/header.ts';
import type { Snapshot } from '../sheet/sheet.ts';
import type { Reach } from './reach.ts';

/**
 * The reach with what was found of it: the sheet's own spelling of its name, so that every object of a sheet asks for it
 * alike, the cells that a mooring stands for now, and the words of a growing block's header, by which it is found when it moves.
 */
export function asFound(reach: Reach, snapshot: Snapshot): Reach {
  if (reach.kind === 'name' || reach.kind === 'chart') return reach;
  const { sheet, area, cells } = snapshot;
  if (reach.kind === 'block' && reach.mooring !== undefined) return { ...reach, sheet, area };
  if (reach.kind !== 'growing block') return { ...reach, sheet };
  const { left, right } = reach.header;
  const header = { row: area.top, left, right };
  const { words: _, ...plain } = reach;
  // The first row of the data is no header: sorted, its words would stand anywhere.
  if (headerOf(snapshot).rows === 0) return { ...plain, sheet, header };
  const words = new Array<string>(right - left + 1).fill('');
  for (const { row, column, type, text } of cells) {
    if (row === area.top && type === 'text') words[column - left] = text.trim().slice(0, 1000);
  }
  return { ...plain, sheet, header, words };
}
