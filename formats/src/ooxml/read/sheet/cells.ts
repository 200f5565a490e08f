import {
  type Cell,
  type DateSystem,
  type Dress,
  inkOf,
  isoToSerial,
  NOT_COMPUTED,
  serialToIso,
  showNumber,
  showPlain,
  showText,
  type TextRun,
} from '@tether/core';
import { truth } from '../../../package/xml.ts';
import { parseRuns } from '../runs.ts';
import type { CellFormat, StylesPart } from '../styles.ts';
import { unescapeText } from '../text.ts';

/** A cell as the sheet part has it. */
export interface RawCell {
  row: number;
  column: number;
  style: number;
  type: string;
  value: string | number | null;
  formula: string | null;
}

/**
 * Whether a cell has a formula and the file does not say its value: no program has computed it. A text formula without a
 * value is an empty text (ECMA-376 Part 1, 18.3.1.4 and 18.18.11: `str` is a formula's text).
 */
export function isUncomputed(
  type: string,
  value: string | number | null,
  formula: string | null,
  shared: number | null,
): boolean {
  return (
    (formula !== null || shared !== null) && type !== 'str' && (value === null || value === '')
  );
}

/** Gives raw cells their value, shown text and look. */
export class CellBuilder {
  /** Shown texts of numbers, by format: figures repeat, and a format takes far longer than a look-up. */
  private readonly shown = new Map<string, Map<number, string>>();

  constructor(
    private readonly styles: StylesPart,
    private readonly strings: ReadonlyMap<number, string>,
    private readonly dateSystem: DateSystem,
    private readonly withLook: boolean,
    /** Content of the shared strings that have parts with letters of their own, by index. */
    private readonly rich: ReadonlyMap<number, string> = new Map(),
  ) {}

  /** A cell that holds a number as it stands: most cells do, and this way nothing is made but the cell. */
  buildNumber(
    row: number,
    column: number,
    style: number,
    value: number,
    formula: string | null,
  ): Cell {
    const format = this.styles.formats[style] ?? this.styles.formats[0]!;
    if (format.isDate || format.hasInk) {
      return this.build({ row, column, style, type: 'n', value, formula })!;
    }
    const text = this.show(value, format.code);
    const { code, dress } = format;
    // Made at once with all it has: what is added later is kept apart from the rest, for each cell anew.
    const cell: Cell =
      code === 'General'
        ? this.withLook
          ? { row, column, type: 'number', value, text, dress }
          : { row, column, type: 'number', value, text }
        : this.withLook
          ? { row, column, type: 'number', value, text, format: code, dress }
          : { row, column, type: 'number', value, text, format: code };
    if (formula) cell.formula = unescapeText(formula);
    return cell;
  }

  /** The cell, or null for one that holds and shows nothing. */
  build({ row, column, style, type, value, formula }: RawCell): Cell | null {
    const format = this.styles.formats[style] ?? this.styles.formats[0]!;
    const content = isUncomputed(type, value, formula || null, null)
      ? { type: 'uncomputed' as const, value: '', text: NOT_COMPUTED }
      : this.content(type, value, format);
    if (!content) {
      if (!this.withLook || !format.isSeen) return null;
      return { row, column, type: 'blank', value: '', text: '', dress: format.dress };
    }
    const {
      type: kind,
      value: held,
      text,
      ink,
    }: Pick<Cell, 'type' | 'value' | 'text' | 'ink'> = content;
    const cell: Cell = { row, column, type: kind, value: held, text };
    if (ink) cell.ink = ink;
    if (formula) cell.formula = unescapeText(formula);
    if (format.code !== 'General') cell.format = format.code;
    if (this.withLook) cell.dress = format.dress;
    const runs = type === 's' ? this.runsOf(Number(value), cell) : null;
    if (runs) cell.runs = runs;
    return cell;
  }

  /** The parts of a rich text, where the cell shows it as it is. */
  private runsOf(index: number, { value, text }: Cell): TextRun[] | null {
    const content = this.rich.get(index);
    if (content === undefined || text !== value) return null;
    const runs = parseRuns(content, this.styles);
    // What stands outside the runs is left out of them; then the plain text is the better one.
    return runs.map((run) => run.text).join('') === text ? runs : null;
  }

  private content(
    type: string,
    value: string | number | null,
    format: CellFormat,
  ): Pick<Cell, 'type' | 'value' | 'text' | 'ink'> | null {
    if (value === null || value === '') return null;
    switch (type) {
      case 's':
        return asText(this.strings.get(Number(value)) ?? '', format);
      case 'str':
      case 'inlineStr':
        return asText(unescapeText(String(value)), format);
      case 'b': {
        const isTrue = truth(String(value));
        return { type: 'boolean', value: isTrue, text: isTrue ? 'TRUE' : 'FALSE' };
      }
      case 'e':
        return { type: 'error', value: String(value), text: String(value) };
      case 'd':
        return this.isoDate(String(value), format);
      default:
        return typeof value === 'number' ? this.number(value, format) : asText(value, format);
    }
  }

  private isoDate(text: string, format: CellFormat) {
    const serial = isoToSerial(text, this.dateSystem);
    if (Number.isNaN(serial)) return asText(text, format);
    return {
      type: 'date' as const,
      value: serialToIso(serial, this.dateSystem) ?? text,
      text: format.isDate ? this.show(serial, format.code) : text,
    };
  }

  private number(value: number, format: CellFormat) {
    const text = this.show(value, format.code);
    const iso = format.isDate ? serialToIso(value, this.dateSystem) : null;
    if (iso !== null) return { type: 'date' as const, value: iso, text };
    const ink = inkOf(value, format.code);
    return { type: 'number' as const, value, text, ...(ink ? { ink } : {}) };
  }

  private show(value: number, code: string): string {
    // Whole numbers up to eleven digits show as they are under General (common practice).
    if (code === 'General' && Number.isInteger(value) && Math.abs(value) < 1e11)
      return String(value);
    const plain = showPlain(value, code);
    if (plain !== null) return plain;
    let texts = this.shown.get(code);
    if (!texts) {
      texts = new Map();
      this.shown.set(code, texts);
    }
    let text = texts.get(value);
    if (text === undefined) {
      text = showNumber(value, code, this.dateSystem);
      if (texts.size < 50_000) texts.set(value, text);
    }
    return text;
  }
}

/** Numbers the dresses of an area's cells by first use, so that equal areas of differently built files are equal. */
export function numberDresses(cells: readonly Cell[], dresses: readonly Dress[]): Dress[] {
  const used: Dress[] = [];
  const moved = new Map<number, number>();
  for (const cell of cells) {
    if (cell.dress === undefined) continue;
    let dress = moved.get(cell.dress);
    if (dress === undefined) {
      dress = used.push(dresses[cell.dress]!) - 1;
      moved.set(cell.dress, dress);
    }
    cell.dress = dress;
  }
  return used;
}

function asText(text: string, format: CellFormat) {
  if (text === '') return null;
  return { type: 'text' as const, value: text, text: showText(text, format.code) };
}
