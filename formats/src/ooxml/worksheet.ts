import {
  type Area,
  type Band,
  type Cell,
  type DateSystem,
  digitWidth,
  inkOf,
  isoToSerial,
  parseCell,
  parseReference,
  type Snapshot,
  serialToIso,
  showNumber,
  showText,
} from '@tether/core';
import { type Attributes, scanXml, truth } from '../xml.ts';
import type { CellFormat, StylesPart } from './styles.ts';
import { unescapeText } from './text.ts';

/** What cells need from the rest of the workbook. */
export interface SheetContext {
  name: string;
  strings: readonly string[];
  styles: StylesPart;
  dateSystem: DateSystem;
}

/** A run of columns with the same width; wide runs are kept as runs, since one may span the whole sheet. */
interface ColumnRun {
  from: number;
  to: number;
  size?: number;
  hidden?: true;
}

/** A whole sheet; `snapshot.area` is the used area and `snapshot.columns` is empty, see `columnRuns`. */
export interface ParsedSheet {
  snapshot: Snapshot;
  columnRuns: ColumnRun[];
}

/** Width that a column has when nothing is said: 64 pixels at the usual letters (common practice). */
const USUAL_WIDTH = 9.140625;
const USUAL_HEIGHT = 15;

/** Reads a worksheet part (ECMA-376 Part 1, 18.3). Rows and cells without `r` are counted on (18.3.1.4, 18.3.1.73). */
export function parseWorksheet(bytes: Buffer, context: SheetContext): ParsedSheet {
  const { styles, dateSystem } = context;
  const cells: Cell[] = [];
  const merges: Area[] = [];
  const rows: Band[] = [];
  const columnRuns: ColumnRun[] = [];
  const defaults = {
    columnWidth: USUAL_WIDTH,
    rowHeight: USUAL_HEIGHT,
    digitWidth: digitWidth(styles.normal.family, styles.normal.size),
  };
  let row = 0;
  let column = 0;
  let cell: Attributes | null = null;
  let collecting: 'value' | 'formula' | 'inline' | null = null;
  let value = '';
  let formula = '';
  let inline: string | null = null;
  let inHint = false;
  const used: Area = { top: 0, left: 0, bottom: 0, right: 0 };

  scanXml(bytes, {
    open(name, attributes) {
      switch (name) {
        case 'c': {
          const at = attributes.r ? parseCell(attributes.r) : null;
          column = at ? at.column : column + 1;
          if (at) row = at.row;
          cell = attributes;
          value = '';
          formula = '';
          inline = null;
          break;
        }
        case 'v':
          collecting = 'value';
          break;
        case 'f':
          collecting = 'formula';
          break;
        case 'is':
          inline = '';
          break;
        case 'rPh':
          inHint = true;
          break;
        case 't':
          if (inline !== null && !inHint) collecting = 'inline';
          break;
        case 'row': {
          row = attributes.r ? Number(attributes.r) : row + 1;
          column = 0;
          const band = rowBand(row, attributes, defaults.rowHeight);
          if (band) rows.push(band);
          break;
        }
        case 'col':
          columnRuns.push(columnRun(attributes));
          break;
        case 'mergeCell': {
          const merge = parseReference(attributes.ref ?? '');
          if (merge.ok) merges.push(merge.value.area);
          break;
        }
        case 'sheetFormatPr':
          if (attributes.defaultColWidth) defaults.columnWidth = Number(attributes.defaultColWidth);
          if (attributes.defaultRowHeight) defaults.rowHeight = Number(attributes.defaultRowHeight);
          break;
      }
    },
    text(text) {
      if (collecting === 'value') value += text;
      else if (collecting === 'formula') formula += text;
      else if (collecting === 'inline') inline += text;
    },
    close(name) {
      if (name === 'v' || name === 'f' || name === 't') collecting = null;
      else if (name === 'rPh') inHint = false;
      else if (name === 'c' && cell) {
        const built = buildCell(row, column, cell, value, inline, formula);
        cell = null;
        if (built) {
          cells.push(built);
          extend(used, built);
        }
      }
    },
  });

  return {
    snapshot: {
      sheet: context.name,
      area: used.top === 0 ? { top: 1, left: 1, bottom: 1, right: 1 } : used,
      cells,
      merges,
      columns: [],
      rows,
      dresses: styles.dresses,
      defaults,
    },
    columnRuns,
  };

  function buildCell(
    row: number,
    column: number,
    attributes: Attributes,
    raw: string,
    inline: string | null,
    formula: string,
  ): Cell | null {
    const format = styles.formats[Number(attributes.s ?? 0)] ?? styles.formats[0]!;
    const rest = {
      ...(formula === '' ? {} : { formula: unescapeText(formula) }),
      ...(format.code === 'General' ? {} : { format: format.code }),
      dress: format.dress,
    };
    const content = readContent(attributes.t ?? 'n', raw, inline, format);
    if (content) return { row, column, ...content, ...rest };
    if (!format.isSeen) return null;
    return { row, column, type: 'blank', value: '', text: '', dress: format.dress };
  }

  function readContent(
    kind: string,
    raw: string,
    inline: string | null,
    format: CellFormat,
  ): Pick<Cell, 'type' | 'value' | 'text' | 'ink'> | null {
    if (kind === 'inlineStr') return asText(unescapeText(inline ?? raw), format);
    if (raw === '') return null;
    switch (kind) {
      case 's':
        return asText(context.strings[Number(raw)] ?? '', format);
      case 'str':
        return asText(unescapeText(raw), format);
      case 'b':
        return { type: 'boolean', value: truth(raw), text: truth(raw) ? 'TRUE' : 'FALSE' };
      case 'e':
        return { type: 'error', value: raw, text: raw };
      case 'd': {
        const serial = isoToSerial(raw, dateSystem);
        if (Number.isNaN(serial)) return { type: 'text', value: raw, text: raw };
        const text = format.isDate ? showNumber(serial, format.code, dateSystem) : raw;
        return { type: 'date', value: serialToIso(serial, dateSystem) ?? raw, text };
      }
      default: {
        const number = Number(raw);
        if (Number.isNaN(number)) return { type: 'text', value: raw, text: raw };
        const text = showNumber(number, format.code, dateSystem);
        const iso = format.isDate ? serialToIso(number, dateSystem) : null;
        if (iso !== null) return { type: 'date', value: iso, text };
        const ink = inkOf(number, format.code);
        return { type: 'number', value: number, text, ...(ink ? { ink } : {}) };
      }
    }
  }
}

function asText(text: string, format: CellFormat) {
  if (text === '') return null;
  return { type: 'text' as const, value: text, text: showText(text, format.code) };
}

function extend(used: Area, { row, column }: Cell): void {
  used.top = used.top === 0 ? row : Math.min(used.top, row);
  used.left = used.left === 0 ? column : Math.min(used.left, column);
  used.bottom = Math.max(used.bottom, row);
  used.right = Math.max(used.right, column);
}

function rowBand(index: number, { ht, hidden }: Attributes, usual: number): Band | null {
  const size = ht === undefined || Number(ht) === usual ? undefined : Number(ht);
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
