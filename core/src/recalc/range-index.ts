import type { Area } from '../sheet/address.ts';

/**
 * Finds the ranges in which a cell lies, of many: each range lies in at most four tiles of a size that fits it, so that a cell
 * asks one tile of each size in use.
 */
export class RangeIndex<T extends { area: Area }> {
  private readonly tiles = new Map<string, T[]>();
  private readonly sizes = new Map<string, { high: number; wide: number; count: number }>();

  add(range: T): void {
    const { top, left, bottom, right } = range.area;
    const [high, wide] = [sizeOf(bottom - top + 1), sizeOf(right - left + 1)];
    const size = `${high} ${wide}`;
    const known = this.sizes.get(size);
    if (known) known.count++;
    else this.sizes.set(size, { high, wide, count: 1 });
    for (let row = top >> high; row <= bottom >> high; row++) {
      for (let column = left >> wide; column <= right >> wide; column++) {
        const key = `${size} ${row} ${column}`;
        const tile = this.tiles.get(key);
        if (tile) tile.push(range);
        else this.tiles.set(key, [range]);
      }
    }
  }

  /** Visits the ranges that hold a cell. */
  at(row: number, column: number, visit: (range: T) => void): void {
    for (const [size, { high, wide }] of this.sizes) {
      const tile = this.tiles.get(`${size} ${row >> high} ${column >> wide}`);
      if (!tile) continue;
      for (const range of tile) {
        const { top, left, bottom, right } = range.area;
        if (row >= top && row <= bottom && column >= left && column <= right) visit(range);
      }
    }
  }
}

/** The power of two that is not smaller. */
const sizeOf = (length: number) => Math.ceil(Math.log2(length));
