import { readFile, stat } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import {
  type Area,
  type Band,
  type Cell,
  type DelimitedGuess,
  type DelimitedReading,
  fail,
  findSheet,
  MAX_COLUMNS,
  MAX_ROWS,
  type Occupancy,
  OccupancyBuilder,
  type Oddity,
  ok,
  type Result,
  type RowHeights,
  type SheetRules,
  type Snapshot,
  textWidth,
} from '@tether/core';
import type { OpenSource } from '../../source.ts';
import { decodeText, guessEncoding } from './decode.ts';
import { guessDelimiter, guessQuote, Records, toldDelimiter } from './records.ts';
import { guessWriting, readField, type Writing } from './values.ts';

const MAX_BYTES = 200 << 20;
/** How many records are looked at for the way numbers and dates are written. */
const LOOKED_AT = 2_000;
/** So many odd places are told. */
const MOST_ODDITIES = 200;
/** Digits wide: enough for a date with a time. */
const COLUMN_WIDTH = 17;
/** Points of a row. */
const ROW_HEIGHT = 15;
const LETTERS = { family: 'Calibri', size: 11 };
/** Pixels of a digit in these letters. */
const DIGIT = 7;

/**
 * Opens delimited text (RFC 4180 and its everyday cousins) as a source with one sheet named after the file. How it is
 * written is found by looking; what `overruled` says goes before that. Faults: `source-missing`, `source-unreadable`,
 * `source-empty`, `source-not-text`, `source-too-large`.
 */
export async function openDelimited(
  path: string,
  shownPath: string,
  overruled: Partial<DelimitedReading> = {},
): Promise<Result<OpenSource>> {
  let bytes: Buffer;
  try {
    const { size } = await stat(path);
    if (size === 0) return fail('source-empty', { path: shownPath });
    if (size > MAX_BYTES)
      return fail('source-too-large', { path: shownPath, limit: 'over 200 MB' });
    bytes = await readFile(path);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'reading failed';
    if (code === 'ENOENT') return fail('source-missing', { path: shownPath });
    return fail('source-unreadable', { path: shownPath, detail: code });
  }
  const encoding = guessEncoding(bytes);
  if (!encoding) return fail('source-not-text', { path: shownPath });
  const text = decodeText(bytes, overruled.encoding ?? encoding);
  const quote = guessQuote(text);
  const told = toldDelimiter(text);
  const delimiter = told?.delimiter ?? guessDelimiter(text, overruled.quote ?? quote);
  const marks = { delimiter: overruled.delimiter ?? delimiter, quote: overruled.quote ?? quote };
  const records = new Records(text, marks, MAX_ROWS, told?.from);
  const looked = Array.from({ length: Math.min(records.count, LOOKED_AT) }, (_, index) =>
    records.record(index),
  );
  const { decimal, slashOrder } = guessWriting(looked, marks.delimiter);
  const writing: Writing = {
    decimal: overruled.decimal ?? decimal,
    slashOrder,
    dates: overruled.dates ?? 'by column',
  };
  const name = basename(shownPath, extname(shownPath)).slice(0, 255) || 'Data';
  const guessed: DelimitedReading = { encoding, delimiter, quote, decimal, dates: 'by column' };
  return ok(new DelimitedText(name, records, writing, { guessed, overruled }));
}

/** Records from the beginning that say how wide the columns are, and how narrow and wide they may be, in digits. */
const LOOKED_AT_FOR_WIDTH = 300;
const NARROWEST = 6;
const WIDEST = 48;

function fittedWidths(records: Records): number[] {
  const longest: number[] = [];
  for (let index = 0; index < Math.min(records.count, LOOKED_AT_FOR_WIDTH); index++) {
    records
      .record(index)
      .slice(0, MAX_COLUMNS)
      .forEach((field, column) => {
        const width = textWidth(field.trim(), LETTERS) / DIGIT;
        longest[column] = Math.max(longest[column] ?? 0, width);
      });
  }
  return longest.map((width) => Math.min(WIDEST, Math.max(NARROWEST, Math.ceil(width) + 2)));
}

class DelimitedText implements OpenSource {
  readonly names = [];
  private occupancy: Occupancy | null = null;
  private odd: Oddity[] | null = null;
  private widths: number[] | null = null;

  constructor(
    private readonly name: string,
    private readonly records: Records,
    private readonly writing: Writing,
    readonly delimited: DelimitedGuess,
  ) {}

  get sheets() {
    return [{ name: this.name, state: 'visible' as const }];
  }

  async readArea(sheet: string, area: Area, { look = true } = {}): Promise<Result<Snapshot>> {
    const found = this.requireSheet(sheet);
    if (!found.ok) return found;
    const cells: Cell[] = [];
    for (let row = area.top; row <= Math.min(area.bottom, this.records.count); row++) {
      const record = this.records.record(row - 1);
      for (let column = area.left; column <= Math.min(area.right, record.length); column++) {
        const content = readField(record[column - 1]!, column - 1, this.writing);
        if (!content) continue;
        const { type, value, text } = content;
        cells.push(
          look ? { row, column, type, value, text, dress: 0 } : { row, column, type, value, text },
        );
      }
    }
    return ok({
      sheet: this.name,
      area,
      cells,
      merges: [],
      columns: look ? this.bands(area) : [],
      rows: [],
      dresses: look ? [{ letters: LETTERS }] : [],
      defaults: { columnWidth: COLUMN_WIDTH, rowHeight: ROW_HEIGHT, digitWidth: DIGIT },
    });
  }

  /** Columns as wide as the words that stand at their beginning. */
  private bands({ left, right }: Area): Band[] {
    this.widths ??= fittedWidths(this.records);
    return this.widths
      .slice(left - 1, right)
      .flatMap((size, at) =>
        size === COLUMN_WIDTH ? [] : [{ index: left + at, size, isFitted: true as const }],
      );
  }

  async readRows(sheet: string): Promise<Result<RowHeights>> {
    const occupancy = await this.readOccupancy(sheet, 1);
    return occupancy.ok ? ok({ usual: ROW_HEIGHT, runs: [] }) : occupancy;
  }

  async readOccupancy(sheet: string, until = MAX_ROWS): Promise<Result<Occupancy>> {
    const found = this.requireSheet(sheet);
    if (!found.ok) return found;
    if (this.occupancy) return ok(this.occupancy);
    const builder = new OccupancyBuilder();
    const last = Math.min(until, this.records.count);
    for (let row = 1; row <= last; row++) {
      const record = this.records.record(row - 1);
      const width = Math.min(MAX_COLUMNS, record.length);
      for (let column = 1; column <= width; column++) {
        if (record[column - 1]!.trim() !== '') builder.add(row, column);
      }
    }
    const occupancy = builder.build();
    if (last === this.records.count) this.occupancy = occupancy;
    return ok(occupancy);
  }

  readonly dateSystem = '1900';

  async hasFormulas() {
    return ok(false);
  }

  async readFormulas() {
    return ok({ cells: [], arrays: [], isCut: false });
  }

  async readTables() {
    return ok([]);
  }

  async readCharts() {
    return ok([]);
  }

  async readRules(sheet: string): Promise<Result<SheetRules>> {
    const found = this.requireSheet(sheet);
    if (!found.ok) return found;
    return ok({
      protection: { isProtected: false, hasPassword: false },
      validations: [],
      conditions: { count: 0, unknown: [] },
      oddities: [...this.odditiesOf()],
    });
  }

  /** What the text has that a sheet cannot hold, or that is no field by any rule. */
  odditiesOf(): readonly Oddity[] {
    if (this.odd) return this.odd;
    const { strays, count, goesOn } = this.records;
    const odd = strays.map(
      (index): Oddity => ({
        code: 'stray quote',
        message: `A quotation mark in row ${index + 1} is opened and not closed: it is taken as a letter.`,
        area: { top: index + 1, bottom: index + 1, left: 1, right: MAX_COLUMNS },
      }),
    );
    for (let row = 1; row <= count; row++) {
      if (!this.records.isWiderThan(row - 1, MAX_COLUMNS)) continue;
      const message = `Row ${row} has more fields than a sheet has columns (16,384): those behind column XFD are not read.`;
      odd.push({
        code: 'columns beyond',
        message,
        area: { top: row, bottom: row, left: 1, right: MAX_COLUMNS },
      });
      if (odd.length > MOST_ODDITIES) break;
    }
    if (goesOn) {
      const message = 'The text has more rows than a sheet (1,048,576): those behind are not read.';
      odd.push({
        code: 'rows beyond',
        message,
        area: { top: MAX_ROWS, bottom: MAX_ROWS, left: 1, right: MAX_COLUMNS },
      });
    }
    this.odd = odd;
    return odd;
  }

  async close(): Promise<void> {}

  private requireSheet(sheet: string): Result<null> {
    if (findSheet(this.sheets, sheet)) return ok(null);
    return fail('sheet-missing', { sheet, sheets: this.name });
  }
}
