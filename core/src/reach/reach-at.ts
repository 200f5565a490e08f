import type { Area } from '../sheet/address.ts';
import type { Reach } from './reach.ts';

/**
 * A reach as it takes what stands at another place: `before` is where its cells stood, `now` where they stand. Names and charts are
 * found by themselves.
 */
export function reachAt(reach: Reach, before: Area, now: { sheet: string; area: Area }): Reach {
  const { sheet, area } = now;
  switch (reach.kind) {
    case 'block':
      return { ...reach, sheet, area };
    case 'growing block': {
      const { words: _words, ...rest } = reach;
      const row = area.top + reach.header.row - before.top;
      return { ...rest, sheet, header: { row, left: area.left, right: area.right } };
    }
    case 'picked columns':
      return { ...reach, sheet, headerRow: area.top + reach.headerRow - before.top };
    case 'whole sheet':
    case 'chart':
      return { ...reach, sheet };
    case 'name':
      return reach;
  }
}
