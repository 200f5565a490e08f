import type { Matching } from './line-chain.ts';
import { within } from './sheet-print.ts';

/**
 * Where the rows, or the columns, of a sheet stand in another state of it: a value that any area, edit or override can travel
 * through. Lines are counted from 1.
 */
export class LineMap {
  constructor(
    private readonly matching: Matching,
    private readonly before: Int32Array,
    private readonly after: Int32Array,
  ) {}

  /** Where a line stands now; null for one that is not found again, or in which nothing stood. */
  get(line: number): number | null {
    const [at, behind] = within(this.before, line, line);
    return behind === at ? null : this.at(at);
  }

  /**
   * Where an edge stands now. One whose line is not found again leans to the next line `before` or `after` it that is; null where
   * there is none.
   */
  edge(line: number, lean: 'before' | 'after'): number | null {
    const [at, behind] = within(this.before, line, line);
    const step = lean === 'before' ? -1 : 1;
    const from = lean === 'before' ? behind - 1 : at;
    for (let place = from; place >= 0 && place < this.before.length; place += step) {
      const now = this.at(place);
      if (now !== null) return now;
    }
    return null;
  }

  private at(place: number): number | null {
    const to = this.matching.to[place]!;
    return to < 0 ? null : this.after[to]!;
  }
}
