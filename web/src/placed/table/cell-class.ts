import { type Cell, type Dress, usualAlignment } from '@tether/core';
import type { CSSProperties } from 'react';
import { cellStyle } from './letters.ts';

/** Classes by what they say, for every table on the page: a cell has one name instead of twenty properties. */
const names = new Map<string, string>();
const known = new WeakMap<Dress, Map<string, string>>();
let sheet: CSSStyleSheet | null = null;

/** What every cell of a table keeps free at its sides, and whether its lines are broken. */
export interface CellRoom {
  x: number;
  y: number;
  wraps: boolean;
}

/** The class of a cell with this dress; what is the cell's own alone (its ink, its bar) is not in it. */
export function cellClass(
  cell: Cell | undefined,
  dress: Dress | undefined,
  { x, y, wraps }: CellRoom,
): string {
  const room = `${usualAlignment(cell)} ${x} ${y} ${wraps}`;
  const own = dress && known.get(dress)?.get(room);
  if (own) return own;
  const { ink: _, ...plain } = cell ?? ({} as Cell);
  const name = classOf({
    paddingTop: y,
    paddingBottom: y,
    paddingLeft: x,
    paddingRight: x,
    ...cellStyle(cell && (plain as Cell), dress, x),
    ...(wraps ? { whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' } : {}),
  });
  if (dress) {
    if (!known.has(dress)) known.set(dress, new Map());
    known.get(dress)!.set(room, name);
  }
  return name;
}

function classOf(style: CSSProperties): string {
  const rules = Object.entries(style)
    .filter(([, value]) => value !== undefined)
    .map(([key, value]) => {
      const property = key.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);
      return `${property}:${typeof value === 'number' && key.startsWith('padding') ? `${value}px` : value}`;
    })
    .join(';');
  const found = names.get(rules);
  if (found) return found;
  const name = `cell-${names.size}`;
  names.set(rules, name);
  if (!sheet) {
    sheet = new CSSStyleSheet();
    document.adoptedStyleSheets.push(sheet);
  }
  sheet.insertRule(`.${name}{${rules}}`, sheet.cssRules.length);
  return name;
}
