import type { Box, Point } from './box.ts';
import { type ASize, aSheet } from './paper.ts';

/** The sizes that drawing sheets have; ISO 5457:1999, 3.1. */
export const DRAWING_SIZES = ['A0', 'A1', 'A2', 'A3', 'A4'] as const satisfies readonly ASize[];
export type DrawingSize = (typeof DRAWING_SIZES)[number];

/** Millimetres between the trimmed edge and the frame: more at the left, for filing. ISO 5457:1999, 4.2. */
const BORDER = { left: 20, other: 10 };
/** Millimetres from the frame out to the border of the grid references. ISO 5457:1999, 4.4, figure 4. */
const GRID_STRIP = 5;
/** Length of a field of the grid references. ISO 5457:1999, 4.4. */
const FIELD = 50;
/** Millimetres that centring marks reach over the frame into the drawing. ISO 5457:1999, 4.3. */
const CENTRING = 10;

/** Line widths and letters of the frame in millimetres. ISO 5457:1999, 4.2 to 4.4. */
export const FRAME_LINES = { frame: 0.7, grid: 0.35, centring: 0.7, letters: 3.5 } as const;

/** Fields along the longer and along the shorter side. ISO 5457:1999, table 2. */
const FIELDS: Record<DrawingSize, { long: number; short: number }> = {
  A0: { long: 24, short: 16 },
  A1: { long: 16, short: 12 },
  A2: { long: 12, short: 8 },
  A3: { long: 8, short: 6 },
  A4: { long: 6, short: 4 },
};

/** The letters of fields from top to bottom; I and O are left out, since they read as figures. ISO 5457:1999, 4.4. */
const LETTERS = 'ABCDEFGHJKLMNPQRSTUVWXYZ';

/** A stretch of the border with its name. */
export interface Field {
  name: string;
  from: number;
  to: number;
}

/** What is drawn around a drawing, in millimetres of the trimmed sheet. */
export interface Frame {
  /** Inside the frame. */
  space: Box;
  /** The outer border of the grid references. */
  border: Box;
  /** Numbered, from left to right. */
  across: Field[];
  /** Lettered, from top to bottom. */
  down: Field[];
  /** Sides of the border that carry the names. */
  named: ('top' | 'right' | 'bottom' | 'left')[];
  /** Lines at the axes of the sheet. */
  centring: [Point, Point][];
  /** The trimmed sheet. */
  sheet: { width: number; height: number };
}

/** The frame of a drawing sheet with its borders, grid references and centring marks, by ISO 5457. */
export function frameOf(size: DrawingSize, isLandscape: boolean): Frame {
  const { width, height } = aSheet(size, isLandscape);
  const space = {
    x: BORDER.left,
    y: BORDER.other,
    width: width - BORDER.left - BORDER.other,
    height: height - 2 * BORDER.other,
  };
  const border = {
    x: space.x - GRID_STRIP,
    y: space.y - GRID_STRIP,
    width: space.width + 2 * GRID_STRIP,
    height: space.height + 2 * GRID_STRIP,
  };
  const count = FIELDS[size];
  const [overWidth, overHeight] = isLandscape
    ? [count.long, count.short]
    : [count.short, count.long];
  const [axisX, axisY] = [width / 2, height / 2];
  const [far, low] = [space.x + space.width, space.y + space.height];
  return {
    space,
    border,
    across: fields(overWidth, axisX, space.x, far, (at) => String(at + 1)),
    down: fields(overHeight, axisY, space.y, low, (at) => LETTERS[at]!),
    named: size === 'A4' ? ['top', 'right'] : ['top', 'right', 'bottom', 'left'],
    centring: [
      [
        { x: axisX, y: border.y },
        { x: axisX, y: space.y + CENTRING },
      ],
      [
        { x: far + GRID_STRIP, y: axisY },
        { x: far - CENTRING, y: axisY },
      ],
      [
        { x: axisX, y: low + GRID_STRIP },
        { x: axisX, y: low - CENTRING },
      ],
      [
        { x: border.x, y: axisY },
        { x: space.x + CENTRING, y: axisY },
      ],
    ],
    sheet: { width, height },
  };
}

/** Fields from the axis of the sheet outwards; those at the corners take what is left. */
function fields(
  count: number,
  axis: number,
  from: number,
  to: number,
  name: (at: number) => string,
): Field[] {
  const edge = (at: number) => axis + (at - count / 2) * FIELD;
  return Array.from({ length: count }, (_, at) => ({
    name: name(at),
    from: at === 0 ? from : edge(at),
    to: at === count - 1 ? to : edge(at + 1),
  }));
}

/** The field that a place lies in, letter first: `B3`. Places outside the frame belong to the nearest one. */
export function fieldAt({ across, down }: Frame, { x, y }: Point): string {
  const find = (all: Field[], at: number) => all.find(({ to }) => at <= to) ?? all.at(-1)!;
  return `${find(down, y).name}${find(across, x).name}`;
}
