import { formatCell } from '@tether/core';
import { type CSSProperties, useEffect, useRef, useState } from 'react';
import type { Entering } from './useEntering.ts';

/** The field over a cell of the grid that somebody types in. `stood` is what stands there, as it would be typed. */
export function EntryField(props: {
  entering: Entering;
  cell: NonNullable<Entering['opened']>;
  stood: string;
  style: CSSProperties;
  /** The keys go back to the grid, so many cells away. */
  onLeft: (down: number, across: number) => void;
}) {
  const { entering, cell, stood, style, onLeft } = props;
  const [typed, setTyped] = useState(cell.letters ?? stood);
  const input = useRef<HTMLInputElement>(null);
  const isClosed = useRef(false);
  useEffect(() => {
    const field = input.current;
    field?.focus({ preventScroll: true });
    field?.setSelectionRange(field.value.length, field.value.length);
  }, []);
  const leave = (down: number, across: number) => {
    isClosed.current = true;
    entering.close();
    onLeft(down, across);
  };
  // It goes on at once: where the next cell is typed in, nothing waits for this one.
  const save = () => {
    if (typed !== stood || cell.letters === typed) entering.enter(cell, typed);
  };
  return (
    <input
      ref={input}
      aria-label={`Content of ${formatCell(cell)}`}
      aria-busy={entering.isBusy}
      value={typed}
      spellCheck={false}
      onChange={(event) => setTyped(event.target.value)}
      onPointerDown={(event) => event.stopPropagation()}
      onPaste={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        event.stopPropagation();
        const { key, shiftKey } = event;
        const back = shiftKey ? -1 : 1;
        if (key === 'Escape') {
          const refused = entering.refused.find(
            ({ cells: [first] }) => first?.row === cell.row && first.column === cell.column,
          );
          if (refused) entering.leave(refused);
          leave(0, 0);
        } else if (key === 'Enter' || key === 'Tab') {
          const isDown = key === 'Enter';
          leave(isDown ? back : 0, isDown ? 0 : back);
          save();
        } else return;
        event.preventDefault();
      }}
      // Who goes elsewhere has not thrown away what was typed: it is taken down, or says why it cannot be.
      onBlur={() => {
        if (isClosed.current) return;
        isClosed.current = true;
        entering.close();
        save();
      }}
      className={`absolute z-30 border-2 border-edited bg-white px-[2px] outline-none ${typed.startsWith('=') ? 'font-mono text-[12px]' : ''}`}
      style={{ ...style, minWidth: Math.max(Number(style.width), typed.length * 7.5 + 12) }}
    />
  );
}
