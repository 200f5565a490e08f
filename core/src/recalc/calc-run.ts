import type { Area } from '../sheet/address.ts';
import { keyOf, type Node, type RangeNode, type Sheet } from './node.ts';

/** A cell that holds something else now. */
export interface Touched {
  sheet: Sheet;
  row: number;
  column: number;
}

/**
 * The run of a computation: which formulas depend on what changed, and when each comes to its turn. What a run knows of a
 * formula stands in the formula itself, since millions are asked for it:
 *
 * - `run`: the run that gathered it last. What the other flags say of a run before says nothing.
 * - `waits`: how many of the formulas and ranges that it looks at are not done. At none it is ready.
 * - `isTouched`: something that it looks at is another now, so that it must be computed.
 * - `isTainted`, `taintedBy`: it rests on a formula that is not computed here, and keeps the value of its file.
 * - `isDone`: its value is that of this run.
 *
 * A range knows of itself whether a cell in it was touched or tainted, and tells its readers once all formulas in it are done.
 */
export class CalcRun {
  private readonly nodes: readonly Node[];
  private readonly ready: Node[] = [];
  /** Formulas that met one that is not done while they were evaluated, by that one. */
  private readonly waiting = new Map<Node, Node[]>();

  /** Gathers all that depends on these cells, and these formulas with all that depends on them. */
  constructor(
    private readonly number: number,
    nodes: readonly Node[],
    cells: readonly Touched[],
  ) {
    this.nodes = this.gathered(nodes, cells);
    for (const node of this.nodes) if (node.waits === 0) this.ready.push(node);
    // Ranges in which only cells without formulas changed are known at once.
    const ranges = new Set<RangeNode>();
    for (const { sheet, row, column } of cells) {
      sheet.ranges.at(row, column, (range) => {
        if (range.run === this.number && range.waits === 0) ranges.add(range);
      });
    }
    for (const range of ranges) this.free(range);
  }

  /** Whether a formula is to be computed in this run, or was. */
  has(node: Node): boolean {
    return node.run === this.number;
  }

  /** The next formula that waits for none; null where there is none. */
  next(): Node | null {
    for (;;) {
      const node = this.ready.pop();
      if (!node) return null;
      if (!node.isDone) return node;
    }
  }

  /** The formula comes to its turn once more. */
  again(node: Node): void {
    this.ready.push(node);
  }

  /** The formula comes to its turn once more when the other one is done. */
  waitFor(other: Node, node: Node): void {
    this.waiting.set(other, [...(this.waiting.get(other) ?? []), node]);
  }

  /** Formulas that never came to their turn. */
  left(): Node[] {
    return this.nodes.filter(({ isDone }) => !isDone);
  }

  /** A formula is done: those that look at the cells that it fills (or filled) wait for one less. */
  finish(node: Node, area: Area, isChanged: boolean): void {
    node.isDone = true;
    const { sheet } = node;
    for (let row = area.top; row <= area.bottom; row++) {
      for (let column = area.left; column <= area.right; column++) {
        for (const reader of sheet.readers.get(keyOf(row, column)) ?? []) {
          this.tell(reader, isChanged, node.isTainted ? node : null);
        }
        sheet.ranges.at(row, column, (range) => {
          if (range.run !== this.number) return;
          if (isChanged) range.isTouched = true;
          if (node.isTainted) range.taintedBy ??= node;
          if (--range.waits === 0) this.free(range);
        });
      }
    }
    for (const other of this.waiting.get(node) ?? []) this.ready.push(other);
    this.waiting.delete(node);
  }

  /** All formulas of a range are done. */
  private free({ readers, isTouched, taintedBy }: RangeNode): void {
    for (const reader of readers) this.tell(reader, isTouched, taintedBy);
  }

  /** Tells a formula that something that it looks at is done. */
  private tell(reader: Node, isTouched: boolean, taintedBy: Node | null): void {
    if (reader.run !== this.number || reader.isDone) return;
    if (isTouched) reader.isTouched = true;
    if (taintedBy) {
      reader.isTainted = true;
      reader.taintedBy ??= taintedBy;
    }
    if (--reader.waits === 0) this.ready.push(reader);
  }

  /** All formulas that depend on what changed, each with how many of those it waits for. */
  private gathered(nodes: readonly Node[], cells: readonly Touched[]): Node[] {
    const found: Node[] = [];
    for (const node of nodes) {
      this.gather(node, found);
      node.isTouched = true;
    }
    for (const { sheet, row, column } of cells) this.follow(sheet, row, column, true, found);
    for (let at = 0; at < found.length; at++) {
      const { sheet, area } = found[at]!;
      for (let row = area.top; row <= area.bottom; row++) {
        for (let column = area.left; column <= area.right; column++) {
          this.follow(sheet, row, column, false, found);
        }
      }
    }
    return found;
  }

  private gather(node: Node, found: Node[]): void {
    if (node.run === this.number || !node.formula) return;
    node.run = this.number;
    node.waits = 0;
    node.isDone = node.isTouched = node.isTainted = false;
    node.taintedBy = null;
    found.push(node);
  }

  /** Gathers what looks at a cell: one that changed (`isTouched`), or one that a formula of this run fills. */
  private follow(
    sheet: Sheet,
    row: number,
    column: number,
    isTouched: boolean,
    found: Node[],
  ): void {
    for (const reader of sheet.readers.get(keyOf(row, column)) ?? []) {
      this.gather(reader, found);
      if (isTouched) reader.isTouched = true;
      else reader.waits++;
    }
    sheet.ranges.at(row, column, (range) => {
      if (range.run !== this.number) {
        range.run = this.number;
        range.waits = 0;
        range.isTouched = false;
        range.taintedBy = null;
        for (const reader of range.readers) {
          this.gather(reader, found);
          reader.waits++;
        }
      }
      if (isTouched) range.isTouched = true;
      else range.waits++;
    });
  }
}
