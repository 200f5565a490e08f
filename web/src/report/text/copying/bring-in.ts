import type { Node as TextNode } from '@tiptap/pm/model';
import type { Transaction } from '@tiptap/pm/state';
import { diffArrays } from 'diff';

/**
 * Turns the text of a transaction into another one by changing only what differs, so that the cursor, what is selected and
 * the undo of everything else stay where they are: block by block, and within a changed block only its changed part.
 */
export function turnInto(tr: Transaction, next: TextNode): void {
  // From the end, so that what is still to be changed stays where it was found.
  for (const { from, to, before, after } of changedRuns(tr.doc, next).reverse()) {
    const starts = Array.from({ length: to - from + 1 }, (_, at) =>
      tr.doc.resolve(0).posAtIndex(from + at),
    );
    for (const step of stepsOf(before, after).reverse()) {
      const start = starts[step.at]!;
      if (step.kind === 'change') changeInside(tr, start + 1, step.before, step.after);
      else tr.replaceWith(start, starts[step.at + step.count]!, step.blocks);
    }
  }
}

/** What turns one run of blocks into another: blocks that are alike are changed, the others go and come. */
type RunStep =
  | { kind: 'change'; at: number; before: TextNode; after: TextNode }
  | { kind: 'replace'; at: number; count: number; blocks: TextNode[] };

/** Runs longer than this are put in whole: comparing each block with each would take too long. */
const MOST_COMPARED = 10_000;

function stepsOf(before: readonly TextNode[], after: readonly TextNode[]): RunStep[] {
  const steps: RunStep[] = [];
  let [b, a] = [0, 0];
  const replaceUntil = (toBefore: number, toAfter: number) => {
    if (toBefore > b || toAfter > a) {
      steps.push({ kind: 'replace', at: b, count: toBefore - b, blocks: after.slice(a, toAfter) });
    }
    [b, a] = [toBefore, toAfter];
  };
  for (const [atBefore, atAfter] of alikePairs(before, after)) {
    replaceUntil(atBefore, atAfter);
    steps.push({ kind: 'change', at: b, before: before[atBefore]!, after: after[atAfter]! });
    [b, a] = [atBefore + 1, atAfter + 1];
  }
  replaceUntil(before.length, after.length);
  return steps;
}

/** The pairs of blocks, in order, whose likenesses add up to most (the usual table of longest common subsequences). */
function alikePairs(before: readonly TextNode[], after: readonly TextNode[]): [number, number][] {
  if (before.length * after.length > MOST_COMPARED) return [];
  const best = Array.from({ length: before.length + 1 }, () => new Float64Array(after.length + 1));
  const alike = before.map((one) => after.map((other) => likeness(one, other)));
  for (let b = before.length - 1; b >= 0; b--) {
    for (let a = after.length - 1; a >= 0; a--) {
      const paired = alike[b]![a]! > 0 ? alike[b]![a]! + best[b + 1]![a + 1]! : 0;
      best[b]![a] = Math.max(paired, best[b + 1]![a]!, best[b]![a + 1]!);
    }
  }
  const pairs: [number, number][] = [];
  for (let [b, a] = [0, 0]; b < before.length && a < after.length; ) {
    if (best[b]![a] === best[b + 1]![a]) b++;
    else if (best[b]![a] === best[b]![a + 1]) a++;
    else pairs.push([b++, a++]);
  }
  return pairs;
}

/** How much of two blocks is the same at their beginning and end, from 0 to 1; 0 for blocks that cannot be changed inside. */
function likeness(one: TextNode, other: TextNode): number {
  if (!one.sameMarkup(other) || one.isLeaf) return 0;
  const from = one.content.findDiffStart(other.content);
  const ends = one.content.findDiffEnd(other.content);
  if (from === null || ends === null) return 1;
  const [long, short] = [one, other].map(({ content }) => content.size).sort((a, b) => b - a);
  const same = Math.min(short!, from + long! - Math.max(ends.a, ends.b));
  return (same + 0.01) / (long! + 0.01);
}

/** Changes the part of one block that differs. `start` is where its content begins. */
function changeInside(tr: Transaction, start: number, before: TextNode, after: TextNode): void {
  const from = before.content.findDiffStart(after.content);
  const ends = before.content.findDiffEnd(after.content);
  if (from === null || ends === null) return;
  let { a, b } = ends;
  // What was added or taken away may be equal to what stands beside it: then the ends found overlap the start.
  const overlap = from - Math.min(a, b);
  if (overlap > 0) {
    a += overlap;
    b += overlap;
  }
  tr.replace(start + from, start + a, after.slice(from, b));
}

interface ChangedRun {
  /** Indexes of the blocks that go, the last not among them. */
  from: number;
  to: number;
  before: TextNode[];
  after: TextNode[];
}

/** Runs of blocks that differ between two texts. */
function changedRuns(before: TextNode, after: TextNode): ChangedRun[] {
  const runs: ChangedRun[] = [];
  let at = 0;
  let open: ChangedRun | null = null;
  const parts = diffArrays([...before.children], [...after.children], {
    comparator: (a, b) => a.eq(b),
  });
  for (const { value, added, removed } of parts) {
    if (!added && !removed) {
      open = null;
      at += value.length;
      continue;
    }
    if (!open) {
      open = { from: at, to: at, before: [], after: [] };
      runs.push(open);
    }
    if (removed) {
      open.before.push(...value);
      at += value.length;
      open.to = at;
    } else open.after.push(...value);
  }
  return runs;
}
