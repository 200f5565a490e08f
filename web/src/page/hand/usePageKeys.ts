import type { KeyboardEvent } from 'react';
import { cellKey, cellToType, filledDown } from '../../documents/editing/cell-to-type.ts';
import { useAppDispatch, useAppStore } from '../../state/store.ts';
import { cellOpened, cellPicked, lettersRefused } from '../../state/workbench-slice.ts';
import type { PageSurface } from '../surface/page-surface.ts';

const STEPS: Record<string, { x: number; y: number }> = {
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
};
/** Millimetres that an arrow key moves: usually, with Shift, with Alt. */
const NUDGE = { usual: 1, far: 10, near: 0.1 };

/** What keys do on a page: move, delete, copy what is chosen; in a cell that may be typed in what they do in any grid. */
export function usePageKeys(surface: PageSurface, documentId: string) {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  return (event: KeyboardEvent) => {
    const { key, shiftKey, altKey } = event;
    const isCommand = event.ctrlKey || event.metaKey;
    const done = () => event.preventDefault();
    if (isCommand) {
      switch (key.toLowerCase()) {
        case 'a':
          done();
          surface.shown.choose(surface.shown.thingsHere().map(({ id }) => id));
          return;
        case 'd': {
          done();
          const filled = filledDown(store.getState(), documentId);
          if (filled) dispatch(cellOpened(filled));
          else surface.steps.duplicate();
          return;
        }
        case 'g':
          done();
          if (shiftKey) surface.steps.ungroup();
          else surface.steps.group();
          return;
        default:
          return;
      }
    }
    const act = altKey || shiftKey ? null : cellKey(store.getState(), documentId, key);
    if (act) {
      done();
      dispatch('pick' in act ? cellPicked(act.pick) : cellOpened(act.open));
      return;
    }
    const step = STEPS[key];
    if (step) {
      done();
      const by = shiftKey ? NUDGE.far : altKey ? NUDGE.near : NUDGE.usual;
      surface.steps.moveChosen({ x: step.x * by, y: step.y * by }, 'nudge');
      return;
    }
    if (key === 'Delete' || key === 'Backspace') {
      done();
      surface.steps.removeChosen();
      return;
    }
    if (key === 'PageDown' || key === 'PageUp') {
      done();
      const pages = surface.pages.pages();
      const here = pages.findIndex(({ id }) => id === surface.shown.page().id);
      const next = pages[here + (key === 'PageDown' ? 1 : -1)];
      if (next) surface.shown.showPage(next.id);
      return;
    }
    if (key.length === 1 && !altKey && surface.shown.chosenObject() !== null) {
      done();
      const open = cellToType(store.getState(), documentId);
      dispatch(open ? cellOpened({ ...open, letters: key }) : lettersRefused());
    }
  };
}
