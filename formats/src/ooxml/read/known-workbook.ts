import type { SheetFrame } from './sheet/sheet-frame.ts';

/** Of so many files something is remembered, of those that were asked for last. */
const MOST_FILES = 32;
/** A frame that says more than this (a link in every cell, say) is not remembered: it would fill the memory. */
const MOST_SAID = 20_000;

/** Something that was read out of some parts, with the marks that these had. */
interface Recalled {
  parts: readonly string[];
  marks: string;
  value: unknown;
}

const remembered = new Map<string, Map<string, Recalled>>();

/**
 * What is known of a workbook from an earlier opening of the same bytes, which the hash of the file tells: the parts that
 * every opening reads, and the frames of its sheets. Merged cells, conditional formats and links stand behind the rows of a
 * sheet: finding them takes as long as unpacking all of it. Without a hash nothing is remembered. What is remembered is
 * shared by all openings: nobody changes it.
 */
export class KnownWorkbook {
  private readonly own = new Map<string, SheetFrame>();
  private readonly shared: Map<string, Recalled> | null;

  constructor(
    hash: string | null,
    /** Tells the bytes of a part from others: the file may be written while it is read, after its hash was taken. */
    private readonly markOf: (part: string) => string,
  ) {
    this.shared = hash === null ? null : sharedBy(hash);
  }

  /** What was remembered under this name, if the parts it was read from are the same. */
  recall<T>(name: string): T | undefined {
    const known = this.shared?.get(name);
    return known && known.marks === this.marksOf(known.parts) ? (known.value as T) : undefined;
  }

  remember(name: string, parts: readonly string[], value: unknown): void {
    this.shared?.set(name, { parts, marks: this.marksOf(parts), value });
  }

  frameOf(part: string): SheetFrame | undefined {
    return this.own.get(part) ?? this.recall<SheetFrame>(`frame of ${part}`);
  }

  setFrame(part: string, frame: SheetFrame): void {
    this.own.set(part, frame);
    if (countSaid(frame) <= MOST_SAID) this.remember(`frame of ${part}`, [part], frame);
  }

  private marksOf(parts: readonly string[]): string {
    return parts.map(this.markOf).join('|');
  }
}

function sharedBy(hash: string): Map<string, Recalled> {
  const known = remembered.get(hash) ?? new Map<string, Recalled>();
  remembered.delete(hash);
  remembered.set(hash, known);
  const oldest = remembered.keys().next().value;
  if (remembered.size > MOST_FILES && oldest !== undefined) remembered.delete(oldest);
  return known;
}

function countSaid({ merges, links, conditions, validations, columnRuns }: SheetFrame): number {
  return [merges, links, conditions, validations, columnRuns].reduce(
    (sum, { length }) => sum + length,
    0,
  );
}
