import type { Area, CellAddress } from '@tether/core';
import type { ClipboardEvent, KeyboardEvent } from 'react';
import type { Entering } from './useEntering.ts';

/** What keys and the clipboard do to the picked cell of a grid; `press` says whether the key meant that. */
export function useEntryKeys(
  entering: Entering | null,
  at: CellAddress | null,
  selection: Area | null,
) {
  const area =
    selection ?? (at && { top: at.row, left: at.column, bottom: at.row, right: at.column });
  const press = (event: KeyboardEvent): boolean => {
    if (!entering) return false;
    const { key, ctrlKey, metaKey, altKey } = event;
    if ((ctrlKey || metaKey) && !altKey) {
      const letter = key.toLowerCase();
      if (letter === 'z') void entering.undo();
      else if (letter === 'd' && area) void entering.fillDown(area);
      else return false;
    } else if (!at || !area || ctrlKey || metaKey || altKey) return false;
    else if (key === 'Enter' || key === 'F2') entering.open(at, null);
    else if (key === 'Delete' || key === 'Backspace') void entering.clear(area);
    else if (key.length === 1) entering.open(at, key);
    else return false;
    event.preventDefault();
    return true;
  };
  const paste = (event: ClipboardEvent) => {
    if (!entering || !at) return;
    const text = event.clipboardData.getData('text/plain');
    if (text === '') return;
    event.preventDefault();
    void entering.paste(at, text);
  };
  return { press, paste };
}
