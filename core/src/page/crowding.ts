import { type Box, doOverlap, isWithin } from './box.ts';

/** What is wrong with where something stands. */
export type Crowding =
  | { id: string; kind: 'off the page' }
  | { id: string; kind: 'over the frame' }
  /** It and another cover each other. */
  | { id: string; kind: 'over another'; other: string };

/** Millimetres that do not count: borders that lie on one line. */
const SLACK = 0.3;

/**
 * Which objects stand where they should not: off their page, over its frame, over each other or over something that is kept
 * free, such as the title block. Each pair is told once, by the object that comes later.
 */
export function crowdingOf(
  objects: readonly { id: string; box: Box }[],
  kept: readonly { id: string; box: Box }[],
  { page, space }: { page: Box; space: Box },
): Crowding[] {
  return objects.flatMap(({ id, box }, at): Crowding[] => {
    const beyond: Crowding[] = !isWithin(box, page, SLACK)
      ? [{ id, kind: 'off the page' }]
      : !isWithin(box, space, SLACK)
        ? [{ id, kind: 'over the frame' }]
        : [];
    const over = [...objects.slice(0, at), ...kept]
      .filter((other) => other.id !== id && doOverlap(box, other.box, SLACK))
      .map((other): Crowding => ({ id, kind: 'over another', other: other.id }));
    return [...beyond, ...over];
  });
}
