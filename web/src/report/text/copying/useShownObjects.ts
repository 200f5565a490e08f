import { headerOf, type TableFace } from '@tether/core';
import type { Placement } from '@tether/documents';
import { type RefObject, useCallback } from 'react';
import { tethersApi } from '../../../state/api.ts';
import { useAppStore } from '../../../state/store.ts';
import type { ShownObject } from './copy-out.ts';

/** Gives what an object shows now, out of what this screen knows already: copying waits for nothing. */
export function useShownObjects(
  documentId: string,
  /** How each table came out, by tether. */
  faces: ReadonlyMap<string, TableFace>,
  /** What the text is drawn in. */
  root: RefObject<{ view: { dom: HTMLElement } } | null>,
) {
  const store = useAppStore();
  return useCallback(
    ({ tetherId, copyOf, form }: Placement): ShownObject | null => {
      const state = store.getState();
      const { data: tethers = [] } = tethersApi.endpoints.tethers.select(documentId)(state);
      const tether =
        tethers.find(({ id }) => id === tetherId) ?? tethers.find(({ id }) => id === copyOf);
      if (!tether) return null;
      const { data: taken } = tethersApi.endpoints.snapshot.select(tether.shown)(state);
      const face = form === 'table' ? faces.get(tetherId) : undefined;
      const snapshot = face?.snapshot ?? taken;
      const header = snapshot && headerOf(snapshot);
      const canvas = root.current?.view.dom.querySelector<HTMLCanvasElement>(
        `[data-tether-id="${CSS.escape(tetherId)}"] canvas`,
      );
      const isFace = form === 'table' ? face !== undefined : form !== 'chart' || canvas !== null;
      return {
        tether,
        snapshot,
        isDrawn: snapshot !== undefined && isFace,
        headRows: face?.layout.headerRows ?? (header ? header.title + header.rows : 0),
        picture: form === 'chart' && canvas ? pictureOf(canvas) : null,
      };
    },
    [store, documentId, faces, root],
  );
}

/** A drawn chart on white, since it stands on paper here and its own ground is clear. */
function pictureOf(drawn: HTMLCanvasElement): string | null {
  const picture = document.createElement('canvas');
  picture.width = drawn.width;
  picture.height = drawn.height;
  const context = picture.getContext('2d');
  if (!context || drawn.width === 0 || drawn.height === 0) return null;
  context.fillStyle = '#FFFFFF';
  context.fillRect(0, 0, drawn.width, drawn.height);
  context.drawImage(drawn, 0, 0);
  return picture.toDataURL('image/png');
}
