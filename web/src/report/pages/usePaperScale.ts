import { type RefObject, useEffect, useState } from 'react';
import { useAppSelector } from '../../state/store.ts';

const SMALLEST = 0.3;

/** How large the paper is drawn in its pane: as was said, or as wide as there is room and never larger than in print. */
export function usePaperScale(pane: RefObject<HTMLElement | null>, paperWidth: number): number {
  const zoom = useAppSelector(({ workbench }) => workbench.zoom);
  const [room, setRoom] = useState<number | null>(null);
  useEffect(() => {
    if (!pane.current) return;
    const observer = new ResizeObserver(([entry]) => setRoom(entry!.contentRect.width));
    observer.observe(pane.current);
    return () => observer.disconnect();
  }, [pane]);
  if (typeof zoom === 'number') return zoom;
  if (room === null) return 1;
  return Math.min(1, Math.max(SMALLEST, Math.floor((room / paperWidth) * 100) / 100));
}
