import { type Area, intersection } from '../sheet/address.ts';
import type { SheetMatching } from './align-sheets.ts';
import { APART, type OwnLines, type Place } from './place.ts';
import type { SheetPrint } from './sheet-print.ts';

/**
 * What counts for a place beside the share of its cells that are found, which is 1 at most. Set by trial (`anchor.test.ts`): what
 * stands around a place says more than where it stands, and no single sign outdoes the cells.
 */
const RANKS = {
  /** It is on the sheet where it was, or on the one that took its place. */
  sheetItself: 0.3,
  /** What stood right above, and right below it, stands there still. */
  lineAbove: 0.4,
  lineBelow: 0.2,
  /** The share of cells that it has in common with where it was. */
  sameCells: 0.8,
  /** It did not move; half as much when it moved by so many lines. */
  unmoved: 0.3,
} as const;

const HALF_MOVED = 10;

/** What counts for a line around it that stands a little further away than it did. */
const NEARLY = 0.5;

/** What puts one place before another: its content, its sheet's name, and that it stands as it stood to what is around it. */
export function rankOf(
  before: SheetPrint,
  area: Area,
  own: OwnLines,
  { sheet, area: now, share }: Place,
  { rows }: SheetMatching,
  isItself: boolean,
): number {
  const [above, below] = [own.top - 1, own.below];
  const near = (i: number, edgeBefore: number, edgeNow: number) => {
    if (i < 0 || i >= before.rows.length || rows.to[i]! < 0) return 0;
    const [was, is] = [before.rows[i]! - edgeBefore, sheet.rows[rows.to[i]!]! - edgeNow];
    const isNear = was < 0 === is < 0 && Math.abs(is) < Math.abs(was) + APART;
    return was === is ? 1 : isNear ? NEARLY : 0;
  };
  const moved = Math.abs(now.top - area.top) + Math.abs(now.left - area.left);
  return (
    share +
    (isItself ? RANKS.sheetItself : 0) +
    RANKS.lineAbove * near(above, area.top, now.top) +
    RANKS.lineBelow * near(below, area.bottom, now.bottom) +
    (isItself ? RANKS.sameCells * sharedPlaces(area, now) : 0) +
    RANKS.unmoved / (1 + moved / HALF_MOVED)
  );
}

/** How much two areas have in common, of all that either has. */
function sharedPlaces(a: Area, b: Area): number {
  const size = ({ top, bottom, left, right }: Area) => (bottom - top + 1) * (right - left + 1);
  const both = intersection(a, b);
  const common = both ? size(both) : 0;
  return common / (size(a) + size(b) - common);
}
