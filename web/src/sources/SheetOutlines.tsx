import type { VirtualItem } from '@tanstack/react-virtual';
import { type Area, intersection } from '@tether/core';
import type { LucideIcon } from 'lucide-react';
import type { ReactNode } from 'react';
import { boxOf, ROW_HEIGHT } from './grid-geometry.ts';

/** An area of the sheet with a name: a use of it, a block, a name, a table object. */
export interface Outline {
  key: string;
  area: Area;
  /** Null for one that is only drawn. */
  label: string | null;
  /** A use is drawn as rope, what could be used thin and dashed. */
  kind: 'use' | 'offer';
  /** Drawn stronger than others. */
  isChosen?: boolean;
  onChoose: () => void;
  /** Other ways to take it, as small buttons beside its label. */
  ways?: { label: string; icon: LucideIcon; onChoose: () => void }[];
  /** Drawn within it while it is in view: a chart over the cells. */
  content?: ReactNode;
}

interface Props {
  outlines: readonly Outline[];
  /** What the grid shows of the sheet, and what of it is filled. */
  drawable: Area;
  used: Area | null;
  /** Where columns begin, and where rows do. */
  offsets: readonly number[];
  lines: readonly number[];
  /** Rows in view. */
  seenRows: VirtualItem[];
}

/** The areas drawn over the cells of a grid, with their labels. */
export function SheetOutlines({ outlines, drawable, used, offsets, lines, seenRows }: Props) {
  return outlines.map((outline, index) => {
    const drawn = intersection(outline.area, drawable);
    if (!drawn) return null;
    const box = boxOf(drawn, offsets, lines);
    // Labels at the same corner stand one over the other.
    const before = outlines
      .slice(0, index)
      .filter(
        ({ area, label }) =>
          label !== null && area.top === outline.area.top && area.right === outline.area.right,
      );
    return (
      <div
        key={outline.key}
        className={`pointer-events-none absolute ${outline.kind === 'use' ? `border-2 border-rope ${outline.isChosen ? 'bg-rope/15' : ''}` : 'border border-dashed border-deep'}`}
        style={box}
      >
        {outline.content && isInView(drawn, seenRows) && (
          <div className="size-full bg-white">{outline.content}</div>
        )}
        {outline.label !== null && (
          <div
            className="absolute -left-px flex justify-end"
            style={labelPlace(
              lines[drawn.top - 1]!,
              outline.label,
              before.length,
              isAtFoot(outline.area, used) ? box.height : null,
            )}
          >
            <Label outline={outline} />
          </div>
        )}
      </div>
    );
  });
}

/** The label of an area, which takes it, and beside it other ways to take it. */
function Label({ outline }: { outline: Outline }) {
  const { label, kind, onChoose, ways = [] } = outline;
  return (
    <div
      className="pointer-events-auto sticky right-0 z-10 flex max-w-full text-sm text-white"
      // A press on a label is not the beginning of a range.
      onPointerDown={(event) => event.stopPropagation()}
    >
      <button
        type="button"
        onClick={onChoose}
        className={`max-w-[220px] truncate px-1.5 ${kind === 'use' ? 'bg-[#8a5518]' : 'bg-deep'}`}
        style={{ height: ROW_HEIGHT + 2, lineHeight: `${ROW_HEIGHT}px` }}
      >
        {label}
      </button>
      {ways.map(({ label: words, icon: Icon, onChoose: take }) => (
        <button
          key={words}
          type="button"
          aria-label={words}
          title={words}
          onClick={take}
          className="grid w-6 shrink-0 place-items-center border-l border-white/40 bg-deep"
          style={{ height: ROW_HEIGHT + 2 }}
        >
          <Icon size={14} aria-hidden />
        </button>
      ))}
    </div>
  );
}

function isInView({ top, bottom }: Area, rows: VirtualItem[]): boolean {
  return bottom > (rows[0]?.index ?? 0) && top <= (rows.at(-1)?.index ?? -1) + 1;
}

/** Pixels that a label beside its area takes at most. */
const LABEL_WIDTH = 220;
/** An area of so few rows is seen whole, and its label below it too. */
const FEW_ROWS = 3;
/** What a letter of it takes, about. */
const LETTER_WIDTH = 6;

/**
 * Labels stand below an area that ends where the sheet does (`below`: its height), where nothing is covered; otherwise above,
 * one over the other, as far as there are rows for them; then at its right side: so none covers a header while there is
 * room beside it.
 */
function labelPlace(
  top: number,
  label: string,
  before: number,
  below: number | null,
): { top: number; width: string } {
  const step = ROW_HEIGHT + 3;
  if (below !== null) return { top: below - 1 + before * step, width: 'calc(100% + 2px)' };
  const above = Math.floor((top + 3) / step);
  if (before < above) return { top: -(before + 1) * step, width: 'calc(100% + 2px)' };
  const width = Math.min(LABEL_WIDTH, LETTER_WIDTH * label.length + LETTER_WIDTH * 2);
  return { top: (before - above) * step - 1, width: `calc(100% + ${width}px)` };
}

/** Whether an area of a few rows ends where the sheet does. */
function isAtFoot({ top, bottom }: Area, used: Area | null): boolean {
  return used !== null && top > used.top && bottom >= used.bottom && bottom - top < FEW_ROWS;
}
