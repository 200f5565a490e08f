import { type Fault, MODE_KINDS, STANDINGS } from '@tether/core';
import { FORMS } from '@tether/documents';
import { z } from 'zod';
import type { Hold } from './document.ts';
import { modeSchema } from './modes.ts';
import type { Tether } from './tethers.ts';

/** Columns of the ledger by which it can be sorted. */
export const LEDGER_COLUMNS = [
  'name',
  'document',
  'form',
  'source',
  'mode',
  'standing',
  'refreshed',
  'by',
] as const;
export type LedgerColumn = (typeof LEDGER_COLUMNS)[number];

/** Columns by which it can be grouped. */
export const LEDGER_GROUPS = ['document', 'source', 'standing', 'mode', 'form', 'by'] as const;
export type LedgerGroup = (typeof LEDGER_GROUPS)[number];

/** Which tethers, and in which order. */
export const ledgerQuerySchema = z.object({
  /** Words that name, document, or source have, all of them. */
  words: z.string().max(200).optional(),
  standing: z.enum(STANDINGS).optional(),
  document: z.uuid().optional(),
  source: z.uuid().optional(),
  mode: z.enum(MODE_KINDS).optional(),
  form: z.enum(FORMS).optional(),
  /** Who refreshed it last. */
  by: z.uuid().optional(),
  /** Only what needs somebody: behind and not left, adrift, or waiting. */
  needs: z.literal('yes').optional(),
  sort: z.enum(LEDGER_COLUMNS).optional(),
  down: z.literal('yes').optional(),
  group: z.enum(LEDGER_GROUPS).optional(),
});
export type LedgerQuery = z.infer<typeof ledgerQuerySchema>;

/** Rows that one page of the ledger has. */
export const LEDGER_PAGE = 100;

export const ledgerPageQuerySchema = ledgerQuerySchema.extend({
  page: z.coerce.number().int().min(0).max(100_000).default(0),
});
export type LedgerPageQuery = z.input<typeof ledgerPageQuerySchema>;

/** A tether as the ledger lists it. */
export interface LedgerRow {
  tether: Tether;
  documentName: string;
  hold: Hold | null;
}

export interface LedgerPage {
  rows: LedgerRow[];
  total: number;
  /** Groups in their order with how many rows each has; empty when nothing is grouped. */
  groups: { label: string; count: number }[];
}

/** Which rows of the ledger something is done to: those named, or all that a question finds. */
export const ledgerSelectionSchema = z.union([
  z.object({ ids: z.array(z.uuid()).min(1).max(10_000) }),
  z.object({ query: ledgerQuerySchema }),
]);
export type LedgerSelection = z.infer<typeof ledgerSelectionSchema>;

export const ledgerActSchema = z.object({
  selection: ledgerSelectionSchema,
  act: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('refresh') }),
    z.object({ kind: z.literal('mode'), mode: modeSchema.nullable() }),
    z.object({ kind: z.literal('hold'), isHeld: z.boolean() }),
    z.object({ kind: z.literal('freeze') }),
    z.object({ kind: z.literal('tie') }),
  ]),
  /** Joins what is done to many in several steps, so that it can be taken back as one. */
  name: z.uuid().optional(),
});
export type LedgerAct = z.infer<typeof ledgerActSchema>;

/** What was done to many at once. */
export interface LedgerOutcome {
  done: number;
  refused: { id: string; name: string; fault: Fault }[];
}

/** A question to the ledger that a person keeps. */
export interface SavedView {
  id: string;
  name: string;
  query: LedgerQuery;
}

export const saveViewSchema = z.object({
  name: z.string().trim().min(1).max(80),
  query: ledgerQuerySchema,
});
export type SaveView = z.infer<typeof saveViewSchema>;

/** What is being read, what waits for it, and who reads. */
export interface JobStates {
  running: { path: string; since: string; worker: string | null }[];
  waiting: number;
  /** Readings that failed and are tried again. */
  retrying: { path: string; times: number; next: string; reason: string }[];
  workers: { host: string; pid: number; kind: 'server' | 'worker'; jobs: number }[];
}

/** A question of which sources objects take. */
export const ledgerSourcesSchema = z.object({ ids: z.array(z.uuid()).min(1).max(10_000) });

/** A source with those of some objects that take of it. */
export interface LedgerSource {
  id: string;
  /** `folder/path` */
  path: string;
  ids: string[];
}
