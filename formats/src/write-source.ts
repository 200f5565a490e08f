import { readFile } from 'node:fs/promises';
import {
  type Area,
  type DelimitedReading,
  FormulaError,
  fail,
  ok,
  type Result,
  showNumber,
  union,
} from '@tether/core';
import { type FieldPatch, writeDelimited } from './delimited/write/write-delimited.ts';
import { openSpreadsheet } from './odf/read/open-spreadsheet.ts';
import { writeSpreadsheet } from './odf/write/write-spreadsheet.ts';
import type { WrittenValue } from './ooxml/write/patch-sheet.ts';
import { type SheetPatch, writeWorkbook } from './ooxml/write/write-workbook.ts';
import { sourceKind } from './open-source.ts';

/** A source with other values in some of its cells, as bytes; the file itself is not touched. */
export interface WrittenSource {
  before: Buffer;
  bytes: Buffer;
  /** Of a package: the parts that are other than before, and how many are the same byte for byte. */
  parts: { changed: string[]; same: number };
  /** Whether the file was signed: a signature does not hold for what was changed. */
  losesSignature: boolean;
}

/**
 * Writes cells of a source: those cells alone, whatever kind of file it is. `reading` says how a text is
 * written, and `isRecalculated` whether all that depends on the cells is among them. Faults: those of `writeWorkbook`,
 * `writeSpreadsheet` and `writeDelimited`.
 */
export async function writeSource(
  path: string,
  shownPath: string,
  patches: readonly SheetPatch[],
  options: { reading?: DelimitedReading | undefined; isRecalculated: boolean },
): Promise<Result<WrittenSource>> {
  const kind = sourceKind(path, shownPath);
  switch (kind) {
    case 'workbook': {
      const done = await writeWorkbook(path, shownPath, patches, options.isRecalculated);
      return done.ok ? ok({ ...done.value, before: await readFile(path) }) : done;
    }
    case 'text': {
      const { reading } = options;
      if (!reading) return fail('write-not-possible', { why: 'nobody said how it is written' });
      const before = await readFile(path);
      const fields = patches.map(
        ({ row, column, value }): FieldPatch => ({ row, column, text: fieldOf(value, reading) }),
      );
      const done = writeDelimited(before, reading, fields);
      if (!done.ok) return done;
      return ok({
        before,
        bytes: done.value,
        parts: { changed: done.value.equals(before) ? [] : [shownPath], same: 0 },
        losesSignature: false,
      });
    }
    case 'packed document':
    case 'flat document': {
      const shown = await withShown(path, shownPath, patches, kind === 'flat document');
      if (!shown.ok) return shown;
      const done = await writeSpreadsheet(path, shownPath, shown.value, {
        isFlat: kind === 'flat document',
        isRecalculated: options.isRecalculated,
      });
      return done.ok ? ok({ ...done.value, before: await readFile(path) }) : done;
    }
  }
}

/** Numbers of an open document with what they show there: its cells say both. */
async function withShown(
  path: string,
  shownPath: string,
  patches: readonly SheetPatch[],
  isFlat: boolean,
): Promise<Result<SheetPatch[]>> {
  const numbers = patches.filter(({ value }) => typeof value === 'number');
  if (numbers.length === 0) return ok([...patches]);
  const opened = await openSpreadsheet(path, shownPath, { isFlat });
  if (!opened.ok) return opened;
  try {
    const formats = new Map<string, string>();
    for (const [sheet, area] of areasOf(numbers)) {
      const read = await opened.value.readArea(sheet, area, { look: false });
      if (!read.ok) return read;
      for (const { row, column, format = 'General' } of read.value.cells) {
        formats.set(`${sheet} ${row} ${column}`, format);
      }
    }
    return ok(
      patches.map((patch) => {
        const { value, sheet, row, column } = patch;
        const format = formats.get(`${sheet} ${row} ${column}`);
        if (typeof value !== 'number' || format === undefined) return patch;
        return { ...patch, shown: showNumber(value, format) };
      }),
    );
  } finally {
    await opened.value.close();
  }
}

/** Of each sheet the area in which its cells lie. */
function areasOf(patches: readonly SheetPatch[]): Map<string, Area> {
  const areas = new Map<string, Area>();
  for (const { sheet, row, column } of patches) {
    const cell = { top: row, left: column, bottom: row, right: column };
    const known = areas.get(sheet);
    areas.set(sheet, known ? union(known, cell) : cell);
  }
  return areas;
}

/** A value as it is written in a text, with the decimal mark of the others. */
function fieldOf(value: WrittenValue, { decimal }: Pick<DelimitedReading, 'decimal'>): string {
  if (value === null) return '';
  if (value instanceof FormulaError) return value.code;
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE';
  return typeof value === 'number' ? String(value).replace('.', decimal) : value;
}
