import { stat } from 'node:fs/promises';
import { type Area, parseReference, type Reach } from '@tether/core';
import { type OpenSource, openSource, type ReadingOptions, takeReaches } from '@tether/formats';
import type { BenchFiles } from './files.ts';

const area = (reference: string): Area => {
  const parsed = parseReference(reference);
  if (!parsed.ok) throw new Error(parsed.fault.message);
  return parsed.value.area;
};

async function withSource<T>(
  path: string,
  work: (source: OpenSource) => Promise<T>,
  options: ReadingOptions = {},
): Promise<T> {
  const source = await openSource(path, path, options);
  if (!source.ok) throw new Error(source.fault.message);
  try {
    return await work(source.value);
  } finally {
    await source.value.close();
  }
}

async function readArea(
  path: string,
  reference: string,
  look: boolean,
  options: ReadingOptions = {},
): Promise<number> {
  return withSource(
    path,
    async (source) => {
      const read = await source.readArea(source.sheets[0]!.name, area(reference), { look });
      if (!read.ok) throw new Error(read.fault.message);
      return read.value.cells.length;
    },
    options,
  );
}

/** Rows of each piece when a whole sheet is read: as much as one placed object may take. */
const PIECE = 10_000;

/** A whole sheet in pieces, each let go before the next. */
async function readPieces(
  path: string,
  rows: number,
  columns: string,
  look: boolean,
): Promise<number> {
  return withSource(
    path,
    async (source) => {
      let cells = 0;
      for (let top = 1; top <= rows; top += PIECE) {
        const piece = area(`A${top}:${columns}${Math.min(rows, top + PIECE - 1)}`);
        const read = await source.readArea(source.sheets[0]!.name, piece, { look });
        if (!read.ok) throw new Error(read.fault.message);
        cells += read.value.cells.length;
      }
      return cells;
    },
    { isBrowsed: true },
  );
}

/** What is measured, by name; each gives a number that must come out the same every time. */
export function ourWork(files: BenchFiles) {
  return {
    first: (look: boolean) => readArea(files.big, 'A1:F50', look),
    /** The same of a state of the file that was opened before; the server knows it by the hash of its bytes. */
    firstAgain: () => readArea(files.big, 'A1:F50', true, { hash: 'the big workbook' }),
    far: (look: boolean) => readArea(files.big, 'A90000:F90050', look),
    all: (look: boolean) => readPieces(files.big, 100_000, 'T', look),
    scattered: (look: boolean) =>
      withSource(files.big, async (source) => {
        const reaches = Array.from({ length: 1_000 }, (_, n): Reach => {
          const cell = area(`F${(n + 1) * 100}`);
          return { kind: 'block', sheet: 'Data', area: cell };
        });
        const taken = await takeReaches(source, reaches, { look });
        return taken.filter((each) => each.ok && each.value.snapshot.landmarks).length;
      }),
    filled: () =>
      withSource(files.big, async (source) => {
        const occupancy = await source.readOccupancy('Data');
        if (!occupancy.ok) throw new Error(occupancy.fault.message);
        return occupancy.value.rows.length;
      }),
    small: async (look: boolean) => {
      let cells = 0;
      for (const path of files.small) cells += await readArea(path, 'B2:F40', look);
      return cells;
    },
    unchanged: async () => {
      for (const path of files.small) await stat(path, { bigint: true });
      return files.small.length;
    },
    text: () => readArea(files.text, 'A1:J100000', false),
    textPieces: () => readPieces(files.text, 100_000, 'J', false),
    open: () => readArea(files.open, 'A1:J100000', false),
    openPieces: () => readPieces(files.open, 100_000, 'J', false),
  };
}

export type Work = keyof ReturnType<typeof ourWork>;
