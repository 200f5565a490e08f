import { type LineChange, movedArea, movedLine } from '../sheet/line-change.ts';
import type { Reach } from './reach.ts';

/**
 * A reach that follows rows or columns that were put into its sheet or taken out of it. One of which nothing is left stays as it
 * is: that it takes something else now is told when it is looked at.
 */
export function movedReach(reach: Reach, change: LineChange): Reach {
  if (!('sheet' in reach) || reach.sheet?.toLowerCase() !== change.sheet.toLowerCase()) {
    return reach;
  }
  const isRows = change.axis === 'rows';
  switch (reach.kind) {
    case 'block': {
      const area = movedArea(change, reach.area);
      return area ? { ...reach, area } : reach;
    }
    case 'growing block': {
      const { row, left, right } = reach.header;
      const moved = movedArea(change, { top: row, bottom: row, left, right });
      if (!moved) return reach;
      const header = { row: moved.top, left: moved.left, right: moved.right };
      if (isRows || !reach.words) return { ...reach, header };
      const words = Array.from({ length: header.right - header.left + 1 }, () => '');
      for (const [at, word] of reach.words.entries()) {
        const column = movedLine(change, left + at);
        if (column !== null && column >= header.left) words[column - header.left] = word;
      }
      return { ...reach, header, words };
    }
    case 'picked columns': {
      const headerRow = isRows ? movedLine(change, reach.headerRow) : reach.headerRow;
      return headerRow === null ? reach : { ...reach, headerRow };
    }
    default:
      return reach;
  }
}
