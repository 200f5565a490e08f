import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import {
  CalcBook,
  type CellPlace,
  type DelimitedReading,
  isSameResult,
  type LineChange,
  type NotOurs,
  ok,
  type Result,
  type Scalar,
} from '@tether/core';
import { loadBook } from './calc/load-book.ts';
import { openDelimited } from './delimited/read/open-delimited.ts';
import { moveRecords } from './delimited/write/move-records.ts';
import type { MovedLines } from './moved-lines.ts';
import { moveSpreadsheet } from './odf/lines/move-spreadsheet.ts';
import { moveLines } from './ooxml/lines/move-lines.ts';
import type { SheetPatch } from './ooxml/write/write-workbook.ts';
import { openSource, sourceKind } from './open-source.ts';
import { writeSource } from './write-source.ts';

/** A source in which rows or columns were put in or taken out, with what its formulas come to then. */
export interface LinesPlan extends Omit<MovedLines, 'changed'> {
  before: Buffer;
  /** How many formulas come to something else. */
  recalculated: number;
  /** Formulas that are not computed here; the program that opens the file next computes them. */
  notFinal: NotOurs[];
  parts: { changed: string[] };
}

/**
 * Puts rows or columns into a sheet of a source, or takes them out; the file itself is not touched. `delimited` says how a text
 * is read. Faults: those of `moveLines`, `moveSpreadsheet`, `moveRecords` and `writeSource`.
 */
export async function planLines(
  path: string,
  shownPath: string,
  change: LineChange,
  delimited?: Partial<DelimitedReading>,
): Promise<Result<LinesPlan>> {
  const before = await readFile(path);
  const moved = await movedIn(path, shownPath, change, delimited);
  if (!moved.ok) return moved;
  const { bytes, changed, ...rest } = moved.value;
  // A text holds no formulas.
  if (sourceKind(path, shownPath) === 'text') {
    return ok({ ...moved.value, before, recalculated: 0, notFinal: [], parts: { changed } });
  }
  const folder = await mkdtemp(join(tmpdir(), 'tether-lines-'));
  try {
    const made = join(folder, basename(path));
    await writeFile(made, bytes);
    const results = await recomputed(path, made, shownPath, change);
    if (!results.ok) return results;
    const { patches, notFinal, isComputed } = results.value;
    const isRecalculated = isComputed && notFinal.length === 0;
    const written = await writeSource(made, shownPath, patches, { isRecalculated });
    if (!written.ok) return written;
    const parts = [...new Set([...changed, ...written.value.parts.changed])];
    return ok({
      ...rest,
      before,
      bytes: written.value.bytes,
      recalculated: patches.length,
      notFinal,
      parts: { changed: parts },
    });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** The source with its rows or columns moved, whatever kind of file it is. */
async function movedIn(
  path: string,
  shownPath: string,
  change: LineChange,
  delimited: Partial<DelimitedReading> | undefined,
): Promise<Result<MovedLines>> {
  const kind = sourceKind(path, shownPath);
  switch (kind) {
    case 'workbook':
      return moveLines(path, shownPath, change);
    case 'packed document':
    case 'flat document':
      return moveSpreadsheet(path, shownPath, change, { isFlat: kind === 'flat document' });
    case 'text': {
      const opened = await openDelimited(path, shownPath, delimited);
      if (!opened.ok) return opened;
      const { guessed, overruled } = opened.value.delimited!;
      await opened.value.close();
      const bytes = moveRecords(await readFile(path), { ...guessed, ...overruled }, change);
      if (!bytes.ok) return bytes;
      return ok({
        ...{ bytes: bytes.value, changed: [shownPath] },
        ...{ follows: { formulas: 0, lost: 0 }, losesSignature: false, hasPrograms: false },
      });
    }
  }
}

/** Where a row or column stood before; null for one that was put in. */
function lineBefore({ kind, at, count }: LineChange, line: number): number | null {
  if (line < at) return line;
  if (kind === 'take out') return line + count;
  return line < at + count ? null : line - count;
}

/** What formulas come to in the changed workbook, where that is other than what it still says. */
async function recomputed(
  path: string,
  made: string,
  shownPath: string,
  change: LineChange,
): Promise<Result<{ patches: SheetPatch[]; notFinal: NotOurs[]; isComputed: boolean }>> {
  const old = await openSource(path, shownPath, {});
  if (!old.ok) return old;
  const now = await openSource(made, shownPath, {});
  if (!now.ok) return now;
  try {
    const was = await loadBook(old.value);
    if (!was.ok) return was;
    if (!(was.value instanceof CalcBook)) {
      return ok({ patches: [], notFinal: [], isComputed: was.value === 'no formulas' });
    }
    const oldBook = was.value;
    /** Why a formula was not computed before; null where it was. */
    const whyNot = ({ sheet, row, column }: CellPlace): string | null => {
      const isMoved = sheet.toLowerCase() === change.sheet.toLowerCase();
      const line = lineBefore(change, change.axis === 'rows' ? row : column);
      if (isMoved && line === null) return null;
      const place = !isMoved
        ? { sheet, row, column }
        : change.axis === 'rows'
          ? { sheet, row: line!, column }
          : { sheet, row, column: line! };
      return oldBook.whyNotOurs(place);
    };
    const stored: (CellPlace & { value: Scalar | undefined })[] = [];
    for (const { name } of now.value.sheets) {
      const read = await now.value.readFormulas(name);
      if (!read.ok) return read;
      const filling = new Set(read.value.arrays.map(({ row, column }) => `${row} ${column}`));
      for (const { formula, row, column, value } of read.value.cells) {
        // One that fills several cells keeps what it says there: whether that still holds, the comparison tells.
        if (formula === undefined || filling.has(`${row} ${column}`)) continue;
        stored.push({ sheet: name, row, column, value });
      }
    }
    const open = new Map(
      stored.filter((place) => whyNot(place) === null).map((each) => [keyOf(each), each]),
    );
    const book = await loadBook(now.value, { isOpen: (place) => open.has(keyOf(place)) });
    if (!book.ok) return book;
    if (!(book.value instanceof CalcBook))
      return ok({ patches: [], notFinal: [], isComputed: false });
    const newBook = book.value;
    const patches = [...open.values()].flatMap(({ sheet, row, column, value }): SheetPatch[] => {
      if (newBook.whyNotOurs({ sheet, row, column }) !== null) return [];
      const result = newBook.get(sheet, row, column);
      return value !== undefined && isSameResult(value, result)
        ? []
        : [{ sheet, row, column, value: result, how: 'result' }];
    });
    const notFinal = stored.flatMap(({ sheet, row, column }): NotOurs[] => {
      const why = newBook.whyNotOurs({ sheet, row, column });
      return why === null ? [] : [{ sheet, row, column, why }];
    });
    return ok({ patches, notFinal, isComputed: true });
  } finally {
    await old.value.close();
    await now.value.close();
  }
}

const keyOf = ({ sheet, row, column }: CellPlace) => `${sheet.toLowerCase()} ${row} ${column}`;
