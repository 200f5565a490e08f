import { type Point, roundMm } from '@tether/core';
import { type Thing, USUAL_COLOUR } from '@tether/documents';
import { viewAt } from '../plan/plans.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import type { Seen } from './hand.ts';

/** What the pointer does on the page. */
export type Tool = 'choose' | 'text' | 'line' | 'rectangle' | 'ellipse' | 'arc' | 'dimension';

/** How something is drawn that nobody said more of. */
const INK = { line: 0.35, lineKind: 'continuous', colour: USUAL_COLOUR } as const;

/** What was drawn: a thing to be added, the name of a text to be written in, or null where nothing came of it. */
export function drawnThing(
  tool: Tool,
  surface: PageSurface,
  from: Point,
  { frame, line }: Seen,
  isMoved: boolean,
): Thing | string | null {
  if (tool === 'text') {
    const size = isMoved && frame && frame.width > 5 ? frame : null;
    return size
      ? surface.addText('', size, { width: size.width, height: Math.max(6, size.height) })
      : surface.addText('', from);
  }
  if (!isMoved || !line || !frame) return null;
  const base = { ...surface.shown.fresh(), isLocked: false, turn: 0, group: null };
  const [a, b] = line;
  const to = { x: b.x - a.x, y: b.y - a.y };
  switch (tool) {
    case 'line':
      return {
        ...{ ...base, ...INK, kind: 'line', x: a.x, y: a.y },
        ...{ points: [{ x: 0, y: 0 }, to], isClosed: false, fill: 'none' },
      };
    case 'arc': {
      // Until somebody says otherwise it bows a quarter of its chord.
      const bow = roundMm(Math.hypot(to.x, to.y) / 4);
      return { ...base, ...INK, kind: 'arc', x: a.x, y: a.y, to, bow };
    }
    case 'dimension': {
      const view = viewAt(surface, a);
      const isInView = view !== null && viewAt(surface, b)?.id === view.id;
      return {
        ...{ ...base, ...INK, kind: 'dimension', line: 0.25, x: a.x, y: a.y, to, beside: -8 },
        view: isInView ? view.id : null,
      };
    }
    case 'rectangle':
    case 'ellipse':
      return { ...base, ...INK, kind: tool, ...frame, fill: 'none' };
    default:
      return null;
  }
}

/** A line through points that were clicked one after the other; null where they are fewer than two. */
export function pathThing(
  path: readonly Point[],
  surface: PageSurface,
  isClosed: boolean,
): Thing | null {
  // The second click of a double click comes where the first one was.
  const points = path.filter(
    ({ x, y }, at) => at === 0 || x !== path[at - 1]!.x || y !== path[at - 1]!.y,
  );
  const [first] = points;
  if (!first || points.length < 2) return null;
  return {
    ...{ ...surface.shown.fresh(), isLocked: false, turn: 0, group: null, kind: 'line', ...INK },
    ...{ x: first.x, y: first.y, isClosed: isClosed && points.length > 2, fill: 'none' },
    points: points.map(({ x, y }) => ({ x: x - first.x, y: y - first.y })),
  };
}
