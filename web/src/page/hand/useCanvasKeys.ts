import type { KeyboardEvent, RefObject } from 'react';
import { useAppDispatch, useAppStore } from '../../state/store.ts';
import { cellPicked } from '../../state/workbench-slice.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import type { useHand } from './useHand.ts';

/** Keys of the canvas: Enter and Escape end what is under way, Enter writes in a text. All others go to `onKey`. */
export function useCanvasKeys(props: {
  canvas: RefObject<HTMLElement | null>;
  surface: PageSurface;
  hand: ReturnType<typeof useHand>;
  onWrite: (text: string) => void;
  onKey: (event: KeyboardEvent) => void;
}): (event: KeyboardEvent) => void {
  const { canvas, surface, hand, onWrite, onKey } = props;
  const { shown, newObjects } = surface;
  const dispatch = useAppDispatch();
  const store = useAppStore();
  /** One step back each time: from what is held, from a picked cell, from what is chosen. */
  const stepBack = () => {
    if (newObjects.waiting()) newObjects.putWaiting(null);
    else if (hand.isHolding()) hand.letGo();
    else if (store.getState().workbench.picked) dispatch(cellPicked(null));
    else shown.choose([]);
  };
  return (event) => {
    if (event.target !== canvas.current) return;
    const { key } = event;
    if (hand.path.points && (key === 'Enter' || key === 'Escape')) {
      event.preventDefault();
      if (key === 'Enter') hand.path.end(false);
      else hand.path.drop();
      return;
    }
    const [only, ...more] = shown.chosenThings();
    if (key === 'Escape') stepBack();
    else if (key === 'Enter' && only?.kind === 'text' && more.length === 0) {
      if (!shown.isFree(only)) return;
      event.preventDefault();
      onWrite(only.id);
    } else onKey(event);
  };
}
