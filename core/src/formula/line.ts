import type { Area } from '../sheet/address.ts';
import type { Scalar } from './value.ts';

/** A row or column of values in which things are looked up, so often that an index pays. */
export class Line {
  private index: Map<number | string | boolean, number> | null = null;

  constructor(
    readonly values: readonly Scalar[],
    /** The cells it was read from; null for an array. */
    readonly from: { sheet: string; area: Area } | null,
  ) {}

  /** Where a value first stands, letters compared without case; -1 where it does not. */
  firstOf(key: number | string | boolean): number {
    if (!this.index) {
      this.index = new Map();
      for (const [at, value] of this.values.entries()) {
        if (value === null || typeof value === 'object') continue;
        const own = folded(value);
        if (!this.index.has(own)) this.index.set(own, at);
      }
    }
    return this.index.get(folded(key)) ?? -1;
  }
}

const folded = (value: number | string | boolean) =>
  typeof value === 'string' ? value.toLowerCase() : value === 0 ? 0 : value;
