import { type Box, bottomOf, boxOfAll, rightOf } from './box.ts';

/** How boxes are set in line. */
export type Alignment = 'left' | 'centre' | 'right' | 'top' | 'middle' | 'bottom';

/**
 * Where boxes come to stand when they are set in line with each other, or with a box that stays, such as the frame: how far
 * each of them moves.
 */
export function alignBoxes(
  boxes: readonly Box[],
  how: Alignment,
  to: Box | null = boxOfAll(boxes),
): { x: number; y: number }[] {
  if (!to) return [];
  const move = (box: Box): { x: number; y: number } => {
    switch (how) {
      case 'left':
        return { x: to.x - box.x, y: 0 };
      case 'right':
        return { x: rightOf(to) - rightOf(box), y: 0 };
      case 'centre':
        return { x: to.x + to.width / 2 - (box.x + box.width / 2), y: 0 };
      case 'top':
        return { x: 0, y: to.y - box.y };
      case 'bottom':
        return { x: 0, y: bottomOf(to) - bottomOf(box) };
      case 'middle':
        return { x: 0, y: to.y + to.height / 2 - (box.y + box.height / 2) };
    }
  };
  return boxes.map(move);
}

/**
 * Where boxes come to stand when the gaps between them are made equal: how far each of them moves. The first and the last
 * stay. Where they are wider together than there is room they overlap alike.
 */
export function distributeBoxes(
  boxes: readonly Box[],
  way: 'across' | 'down',
): { x: number; y: number }[] {
  const moves = boxes.map(() => ({ x: 0, y: 0 }));
  if (boxes.length < 3) return moves;
  const [start, length] = way === 'across' ? (['x', 'width'] as const) : (['y', 'height'] as const);
  const order = boxes
    .map((box, at) => ({ box, at }))
    .sort((a, b) => a.box[start] - b.box[start] || a.at - b.at);
  const first = order[0]!.box;
  const last = order.at(-1)!.box;
  const between = last[start] - (first[start] + first[length]);
  const inner = order.slice(1, -1);
  const taken = inner.reduce((sum, { box }) => sum + box[length], 0);
  const gap = (between - taken) / (order.length - 1);
  let at = first[start] + first[length] + gap;
  for (const { box, at: index } of inner) {
    moves[index]![start] = at - box[start];
    at += box[length] + gap;
  }
  return moves;
}

/** Where something goes among what lies above and below it. */
export type Step = 'to front' | 'forward' | 'backward' | 'to back';

/**
 * Numbers in an order for what comes to stand behind `at` of the others. `others` is sorted, and they keep their numbers
 * unless there is none left between two of them, as where two people added something at once: then all are counted anew.
 */
export function ordersAt(
  others: readonly { id: string; order: number }[],
  moved: readonly string[],
  at: number,
): Map<string, number> {
  const before = others[at - 1]?.order ?? (others[0]?.order ?? 0) - moved.length - 1;
  const behind = others[at]?.order ?? before + moved.length + 1;
  const gap = (behind - before) / (moved.length + 1);
  const numbers = moved.map((_, nth) => before + gap * (nth + 1));
  const row = [before, ...numbers, behind];
  if (row.every((number, nth) => nth === 0 || number > row[nth - 1]!)) {
    return new Map(moved.map((id, nth) => [id, numbers[nth]!]));
  }
  const ids = others.map(({ id }) => id);
  return new Map([...ids.slice(0, at), ...moved, ...ids.slice(at)].map((id, nth) => [id, nth]));
}

/**
 * New numbers in the order from back to front for the chosen of some things; see `ordersAt`. Chosen ones keep their order among
 * themselves. `all` is sorted from back to front.
 */
export function restack(
  all: readonly { id: string; order: number }[],
  chosen: ReadonlySet<string>,
  step: Step,
): Map<string, number> {
  const moved = all.filter(({ id }) => chosen.has(id));
  const rest = all.filter(({ id }) => !chosen.has(id));
  if (moved.length === 0 || rest.length === 0) return new Map();
  /** Between which of the others they go: as many of these lie below. */
  let below: number;
  if (step === 'to back') below = 0;
  else if (step === 'to front') below = rest.length;
  else if (step === 'forward') {
    const upmost = all.findLastIndex(({ id }) => chosen.has(id));
    const next = rest.find(({ id }) => all.findIndex((each) => each.id === id) > upmost);
    below = next ? rest.indexOf(next) + 1 : rest.length;
  } else {
    const lowest = all.findIndex(({ id }) => chosen.has(id));
    const next = rest.findLast(({ id }) => all.findIndex((each) => each.id === id) < lowest);
    below = next ? rest.indexOf(next) : 0;
  }
  return ordersAt(
    rest,
    moved.map(({ id }) => id),
    below,
  );
}
