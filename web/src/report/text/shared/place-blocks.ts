import { sharedNodes, type TextJson } from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';
import { updateYFragment } from '@tiptap/y-tiptap';
import * as Y from 'yjs';

/** What the binding knows: which node of the text each shared type is. */
export interface BindingMeta {
  mapping: Map<unknown, unknown>;
  isOMark: Map<unknown, unknown>;
}

/**
 * Writes the blocks of a text into the shared one so that those which did not change are not touched, whatever was moved, put
 * in or taken out around them. The binding compares from both ends only and writes anew what lies between: what somebody
 * else types there at the same time would be lost.
 */
export function placeBlocks(shared: Y.XmlFragment, text: TextNode, meta: BindingMeta): void {
  const before = shared.toArray();
  const kept = keptBlocks(
    before.map((each) => meta.mapping.get(each)),
    text.children,
  );
  // From the end, so that places found before stay right.
  let [yEnd, pEnd] = [before.length, text.childCount];
  for (const [y, p] of [...kept.reverse(), [-1, -1] as const]) {
    writeGap(shared, { from: y + 1, to: yEnd }, text.children.slice(p + 1, pEnd), meta);
    [yEnd, pEnd] = [y, p];
  }
}

/**
 * Blocks that are the same and in the same order before and after, as pairs of places in both. Where two changed places, that
 * one stays in which more can be lost: words, rather than an object that others can only dress.
 */
function keptBlocks(before: readonly unknown[], after: readonly TextNode[]): [number, number][] {
  const places = new Map<unknown, number[]>();
  after.forEach((node, at) => {
    const known = places.get(node);
    if (known) known.push(at);
    else places.set(node, [at]);
  });
  const pairs: [number, number][] = [];
  before.forEach((node, at) => {
    const place = node === undefined ? undefined : places.get(node)?.shift();
    if (place !== undefined) pairs.push([at, place]);
  });
  // Mostly nothing was moved: then all of them are in order but for a few, between the first and the last of these.
  const isInOrder = (index: number) => index < 1 || pairs[index - 1]![1] < pairs[index]![1];
  if (pairs.every((_, index) => isInOrder(index))) return pairs;
  return heaviestRising(pairs, ([, place]) => (after[place]!.isAtom ? 1 : WORDS));
}

/** How much more a block of words weighs than an object. */
const WORDS = 1_000;

/** The run of pairs whose second numbers rise that weighs most, each with all before it. */
function heaviestRising(
  pairs: readonly [number, number][],
  weigh: (pair: [number, number]) => number,
): [number, number][] {
  const best: number[] = [];
  const earlier: number[] = [];
  let last = -1;
  pairs.forEach((pair, index) => {
    let from = -1;
    for (let each = 0; each < index; each++) {
      const isBefore = pairs[each]![1] < pair[1];
      if (isBefore && (from < 0 || best[each]! > best[from]!)) from = each;
    }
    best[index] = weigh(pair) + (from < 0 ? 0 : best[from]!);
    earlier[index] = from;
    if (last < 0 || best[index]! > best[last]!) last = index;
  });
  const run: [number, number][] = [];
  for (let index = last; index >= 0; index = earlier[index]!) run.push(pairs[index]!);
  return run.reverse();
}

/** Writes blocks in the place of others: those of one kind are changed, from the first on; the rest goes and comes. */
function writeGap(
  shared: Y.XmlFragment,
  { from, to }: { from: number; to: number },
  blocks: readonly TextNode[],
  meta: BindingMeta,
): void {
  // Blocks that stand elsewhere now are no earlier state of what stands here.
  const standing = shared.slice(from, to);
  let at = from;
  let next = 0;
  for (const each of standing) {
    const block = blocks[next];
    if (block && each instanceof Y.XmlElement && isItsState(each, block)) {
      updateYFragment(shared.doc as never, each as never, block, meta as never);
      at++;
      next++;
    } else {
      shared.delete(at, 1);
      meta.mapping.delete(each);
    }
  }
  const fresh = blocks.slice(next);
  if (fresh.length === 0) return;
  const made = sharedNodes(fresh.map((block) => block.toJSON() as TextJson));
  shared.insert(at, made);
  made.forEach((each, index) => {
    meta.mapping.set(each, fresh[index]);
  });
}

/** Whether a block can be another state of what stands there: an object is that of the same tether alone. */
function isItsState(shared: Y.XmlElement, block: TextNode): boolean {
  return (
    shared.nodeName === block.type.name &&
    (!block.isAtom || (shared.getAttribute('tetherId') ?? null) === (block.attrs.tetherId ?? null))
  );
}
