import type {
  Area,
  Block,
  DefinedName,
  Fault,
  Reach,
  SheetSummary,
  TableObject,
} from '@tether/core';
import { z } from 'zod';

/** A folder whose files can be tethered to. */
export interface SourceFolder {
  id: string;
  name: string;
  state: 'watched' | 'offline';
  sources: SourceSummary[];
}

/** A file of a source folder. */
export interface SourceSummary {
  id: string;
  folderId: string;
  folder: string;
  /** Below the folder, with `/` between. */
  path: string;
  state: 'present' | 'missing' | 'unreadable';
  fault: Fault | null;
  bytes: number;
  /** When the content was last seen to change. */
  changedAt: string;
}

/** What a source holds, for choosing a part of it. */
export interface SourceContents {
  hash: string;
  sheets: SheetOutline[];
  /** Names that refer to one range have it in `area`. */
  names: (DefinedName & { area: { sheet: string; area: Area } | null })[];
  tables: TableObject[];
}

/** A sheet with what was found on it. */
export interface SheetOutline extends SheetSummary {
  usedArea: Area | null;
  /** Connected regions of filled cells, the largest first, at most forty. */
  blocks: Block[];
}

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
