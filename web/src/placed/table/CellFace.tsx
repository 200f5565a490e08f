import { BAR_AXIS, barEnd, type Cell } from '@tether/core';
import type { CSSProperties } from 'react';
import { ConditionIcon } from './ConditionIcon.tsx';
import { lettersStyle } from './letters.ts';

/** What stands in a cell: its icon, and its text in the parts that have letters of their own. */
export function CellFace(props: {
  cell: Cell;
  /** Its text as it fits its place; the whole text is then said beside it. */
  shown?: string;
  /** Links lead where they lead. */
  isLinked?: boolean;
}) {
  const { cell, isLinked = false, shown = cell.text } = props;
  const text =
    shown !== cell.text ? (
      <ShortText text={shown} whole={cell.text} />
    ) : cell.runs ? (
      cell.runs.map((run, index) => (
        <span
          key={index}
          style={{
            ...(run.letters ? lettersStyle(run.letters) : {}),
            ...(run.shift ? { verticalAlign: run.shift, fontSize: '70%' } : {}),
          }}
        >
          {run.text}
        </span>
      ))
    ) : (
      cell.text
    );
  const address = isLinked ? outsideAddress(cell.link) : null;
  return (
    <>
      {cell.icon && (
        <span className="float-left mr-1">
          <ConditionIcon icon={cell.icon} />
        </span>
      )}
      {address ? (
        <a href={address} target="_blank" rel="noreferrer" className="underline">
          {text}
        </a>
      ) : (
        text
      )}
    </>
  );
}

/** A number that is rounded into its place, or too long for it: the whole of it on hovering and for screen readers. */
function ShortText({ text, whole }: { text: string; whole: string }) {
  return (
    <span className="relative" title={whole} data-short>
      <span aria-hidden>{text}</span>
      <span className="sr-only">{whole}</span>
    </span>
  );
}

/** The address of a link that leads to a page or a letter box; nothing else is opened from a document. */
function outsideAddress(link: string | undefined): string | null {
  return link !== undefined && /^(https?:|mailto:)/i.test(link) ? link : null;
}

/** The bar of a cell as its background, over its fill. */
export function barStyle({ bar }: Cell): CSSProperties {
  if (!bar) return {};
  const { from, to, colour, axis } = bar;
  const at = (share: number) => `${(share * 100).toFixed(2)}%`;
  const far = barEnd(bar);
  const stripes = [
    `linear-gradient(to right, transparent ${at(from)}, ${colour} ${at(from)}, ${far} ${at(to)}, transparent ${at(to)})`,
  ];
  if (axis !== undefined) {
    stripes.unshift(
      `linear-gradient(to right, transparent calc(${at(axis)} - 0.5px), ${BAR_AXIS} calc(${at(axis)} - 0.5px), ${BAR_AXIS} calc(${at(axis)} + 0.5px), transparent calc(${at(axis)} + 0.5px))`,
    );
  }
  return { backgroundImage: stripes.join(', ') };
}
