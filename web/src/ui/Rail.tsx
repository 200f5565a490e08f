import { type KeyboardEvent, type ReactNode, useRef } from 'react';

/** The narrow rail of buttons beside a document. The arrows go along it, as in every toolbar. */
export function Rail({ label, children }: { label: string; children: ReactNode }) {
  const rail = useRef<HTMLDivElement>(null);
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!step || !rail.current) return;
    event.preventDefault();
    const buttons = [...rail.current.querySelectorAll<HTMLButtonElement>('button:enabled')];
    const here = buttons.indexOf(document.activeElement as HTMLButtonElement);
    buttons[(here + step + buttons.length) % buttons.length]?.focus();
  };
  return (
    <div
      ref={rail}
      role="toolbar"
      aria-label={label}
      aria-orientation="vertical"
      onKeyDown={onKeyDown}
      className="flex w-11 shrink-0 flex-col items-center gap-0.5 overflow-y-auto border-r border-hairline bg-white py-2"
    >
      {children}
    </div>
  );
}
