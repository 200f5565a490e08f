import type { ChangeSlip, Fault, Reach, StandingName } from '@tether/core';
import { z } from 'zod';
import { areaSchema } from './sources.ts';

export const reachSchema = z.object({
  kind: z.literal('block'),
  sheet: z.string().min(1).max(255),
  area: areaSchema,
}) satisfies z.ZodType<Reach>;

export const placeRequestSchema = z.object({
  sourceId: z.uuid(),
  reach: reachSchema,
  name: z.string().trim().min(1).max(120),
});
export type PlaceRequest = z.infer<typeof placeRequestSchema>;

export const renameTetherSchema = z.object({ name: z.string().trim().min(1).max(120) });

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
  form: 'table';
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
  kind: 'placed' | 'refreshed' | 'adrift' | 'found again';
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
