import {
  type Area,
  type Band,
  digitWidth,
  type Letters,
  parseReference,
  type Snapshot,
} from '@tether/core';
import { type Attributes, scanXml, truth } from '../xml.ts';

/** A run of columns with the same width; wide runs are kept as runs, since one may span the whole sheet. */
interface ColumnRun {
  from: number;
  to: number;
  size?: number;
  hidden?: true;
}

/** What a sheet says around its cells. */
export interface SheetFrame {
  columnRuns: ColumnRun[];
  merges: Area[];
  defaults: Snapshot['defaults'];
}

/** Width that a column has when nothing is said: 64 pixels at the usual letters (common practice). */
const USUAL_WIDTH = 9.140625;
const USUAL_HEIGHT = 15;

/** Reads columns, default sizes and merged cells out of a worksheet part, with or without its rows (ECMA-376 Part 1, 18.3). */
export function parseSheetFrame(bytes: Buffer, normal: Letters): SheetFrame {
  const frame: SheetFrame = {
    columnRuns: [],
    merges: [],
    defaults: {
      columnWidth: USUAL_WIDTH,
      rowHeight: USUAL_HEIGHT,
      digitWidth: digitWidth(normal.family, normal.size),
    },
  };
  scanXml(bytes, {
    open(name, attributes) {
      if (name === 'col') frame.columnRuns.push(columnRun(attributes));
      else if (name === 'mergeCell') {
        const merge = parseReference(attributes.ref ?? '');
        if (merge.ok) frame.merges.push(merge.value.area);
      } else if (name === 'sheetFormatPr') {
        const { defaultColWidth, defaultRowHeight } = attributes;
        if (defaultColWidth) frame.defaults.columnWidth = Number(defaultColWidth);
        if (defaultRowHeight) frame.defaults.rowHeight = Number(defaultRowHeight);
      }
    },
  });
  return frame;
}

/** The columns of the area that differ from the usual one. */
export function columnBands({ columnRuns }: SheetFrame, area: Area): Band[] {
  const bands: Band[] = [];
  for (const { from, to, size, hidden } of columnRuns) {
    for (let index = Math.max(from, area.left); index <= Math.min(to, area.right); index++) {
      bands.push({
        index,
        ...(size === undefined ? {} : { size }),
        ...(hidden ? { hidden } : {}),
      });
    }
  }
  return bands;
}

/** A row that differs from the usual one, or null. */
export function rowBand(
  index: number,
  height: string | undefined,
  hidden: string | undefined,
  usual: number,
): Band | null {
  const size = height === undefined || Number(height) === usual ? undefined : Number(height);
  const isHidden = truth(hidden);
  if (size === undefined && !isHidden) return null;
  return { index, ...(size === undefined ? {} : { size }), ...(isHidden ? { hidden: true } : {}) };
}

function columnRun({ min, max, width, hidden }: Attributes): ColumnRun {
  return {
    from: Number(min),
    to: Number(max),
    ...(width === undefined ? {} : { size: Number(width) }),
    ...(truth(hidden) ? { hidden: true as const } : {}),
  };
}
