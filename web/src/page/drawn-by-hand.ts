import type { Point } from '@tether/core';
import type { Thing } from '@tether/documents';
import type { Seen } from './hand.ts';
import type { PageSurface } from './page-surface.ts';
import { viewAt } from './plans.ts';

/** What the pointer does on the page. */
export type Tool = 'choose' | 'text' | 'line' | 'rectangle' | 'ellipse' | 'dimension';

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
  const base = { ...surface.fresh(), isLocked: false, turn: 0, group: null };
  const ink = { line: 0.35, lineKind: 'continuous', colour: '#10242b' } as const;
  const [a, b] = line;
  const to = { x: b.x - a.x, y: b.y - a.y };
  switch (tool) {
    case 'line':
      return {
        ...{ ...base, ...ink, kind: 'line', x: a.x, y: a.y },
        ...{ points: [{ x: 0, y: 0 }, to], isClosed: false, fill: 'none' },
      };
    case 'dimension': {
      const view = viewAt(surface, a);
      const isInView = view !== null && viewAt(surface, b)?.id === view.id;
      return {
        ...{ ...base, ...ink, kind: 'dimension', line: 0.25, x: a.x, y: a.y, to, beside: -8 },
        view: isInView ? view.id : null,
      };
    }
    case 'rectangle':
    case 'ellipse':
      return { ...base, ...ink, kind: tool, ...frame, fill: 'none' };
    default:
      return null;
  }
}
