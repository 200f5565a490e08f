import type { CellIcon } from '@tether/core';
import type { ReactNode } from 'react';

/** From the lowest to the highest: what asks for attention, what may wait, what is well. */
const SCALE = ['#B3261E', '#A86A10', '#1F7A5C'];
const GREYS = ['#5B6F77', '#5B6F77', '#5B6F77'];

/** How many steps a set has: the number its name begins with (ECMA-376 Part 1, 18.18.42). */
function stepsOf(set: string): number {
  return Math.min(5, Math.max(3, Number.parseInt(set, 10) || 3));
}

function colourAt(share: number, colours: readonly string[]): string {
  return colours[Math.round(share * (colours.length - 1))]!;
}

/** The mark that a conditional format sets beside a value, drawn by the family of its set. */
export function ConditionIcon({ icon }: { icon: CellIcon }) {
  const steps = stepsOf(icon.set);
  const share = icon.index / (steps - 1);
  return (
    <svg
      width="12"
      height="12"
      viewBox="0 0 12 12"
      role="img"
      aria-label={`step ${icon.index + 1} of ${steps}`}
      className="inline-block shrink-0 align-[-1px]"
    >
      {shapeOf(icon.set, share, steps)}
    </svg>
  );
}

function shapeOf(set: string, share: number, steps: number): ReactNode {
  const colour = colourAt(share, /Gray/.test(set) ? GREYS : SCALE);
  if (/Arrow|Triangle/.test(set)) {
    // Straight down at the lowest, straight up at the highest.
    return (
      <path
        d="M6 1 10 6H7.4v5H4.6V6H2Z"
        fill={colour}
        transform={`rotate(${180 - share * 180} 6 6)`}
      />
    );
  }
  if (/Rating|Quarter|Boxes|Stars/.test(set)) {
    // As much of the column is filled as the step says.
    const height = 1 + share * 9;
    return (
      <>
        <rect x="2.5" y="1" width="7" height="10" fill="#fff" stroke="#5B6F77" />
        <rect x="3" y={10.5 - height} width="6" height={height} fill="#0B4F5C" />
      </>
    );
  }
  if (/Flag/.test(set)) {
    return (
      <>
        <path d="M3 1v10.5" stroke="#10242B" strokeWidth="1.2" />
        <path d="M3.4 1.4H10L8.4 4 10 6.6H3.4Z" fill={colour} />
      </>
    );
  }
  if (/Sign|Symbol/.test(set) && share < 1) {
    return share === 0 ? (
      <path d="M2.5 2.5l7 7m0-7l-7 7" stroke={colour} strokeWidth="2" />
    ) : (
      <path d="M6 1.5v6m0 1.6v1.6" stroke={colour} strokeWidth="2" />
    );
  }
  if (/Sign|Symbol/.test(set)) {
    return <path d="M1.5 6.5l3 3 6-7" stroke={colour} strokeWidth="2" fill="none" />;
  }
  if (/Black/.test(set)) {
    return (
      <circle
        cx="6"
        cy="6"
        r="4.5"
        fill={colourAt(share, ['#10242B', '#5B6F77', '#D4A59A', '#B3261E'])}
      />
    );
  }
  return <circle cx="6" cy="6" r={3 + (steps > 3 ? share : 1.5)} fill={colour} />;
}
