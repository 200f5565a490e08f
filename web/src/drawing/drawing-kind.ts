import { aSheet, type Box, bottomOf, frameOf, rightOf } from '@tether/core';
import {
  type AnyPage,
  type DrawingSettings,
  type DrawingSheet,
  drawingSettingsSchema,
  sheetSchema,
  TITLE_BLOCK,
  titleCells,
} from '@tether/documents';
import type { PageKind } from '../page/surface/page-kind.ts';

/** A sheet of a drawing; one that says nothing that is understood is as usual. */
export function sheetOf(page: AnyPage): DrawingSheet {
  const read = sheetSchema.safeParse(page);
  return read.success ? read.data : { ...page, name: 'Sheet', size: 'A3', isLandscape: true };
}

/** What is settled for a drawing, as it lies in its shared settings. */
export function settingsOf(shared: Record<string, unknown>): DrawingSettings {
  return drawingSettingsSchema.parse(shared);
}

/** Where the title block of a sheet stands: at the lower right of the drawing space. */
export function titleBlockBox({
  size,
  isLandscape,
}: Pick<DrawingSheet, 'size' | 'isLandscape'>): Box {
  const { space } = frameOf(size, isLandscape);
  return {
    x: rightOf(space) - TITLE_BLOCK.width,
    y: bottomOf(space) - TITLE_BLOCK.height,
    ...TITLE_BLOCK,
  };
}

/** Where an object stands in a field of the title block, below the field's name. */
const FIELD_INSET = { x: 1, y: 3.6 };

/** Drawings, for the surface that pages share. */
export const DRAWING: PageKind = {
  name: 'drawing',
  hasPlans: true,
  size(page) {
    const { size, isLandscape } = sheetOf(page);
    return aSheet(size, isLandscape);
  },
  space(page) {
    const { size, isLandscape } = sheetOf(page);
    return frameOf(size, isLandscape).space;
  },
  spaceName: 'frame',
  kept: (page) => [{ id: 'the title block', box: titleBlockBox(sheetOf(page)) }],
  look: (settings) => settingsOf(settings).look,
  fields(page) {
    const block = titleBlockBox(sheetOf(page));
    return new Map(
      titleCells().map(({ cell, x, y, width, height }) => [
        cell,
        {
          x: block.x + x + FIELD_INSET.x,
          y: block.y + y + FIELD_INSET.y,
          width: width - 2 * FIELD_INSET.x,
          height: height - FIELD_INSET.y - 0.5,
        },
      ]),
    );
  },
};
