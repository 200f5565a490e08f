/** How often keys occur, in a table of numbers: a hundred thousand are counted and asked for in a few milliseconds. */
export class KeyCounts {
  private readonly mask: number;
  private readonly slots: Uint32Array;
  private readonly counts: Int32Array;

  /** `most` is how many different keys there can be. */
  constructor(most: number) {
    let size = 16;
    while (size < most * 2) size *= 2;
    this.mask = size - 1;
    this.slots = new Uint32Array(size);
    this.counts = new Int32Array(size);
  }

  /** Counts a key, which is not 0; gives how often it has been met with now. */
  add(key: number): number {
    const at = this.find(key);
    this.slots[at] = key;
    this.counts[at]!++;
    return this.counts[at]!;
  }

  get(key: number): number {
    return this.counts[this.find(key)]!;
  }

  /** Where a key is counted: at its own place, the same one as long as no other key is added. */
  find(key: number): number {
    let at = (Math.imul(key, 0x9e3779b1) >>> 7) & this.mask;
    while (this.slots[at] !== 0 && this.slots[at] !== key) at = (at + 1) & this.mask;
    return at;
  }

  countAt(place: number): number {
    return this.counts[place]!;
  }

  get size(): number {
    return this.mask + 1;
  }
}

/** How many keys of some can be found among wanted ones, each as often as it is wanted. */
export class Tally {
  private readonly seen: Int32Array;
  found = 0;
  /** Keys that are wanted and were met with more often than that. */
  twice = 0;

  constructor(private readonly wanted: KeyCounts) {
    this.seen = new Int32Array(wanted.size);
  }

  add(key: number): void {
    const at = this.wanted.find(key);
    const most = this.wanted.countAt(at);
    if (most === 0) return;
    if (this.seen[at]! < most) {
      this.seen[at]!++;
      this.found++;
    } else this.twice++;
  }
}
