import { type RefObject, useEffect, useLayoutEffect, useRef } from 'react';
import { useAppDispatch } from '../../state/store.ts';
import { zoomed } from '../../state/workbench-slice.ts';
import { within } from './usePageScale.ts';

/** Turning the wheel with Ctrl makes the page larger or smaller around the pointer. */
export function useZoomByWheel(
  pane: RefObject<HTMLElement | null>,
  canvas: RefObject<HTMLElement | null>,
  scale: number,
): void {
  const dispatch = useAppDispatch();
  const kept = useRef<{ clientX: number; clientY: number; x: number; y: number } | null>(null);
  const scaleNow = useRef(scale);
  scaleNow.current = scale;
  useEffect(() => {
    const element = pane.current;
    if (!element) return;
    const turn = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.metaKey) return;
      event.preventDefault();
      const box = canvas.current!.getBoundingClientRect();
      const { clientX, clientY } = event;
      kept.current = {
        ...{ clientX, clientY },
        x: (clientX - box.left) / box.width,
        y: (clientY - box.top) / box.height,
      };
      dispatch(zoomed(within(scaleNow.current * Math.exp(-event.deltaY / 400))));
    };
    // Not passive: else the browser makes the whole page larger.
    element.addEventListener('wheel', turn, { passive: false });
    return () => element.removeEventListener('wheel', turn);
  }, [pane, canvas, dispatch]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the pane is scrolled after each change of scale
  useLayoutEffect(() => {
    const place = kept.current;
    kept.current = null;
    if (!place || !pane.current || !canvas.current) return;
    const box = canvas.current.getBoundingClientRect();
    pane.current.scrollLeft += box.left + place.x * box.width - place.clientX;
    pane.current.scrollTop += box.top + place.y * box.height - place.clientY;
  }, [scale]);
}
