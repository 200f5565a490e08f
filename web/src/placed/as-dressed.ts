import { type DocumentLook, PIXELS_PER_MM, type TableLook, type TableWish } from '@tether/core';
import type { Dressing } from '@tether/documents';

/** Pixels there are for an object: across, and down a page. */
export interface Room {
  width: number;
  height: number;
  /** Whether a table that is too high stands in parts side by side; else it goes on on the next page. */
  isLast?: boolean;
  /** How many of these parts stand at places of their own. */
  apart?: number;
}

const AS_SOURCE: TableLook = {};
const NONE: NonNullable<Dressing['overrides']> = [];
/** Pixels of a chart’s height when nobody set it. */
const CHART_HEIGHT = 300;

/** How a table stands in its room as it is dressed. */
export function tableWish(dressing: Dressing, document: DocumentLook, room: Room): TableWish {
  const {
    table: look = AS_SOURCE,
    overrides = NONE,
    beside = room.isLast ? 'fitting' : 1,
  } = dressing;
  const size = { room: room.width, pageHeight: room.height };
  const apart = room.apart ? { apart: room.apart } : {};
  return { look, document, overrides, beside, ...size, ...apart };
}

/** Pixels of a chart as it is dressed: as wide as the text unless somebody said so, never more than its page. */
export function chartSize({ width, height }: Dressing, room: Room): Room {
  return {
    width: Math.min(room.width, width ? width * PIXELS_PER_MM : room.width),
    height: Math.min(room.height, height ? height * PIXELS_PER_MM : CHART_HEIGHT),
  };
}

/** Pixels of a facsimile: as one piece it must fit its page, whatever was asked for in millimetres. */
export function facsimileSize(natural: Room, wanted: number | undefined, room: Room): Room {
  const asked = wanted === undefined ? natural.width : wanted * PIXELS_PER_MM;
  const highest = (room.height * natural.width) / Math.max(1, natural.height);
  const width = Math.min(asked, room.width, highest);
  return { width, height: (width * natural.height) / Math.max(1, natural.width) };
}
