import {
  type Area,
  type ChangeSlip,
  type Fault,
  MAX_ROWS,
  type Reach,
  type ReachWarning,
  type Snapshot,
  type StandingName,
} from '@tether/core';
import { z } from 'zod';
import { type Form, formSchema } from './document.ts';
import { areaSchema } from './sources.ts';

const sheetName = z.string().min(1).max(255);
const position = z.int().min(1).max(MAX_ROWS);
const hiddenRows = z.literal('in').optional();

export const reachSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('block'), sheet: sheetName, area: areaSchema, hiddenRows }),
  z.object({
    kind: z.literal('growing block'),
    sheet: sheetName,
    header: z.object({ row: position, left: position, right: position }),
    hiddenRows,
  }),
  z.object({
    kind: z.literal('name'),
    name: z.string().min(1).max(255),
    sheet: sheetName.nullable(),
    hiddenRows,
  }),
  z.object({ kind: z.literal('whole sheet'), sheet: sheetName, hiddenRows }),
  z.object({
    kind: z.literal('picked columns'),
    sheet: sheetName,
    headerRow: position,
    columns: z.array(z.string().max(1000)).min(1).max(200),
    hiddenRows,
  }),
  z.object({
    kind: z.literal('chart'),
    sheet: sheetName,
    chart: z.string().min(1).max(400),
    hiddenRows,
  }),
]) satisfies z.ZodType<Reach>;

/** A question what a reach takes now, before placing it. */
export const takeRequestSchema = z.object({ reach: reachSchema });
export type TakeRequest = z.infer<typeof takeRequestSchema>;

/** What a reach takes now; `snapshot` is cut to its first rows when it is long, `area` is whole. */
export interface TakePreview {
  snapshot: Snapshot;
  area: Area;
  warnings: ReachWarning[];
}

export const placeRequestSchema = z.object({
  sourceId: z.uuid(),
  reach: reachSchema,
  name: z.string().trim().min(1).max(120),
  form: formSchema.optional(),
});
export type PlaceRequest = z.infer<typeof placeRequestSchema>;

/** What a person may change about a tether: its name, and what it takes (which takes it anew). */
export const changeTetherSchema = z.object({
  name: z.string().trim().min(1).max(120).optional(),
  reach: reachSchema.optional(),
});
export type ChangeTether = z.infer<typeof changeTetherSchema>;

/** Objects to refresh, each with the hash of the source's state that the person saw; null means whatever is there. */
export const refreshRequestSchema = z.object({
  tethers: z
    .array(z.object({ id: z.uuid(), seen: z.string().length(64).nullable() }))
    .min(1)
    .max(10_000),
});
export type RefreshRequest = z.infer<typeof refreshRequestSchema>;

/** What a refresh did: objects that took their changes, and those that did not with the reason. */
export interface RefreshResponse {
  refreshed: string[];
  refused: { id: string; fault: Fault }[];
}

/** A tether with its standing. Snapshots are named by their hash and fetched once. */
export interface Tether {
  id: string;
  documentId: string;
  name: string;
  form: Form;
  reach: Reach;
  source: { id: string; folder: string; path: string };
  /** Hash of the snapshot that the document shows. */
  base: string;
  /** Hash of what the source holds now, where it differs from the base. */
  pending: string | null;
  standing: StandingName;
  /** Why the object is adrift. */
  reason: Fault | null;
  /** The change slip in few words, where the object is behind. */
  summary: string | null;
  /** How many cells that are. */
  behindBy: number;
  /** What to know about what the reach takes. */
  warnings: ReachWarning[];
  /** Whether the object stands in the document's text now. */
  placed: boolean;
  standingSince: string;
  refreshedAt: string;
  refreshedBy: string | null;
}

/** One object on the desk's list of what needs attention. */
export interface NeedsYou {
  tether: Tether;
  documentName: string;
}

/** Something that happened, with the change slip of a refresh. */
export interface LogEntry {
  id: number;
  at: string;
  kind: 'placed' | 'refreshed' | 'reach changed' | 'adrift' | 'found again';
  person: string | null;
  document: { id: string; name: string } | null;
  tether: { id: string; name: string } | null;
  source: string | null;
  summary: string;
  slip: ChangeSlip | null;
}

export interface LogPage {
  entries: LogEntry[];
  /** Pass as `before` for the entries that came earlier; null at the end. */
  next: number | null;
}

export const logQuerySchema = z.object({
  before: z.coerce.number().int().positive().optional(),
  document: z.uuid().optional(),
});
export type LogQuery = z.infer<typeof logQuerySchema>;
