import { type Area, formatArea } from '@tether/core';
import { readingApi, useCellsQuery } from '../state/api.ts';
import { useAppDispatch } from '../state/store.ts';
import { useSettled } from '../ui/useSettled.ts';
import { type CarriedCells, writeCarried } from './carried.ts';

const SETTLE_MS = 150;

/**
 * Puts the selected cells of a sheet on the clipboard or on a drag. Their texts are fetched when the selection stands
 * still, so that they are there when they are wanted.
 */
export function useCellCopy(
  at: Omit<CarriedCells, 'area'>,
  hash: string,
  selection: Area | null,
): {
  put: (data: DataTransfer, area: Area) => void;
  copy: (data: DataTransfer, area: Area) => void;
} {
  const dispatch = useAppDispatch();
  const { sourceId, sheet } = at;
  const settled = useSettled(selection, SETTLE_MS);
  const query = (area: Area) => ({ sourceId, hash, sheet, reference: formatArea(area) });
  const { currentData } = useCellsQuery(query(settled ?? NOWHERE), { skip: settled === null });
  const taken = settled === selection ? currentData : undefined;
  const put = (data: DataTransfer, area: Area) => {
    const { html, text } = writeCarried({ ...at, area }, taken);
    data.setData('text/html', html);
    data.setData('text/plain', text);
  };
  const copy = (data: DataTransfer, area: Area) => {
    put(data, area);
    // Whoever copies faster than the texts come gets them a moment later, where the browser allows that.
    if (taken || !navigator.clipboard?.write) return;
    const written = dispatch(
      readingApi.endpoints.cells.initiate(query(area), { subscribe: false }),
    ).then((fetched) => writeCarried({ ...at, area }, fetched.data));
    const part = (kind: 'html' | 'text', type: string) =>
      written.then((each) => new Blob([each[kind]], { type }));
    void navigator.clipboard
      .write([
        new ClipboardItem({
          'text/html': part('html', 'text/html'),
          'text/plain': part('text', 'text/plain'),
        }),
      ])
      // The browser does not allow it: our own documents know from where they come all the same.
      .catch(() => undefined);
  };
  return { put, copy };
}

const NOWHERE: Area = { top: 1, left: 1, bottom: 1, right: 1 };
