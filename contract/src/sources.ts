import {
  type Area,
  type Block,
  DELIMITERS,
  type DefinedName,
  type DelimitedGuess,
  type DelimitedReading,
  ENCODINGS,
  type Fault,
  MAX_COLUMNS,
  MAX_PASTED_CELLS,
  MAX_ROWS,
  type Mode,
  type Placement,
  type Reach,
  type RowHeights,
  type SheetRules,
  type SheetSummary,
  type SourceChart,
  type Sureness,
  type TableObject,
} from '@tether/core';
import { z } from 'zod';
import { writingSchema } from './writing-way.ts';

/** A folder whose files can be tethered to. */
export interface SourceFolder {
  id: string;
  name: string;
  /** Absolute path on the server. */
  root: string;
  state: 'watched' | 'offline';
  /** Whether a file that went and was changed is followed by itself, where it is certain which one it is now. */
  followsCertain: boolean;
  sources: SourceSummary[];
}

/** A file of a source folder. */
export interface SourceSummary {
  id: string;
  folderId: string;
  folder: string;
  /** Below the folder, with `/` between. */
  path: string;
  /** `new` until it was looked at for the first time. */
  state: 'new' | 'present' | 'missing' | 'unreadable';
  /** What is wrong with the file; of a present one, with one of its sheets. */
  fault: Fault | null;
  bytes: number;
  /** When the content was last seen to change. */
  changedAt: string;
  /** When objects that take of it refresh, where nothing is said of the object itself. */
  mode: Mode | null;
}

/** What a source holds, for choosing a part of it. */
export interface SourceContents {
  /** Tells states of the source apart: other bytes, or the same ones read otherwise. */
  hash: string;
  sheets: SheetOutline[];
  /** Names that refer to one range have it in `area`. */
  names: (DefinedName & { area: { sheet: string; area: Area } | null })[];
  tables: TableObject[];
  charts: SourceChart[];
  /** Of delimited text: how it is read. */
  delimited: DelimitedGuess | null;
}

/** A sheet with what was found on it. */
export interface SheetOutline extends SheetSummary {
  /** Why its cells cannot be read; null when they can. */
  fault: Fault | null;
  usedArea: Area | null;
  /** Connected regions of filled cells, the largest first, at most forty. */
  blocks: (Block & { /** Rows of a title above its header. */ title: number })[];
  rules: SheetRules | null;
  rows: RowHeights;
}

/** What stands at the head of a sheet's blocks: what a search looks through. */
export interface SheetHeadings {
  sheet: string;
  headers: string[];
  /** Why its cells cannot be read. */
  fault?: Fault;
}

/** A sheet, or a header on it, that has the words of a search. */
export interface SourceMatch {
  sourceId: string;
  sheet: string;
  header: string | null;
}

/** Cells from elsewhere, to be looked up among the sources: rows of shown texts. */
export const findCellsSchema = z.object({
  cells: z
    .array(z.array(z.string().max(4_000)).max(2_000))
    .min(1)
    .max(MAX_PASTED_CELLS)
    .refine(
      (rows) => rows.reduce((sum, row) => sum + row.length, 0) <= MAX_PASTED_CELLS,
      'there are too many cells',
    ),
});
export type FindCells = z.infer<typeof findCellsSchema>;

/** Where cells from elsewhere stand in a source, and how sure that is. */
export interface CellsMatch extends Placement {
  sourceId: string;
  folder: string;
  path: string;
  sheet: string;
  sureness: Sureness;
}

export const sourceSearchSchema = z.object({ words: z.string().trim().min(2).max(200) });

/** How a source is read where that is not as it was found to be. */
export interface SourceReading {
  delimited?: Partial<DelimitedReading> | undefined;
}

export const sourceReadingSchema = z.object({
  delimited: z
    .object({
      encoding: z.enum(ENCODINGS),
      delimiter: z.enum(DELIMITERS),
      quote: z.enum(['"', "'", 'none']),
      decimal: z.enum(['.', ',']),
      dates: z.enum(['by column', 'day first', 'month first', 'as text']),
    })
    .partial(),
});

const folderName = z.string().trim().min(1).max(80);
export const addFolderSchema = z.object({
  name: folderName,
  path: z.string().trim().min(1).max(2_000),
});
export type AddFolder = z.infer<typeof addFolderSchema>;
/** What is changed of a folder: what it is called, where it lies, and whether files of it that were changed are followed. */
export const changeFolderSchema = z
  .object({
    name: folderName,
    path: z.string().trim().min(1).max(2_000),
    followsCertain: z.boolean(),
  })
  .partial();
export type ChangeFolder = z.infer<typeof changeFolderSchema>;

/** What of a folder's files lies at another place. */
export interface FolderElsewhere {
  path: string;
  /** Files to which objects are tied, and how many of these are there. */
  tied: number;
  there: number;
  /** Those that are not. */
  missing: string[];
}

/** A place on the server that can be looked into for a folder to watch. */
export interface FolderPlace {
  path: string;
  /** The place above; null at the places the operator allows. */
  parent: string | null;
  /** Names of the folders in it. */
  folders: string[];
}
export const browseSchema = z.object({ path: z.string().max(2_000).optional() });

export const elsewhereSchema = z.object({ path: z.string().trim().min(1).max(2_000) });

export const uploadSchema = z.object({ name: z.string().trim().min(1).max(200) });
/** The most bytes of an uploaded file. */
export const MAX_UPLOAD_BYTES = 200 << 20;

/** Names a chart of a source. */
export const chartQuerySchema = z.object({ chart: z.string().min(1).max(400) });

/** An object that uses cells of a source: for telling where they are used. */
export interface SourceUse {
  tetherId: string;
  name: string;
  document: { id: string; name: string };
  sheet: string;
  area: Area;
  reach: Reach;
}

export const areaSchema = z.object({
  top: z.int().min(1),
  left: z.int().min(1),
  bottom: z.int().min(1),
  right: z.int().min(1),
});

/** The most cells that one request for cells may ask for. */
export const MAX_TILE_CELLS = 20_000;

export const cellsQuerySchema = z.object({
  sheet: z.string().min(1).max(255),
  reference: z.string().min(1).max(60),
});
export type CellsQuery = z.infer<typeof cellsQuerySchema>;

/** What somebody typed into cells of a source; `typed` null lets an entry go, and `=` begins a formula. */
export const enterSchema = z.object({
  /** The state of the source that the person saw. */
  hash: z.string().max(2_000),
  sheet: z.string().min(1).max(1_000),
  cells: z
    .array(
      z.object({
        row: z.int().min(1).max(MAX_ROWS),
        column: z.int().min(1).max(MAX_COLUMNS),
        typed: z.string().max(32_767).nullable(),
        /** When the entry was made that the person saw in the cell; null where they saw none. */
        seen: z.string().nullable(),
        /** Whether a formula may give way to what is typed. */
        isOverFormula: z.boolean().optional(),
      }),
    )
    .min(1)
    .max(10_000),
  writing: writingSchema,
});
export type EnterCells = z.infer<typeof enterSchema>;

/** Rows or columns that somebody wishes to put into a sheet or to take out of it. */
export const changeLinesSchema = z.object({
  sheet: z.string().min(1).max(1_000),
  axis: z.enum(['rows', 'columns']),
  kind: z.enum(['put in', 'take out']),
  at: z.int().min(1).max(MAX_ROWS),
  count: z.int().min(1).max(10_000),
});
export type ChangeLines = z.infer<typeof changeLinesSchema>;
export const doLinesSchema = z.object({
  change: changeLinesSchema,
  token: z.string().length(64),
});

/** What that would do. */
export interface LinesSeen {
  /** Of the file as it was looked at and the wish: what is agreed to when it is done. */
  token: string;
  /** Filled cells that go. */
  taken: number;
  /** Formulas, names, rules and charts that follow, and those of them that lose what they look at. */
  follows: { formulas: number; lost: number };
  /** Figures that change. */
  recalculated: number;
  notFinal: { sheet: string; ref: string; why: string }[];
  losesSignature: boolean;
  /** Whether the workbook has programs of its own, which do not follow. */
  hasPrograms: boolean;
}

/** What somebody decided on an entry whose cell the file changed too. */
export const decideEntrySchema = z.object({
  entry: z.uuid(),
  decision: z.enum(['theirs', 'yours']),
});

/** An entry that waits to be saved, against what stood there and what the file holds now. */
export interface EntrySeen {
  id: string;
  sheet: string;
  row: number;
  column: number;
  typed: string;
  /** `same`: the file says the same by now. */
  kind: 'kept' | 'same' | 'contested';
  agreed: string;
  theirs: string;
  yours: string;
  by: string | null;
  isMine: boolean;
  at: string;
}

/** What a cell shows while entries wait. */
export interface EntryFace {
  sheet: string;
  row: number;
  column: number;
  text: string;
  isNumber: boolean;
  mark: 'entered' | 'contested' | 'follows' | 'not final';
}

/** All that waits to be saved in a source, and what saving it would do. */
export interface EntriesSeen {
  entries: EntrySeen[];
  faces: EntryFace[];
  /** Null where it cannot be said, with the reason. */
  plan: {
    /** Of the file as it was looked at and the entries: what is agreed to when it is saved. */
    token: string;
    cells: number;
    follows: number;
    notFinal: { sheet: string; ref: string; why: string }[];
    losesSignature: boolean;
  } | null;
  fault: Fault | null;
}
