/** A data field of a title block. */
interface FieldRule {
  /** What it is called on the screen. */
  name: string;
  /** Letters that it should not have more of, where the standard recommends a number. */
  most: number | null;
  /** Whether the standard wants it in every title block. */
  isNeeded: boolean;
}

/**
 * The data fields of title blocks by ISO 7200:2004, tables 1 to 3. Sheet number, number of sheets and paper size are known
 * from the sheet itself. The scale is no field of that standard; it stands in the block by common practice.
 */
export const TITLE_FIELDS = {
  owner: { name: 'Legal owner', most: null, isNeeded: true },
  number: { name: 'Identification number', most: 16, isNeeded: true },
  revision: { name: 'Revision', most: 2, isNeeded: false },
  date: { name: 'Date of issue', most: 10, isNeeded: true },
  title: { name: 'Title', most: 25, isNeeded: true },
  subtitle: { name: 'Supplementary title', most: 25, isNeeded: false },
  department: { name: 'Responsible department', most: 10, isNeeded: false },
  reference: { name: 'Technical reference', most: 20, isNeeded: false },
  approvedBy: { name: 'Approved by', most: 20, isNeeded: true },
  createdBy: { name: 'Created by', most: 20, isNeeded: true },
  documentType: { name: 'Document type', most: 30, isNeeded: true },
  status: { name: 'Document status', most: 20, isNeeded: false },
  language: { name: 'Language', most: 4, isNeeded: false },
  scale: { name: 'Scale', most: null, isNeeded: false },
} as const satisfies Record<string, FieldRule>;
export type TitleField = keyof typeof TITLE_FIELDS;

/** What the block shows besides its fields. */
export type TitleCell = TitleField | 'sheet';

/** Width of a title block in millimetres; ISO 7200:2004, 5.1. It stands at the lower right of the drawing space. */
export const TITLE_BLOCK = { width: 180, height: 42 } as const;

/** A cell of the block in millimetres from its upper left corner. */
export interface TitleCellPlace {
  cell: TitleCell;
  x: number;
  y: number;
  width: number;
  height: number;
  /** Height of the capitals of what it says. */
  letters: number;
}

/** Rows of the block from the top: height, letters, and cells with their widths. */
const ROWS: [height: number, letters: number, cells: [TitleCell, number][]][] = [
  [
    10,
    2.5,
    [
      ['department', 30],
      ['reference', 40],
      ['createdBy', 40],
      ['approvedBy', 40],
      ['scale', 30],
    ],
  ],
  [
    22,
    3.5,
    [
      ['owner', 70],
      ['title', 110],
    ],
  ],
  [
    10,
    2.5,
    [
      ['documentType', 40],
      ['status', 30],
      ['number', 40],
      ['revision', 14],
      ['date', 26],
      ['language', 12],
      ['sheet', 18],
    ],
  ],
];

/** Part of the title's cell that the supplementary title takes. */
const SUBTITLE = { y: 12, height: 10 };

/** Where every cell of the block stands. */
export function titleCells(): TitleCellPlace[] {
  const cells: TitleCellPlace[] = [];
  let y = 0;
  for (const [height, letters, row] of ROWS) {
    let x = 0;
    for (const [cell, width] of row) {
      if (cell === 'title') {
        cells.push({ cell, x, y, width, height: SUBTITLE.y, letters: 5 });
        cells.push({
          cell: 'subtitle',
          x,
          y: y + SUBTITLE.y,
          width,
          height: SUBTITLE.height,
          letters: 3.5,
        });
      } else cells.push({ cell, x, y, width, height, letters });
      x += width;
    }
    y += height;
  }
  return cells;
}
