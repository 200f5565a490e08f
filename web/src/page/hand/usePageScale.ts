import { PIXELS_PER_MM, type Size } from '@tether/core';
import { type RefObject, useEffect, useState } from 'react';
import { useAppSelector } from '../../state/store.ts';

const SMALLEST_SCALE = 0.1;
const LARGEST_SCALE = 8;
/** Pixels around a page. */
export const AROUND_PAGE = 36;

/** How large a page is drawn in its pane: as was said, or so that it fits whole, or in its width. 1 is as in print. */
export function usePageScale(pane: RefObject<HTMLElement | null>, { width, height }: Size): number {
  const zoom = useAppSelector(({ workbench }) => workbench.zoom);
  const [room, setRoom] = useState<Size | null>(null);
  useEffect(() => {
    if (!pane.current) return;
    const observer = new ResizeObserver(([entry]) => {
      const { inlineSize, blockSize } = entry!.borderBoxSize[0]!;
      setRoom({ width: inlineSize, height: blockSize });
    });
    observer.observe(pane.current);
    return () => observer.disconnect();
  }, [pane]);
  if (typeof zoom === 'number') return within(zoom);
  if (room === null) return 1;
  const across = (room.width - 2 * AROUND_PAGE) / (width * PIXELS_PER_MM);
  const down = (room.height - 2 * AROUND_PAGE) / (height * PIXELS_PER_MM);
  return within(Math.floor((zoom === 'width' ? across : Math.min(across, down)) * 100) / 100);
}

export const within = (scale: number): number =>
  Math.min(LARGEST_SCALE, Math.max(SMALLEST_SCALE, scale));
