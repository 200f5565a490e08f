import type { SheetFrame } from './sheet-frame.ts';

/** Of so many files the frames are remembered, those that were asked for last. */
const MOST_FILES = 32;
/** A frame that says more than this (a link in every cell, say) is not remembered: it would fill the memory. */
const MOST_SAID = 20_000;
const remembered = new Map<string, Map<string, SheetFrame>>();

/**
 * The frames of a workbook's sheets, by sheet part. Merged cells, conditional formats and links stand behind the rows of a
 * sheet: finding them takes as long as unpacking all of it. So they are remembered for all who open the same bytes, which
 * the hash of the file tells; without one nothing is remembered.
 */
export class KnownFrames {
  private readonly own = new Map<string, SheetFrame>();
  private readonly shared: Map<string, SheetFrame> | null;

  constructor(
    hash: string | null,
    /** Tells the bytes of a part from others: the file may be written while it is read, after its hash was taken. */
    private readonly markOf: (part: string) => string,
  ) {
    this.shared = hash === null ? null : sharedFrames(hash);
  }

  get(part: string): SheetFrame | undefined {
    return this.own.get(part) ?? this.shared?.get(this.keyOf(part));
  }

  private keyOf(part: string): string {
    return `${part} ${this.markOf(part)}`;
  }

  set(part: string, frame: SheetFrame): void {
    this.own.set(part, frame);
    if (countSaid(frame) <= MOST_SAID) this.shared?.set(this.keyOf(part), frame);
  }
}

function sharedFrames(hash: string): Map<string, SheetFrame> {
  const frames = remembered.get(hash) ?? new Map<string, SheetFrame>();
  remembered.delete(hash);
  remembered.set(hash, frames);
  const oldest = remembered.keys().next().value;
  if (remembered.size > MOST_FILES && oldest !== undefined) remembered.delete(oldest);
  return frames;
}

function countSaid({ merges, links, conditions, validations, columnRuns }: SheetFrame): number {
  return [merges, links, conditions, validations, columnRuns].reduce(
    (sum, { length }) => sum + length,
    0,
  );
}
