import { readFile, stat } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import {
  type Area,
  type Cell,
  fail,
  findSheet,
  MAX_ROWS,
  OccupancyBuilder,
  ok,
  type Result,
  type SheetRules,
  type Snapshot,
} from '@tether/core';
import type { OpenSource } from '../source.ts';
import { decodeText } from './decode.ts';
import { guessDelimiter, splitRecords } from './records.ts';
import { guessWriting, readField, type Writing } from './values.ts';

const MAX_BYTES = 200 << 20;
/** How many records are looked at for the way numbers and dates are written. */
const LOOKED_AT = 2_000;
/** Digits wide: enough for a date with a time. */
const COLUMN_WIDTH = 15;

/**
 * Opens delimited text as a source with one sheet named after the file. Delimiter, encoding, decimal mark and the order
 * of dates are found by looking. Faults: `source-missing`, `source-unreadable`, `source-empty`, `source-not-text`,
 * `source-too-large`.
 */
export async function openDelimited(path: string, shownPath: string): Promise<Result<OpenSource>> {
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
  const decoded = decodeText(bytes);
  if (!decoded) return fail('source-not-text', { path: shownPath });
  const delimiter = guessDelimiter(decoded.text);
  const records = splitRecords(decoded.text, delimiter, MAX_ROWS);
  const writing = guessWriting(records.slice(0, LOOKED_AT), delimiter);
  const name = basename(shownPath, extname(shownPath)).slice(0, 255) || 'Data';
  return ok(new DelimitedText(name, records, writing));
}

class DelimitedText implements OpenSource {
  readonly names = [];

  constructor(
    private readonly name: string,
    private readonly records: string[][],
    private readonly writing: Writing,
  ) {}

  get sheets() {
    return [{ name: this.name, state: 'visible' as const }];
  }

  async readArea(sheet: string, area: Area, { look = true } = {}): Promise<Result<Snapshot>> {
    const found = this.requireSheet(sheet);
    if (!found.ok) return found;
    const cells: Cell[] = [];
    for (let row = area.top; row <= Math.min(area.bottom, this.records.length); row++) {
      const record = this.records[row - 1]!;
      for (let column = area.left; column <= Math.min(area.right, record.length); column++) {
        const content = readField(record[column - 1]!, column - 1, this.writing);
        if (content) cells.push({ row, column, ...content, ...(look ? { dress: 0 } : {}) });
      }
    }
    return ok({
      sheet: this.name,
      area,
      cells,
      merges: [],
      columns: [],
      rows: [],
      dresses: look ? [{ letters: { family: 'Calibri', size: 11 } }] : [],
      defaults: { columnWidth: COLUMN_WIDTH, rowHeight: 15, digitWidth: 7 },
    });
  }

  async readOccupancy(sheet: string, until = MAX_ROWS) {
    const found = this.requireSheet(sheet);
    if (!found.ok) return found;
    const builder = new OccupancyBuilder();
    for (let row = 1; row <= Math.min(until, this.records.length); row++) {
      const record = this.records[row - 1]!;
      for (let column = 1; column <= record.length; column++) {
        if (record[column - 1]!.trim() !== '') builder.add(row, column);
      }
    }
    return ok(builder.build());
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
    });
  }

  async close(): Promise<void> {}

  private requireSheet(sheet: string): Result<null> {
    if (findSheet(this.sheets, sheet)) return ok(null);
    return fail('sheet-missing', { sheet, sheets: this.name });
  }
}
