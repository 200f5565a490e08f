import {
  type Area,
  type Band,
  type ConditionalFormat,
  digitWidth,
  joinRowRuns,
  parseReference,
  type RowHeights,
  type RowRun,
  type SheetProtection,
  type Snapshot,
  type Validation,
} from '@tether/core';
import {
  type Attributes,
  child,
  children,
  descendants,
  parseXml,
  truth,
  type XmlElement,
} from '../../../package/xml.ts';
import { joinValidations } from '../../../rules/validations.ts';
import { parseAreas, parseConditions } from '../conditional.ts';
import type { StylesPart } from '../styles.ts';

/** A run of columns with the same width; wide runs are kept as runs, since one may span the whole sheet. */
interface ColumnRun {
  from: number;
  to: number;
  size?: number;
  hidden?: true;
}

/** A link on cells: the relationship that leads outside, or a place within the workbook (ECMA-376 Part 1, 18.3.1.47). */
interface SheetLink {
  area: Area;
  relationship: string | null;
  place: string | null;
}

/** What a sheet says around its cells. */
export interface SheetFrame {
  columnRuns: ColumnRun[];
  merges: Area[];
  defaults: Snapshot['defaults'];
  conditions: ConditionalFormat[];
  validations: Validation[];
  protection: SheetProtection;
  links: SheetLink[];
  /** The relationship of the sheet's drawing, which holds its charts. */
  drawing: string | null;
}

/** Width that a column has when nothing is said: 64 pixels at the usual letters (common practice). */
const USUAL_WIDTH = 9.140625;
const USUAL_HEIGHT = 15;

/** Stands in where a sheet's frame was not asked for. */
export const EMPTY_FRAME: SheetFrame = {
  columnRuns: [],
  merges: [],
  defaults: { columnWidth: 0, rowHeight: 0, digitWidth: 0 },
  conditions: [],
  validations: [],
  protection: { isProtected: false, hasPassword: false },
  links: [],
  drawing: null,
};

/** Reads what a worksheet part says beside its rows, which may be there or not (ECMA-376 Part 1, 18.3). */
export function parseSheetFrame(bytes: Buffer, styles: StylesPart): SheetFrame {
  const root = parseXml(bytes, 'sheetData');
  const { defaultColWidth, defaultRowHeight } = child(root, 'sheetFormatPr')?.attributes ?? {};
  const protection = child(root, 'sheetProtection')?.attributes ?? {};
  return {
    columnRuns: children(child(root, 'cols'), 'col').map(({ attributes }) => columnRun(attributes)),
    merges: children(child(root, 'mergeCells'), 'mergeCell').flatMap(({ attributes }) => {
      const merge = parseReference(attributes.ref ?? '');
      return merge.ok ? [merge.value.area] : [];
    }),
    defaults: {
      columnWidth: defaultColWidth ? Number(defaultColWidth) : USUAL_WIDTH,
      rowHeight: defaultRowHeight ? Number(defaultRowHeight) : USUAL_HEIGHT,
      digitWidth: digitWidth(styles.normal.family, styles.normal.size),
    },
    conditions: parseConditions(root, styles),
    validations: joinValidations(parseValidations(root)),
    protection: {
      isProtected: truth(protection.sheet),
      hasPassword: protection.password !== undefined || protection.hashValue !== undefined,
    },
    links: children(child(root, 'hyperlinks'), 'hyperlink').flatMap(({ attributes }) =>
      parseAreas(attributes.ref).map((area) => ({
        area,
        relationship: attributes.id ?? null,
        place: attributes.location ?? null,
      })),
    ),
    drawing: child(root, 'drawing')?.attributes.id ?? null,
  };
}

const KINDS: readonly string[] = [
  'whole',
  'decimal',
  'list',
  'date',
  'time',
  'textLength',
  'custom',
];

/** The checks on what may be entered (18.3.1.33), also those of the extension list, which look at other sheets. */
function parseValidations(root: XmlElement): Validation[] {
  const all = [
    ...children(child(root, 'dataValidations'), 'dataValidation'),
    ...descendants(child(root, 'extLst'), 'dataValidation'),
  ];
  return all.map((validation) => {
    const { sqref, type, operator, allowBlank, error, errorTitle } = validation.attributes;
    const kind = (KINDS.includes(type ?? '') ? type : 'any') as Validation['kind'];
    const operands = ['formula1', 'formula2'].flatMap((name) => {
      const operand = child(validation, name);
      const text = operand && (child(operand, 'f')?.text ?? operand.text).trim();
      return text ? [text] : [];
    });
    const entries = kind === 'list' ? /^"(.*)"$/s.exec(operands[0] ?? '')?.[1] : undefined;
    return {
      areas: parseAreas(sqref ?? child(validation, 'sqref')?.text),
      kind,
      comparison: operator ?? 'between',
      operands: entries === undefined ? operands : entries.split(',').map((entry) => entry.trim()),
      allowsBlank: truth(allowBlank),
      message: [errorTitle, error].filter(Boolean).join(': ') || null,
    };
  });
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

/** A row as its element says it: number, height and whether it is hidden. */
export type RowSize = [row: number, height: string | undefined, hidden: string | undefined];

/** How high the rows of a whole sheet are. */
export function rowHeights({ defaults }: SheetFrame, sizes: readonly RowSize[]): RowHeights {
  const usual = defaults.rowHeight;
  const runs = sizes.flatMap(([row, height, hidden]): RowRun[] => {
    const band = rowBand(row, height, hidden, usual);
    if (!band) return [];
    const { index, size, hidden: isHidden } = band;
    return [
      {
        from: index,
        to: index,
        ...(size === undefined ? {} : { size }),
        ...(isHidden ? { hidden: isHidden } : {}),
      },
    ];
  });
  return { usual, runs: joinRowRuns(runs.sort((a, b) => a.from - b.from)) };
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
