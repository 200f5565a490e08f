import type { Area } from '@tether/core';
import { type RefObject, useEffect, useRef } from 'react';

/**
 * Copies the selected cells while the grid has the keyboard. A copy goes by what is selected as text, which may still be
 * elsewhere: who works on the grid means its cells.
 */
export function useGridCopy(
  grid: RefObject<HTMLElement | null>,
  selection: Area | null,
  onCopy: ((data: DataTransfer, area: Area) => void) | undefined,
): void {
  const copied = useRef<(data: DataTransfer) => void>(() => undefined);
  copied.current = (data) => selection && onCopy?.(data, selection);
  const mayCopy = onCopy !== undefined && selection !== null;
  useEffect(() => {
    if (!mayCopy) return;
    const copy = (event: ClipboardEvent) => {
      if (document.activeElement !== grid.current || !event.clipboardData) return;
      copied.current(event.clipboardData);
      event.preventDefault();
      event.stopPropagation();
    };
    document.addEventListener('copy', copy, { capture: true });
    return () => document.removeEventListener('copy', copy, { capture: true });
  }, [grid, mayCopy]);
}
