import {
  type Area,
  type Choice,
  type Face,
  type Fault,
  MAX_ROWS,
  type MergeKind,
  type Mode,
  type ModeFrom,
  type Reach,
  type ReachWarning,
  type Snapshot,
  type StandingName,
} from '@tether/core';
import { type Form, formSchema } from '@tether/documents';
import { z } from 'zod';
import type { Hold } from './document.ts';
import { modeSchema } from './modes.ts';
import { areaSchema } from './sources.ts';
import { writingSchema } from './writing-way.ts';

const sheetName = z.string().min(1).max(255);
const position = z.int().min(1).max(MAX_ROWS);
/** What may be said of any reach; see `core/reach`. */
const options = {
  hidden: z.literal('in').optional(),
  headed: z.object({ title: z.int().min(0).max(20), rows: z.int().min(0).max(20) }).optional(),
};
const picked = z.string().max(1000);

export const reachSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('block'),
    sheet: sheetName,
    area: areaSchema,
    mooring: z.string().min(1).max(255).optional(),
    ...options,
  }),
  z.object({
    kind: z.literal('growing block'),
    sheet: sheetName,
    header: z.object({ row: position, left: position, right: position }),
    words: z.array(z.string().max(1000)).max(16_384).optional(),
    ...options,
  }),
  z.object({
    kind: z.literal('name'),
    name: z.string().min(1).max(255),
    sheet: sheetName.nullable(),
    ...options,
  }),
  z.object({ kind: z.literal('whole sheet'), sheet: sheetName, ...options }),
  z.object({
    kind: z.literal('picked columns'),
    sheet: sheetName,
    headerRow: position,
    columns: z
      .array(z.union([picked, z.object({ text: picked, nth: z.int().min(1).max(1000) })]))
      .min(1)
      .max(200),
    ...options,
  }),
  z.object({
    kind: z.literal('chart'),
    sheet: sheetName,
    chart: z.string().min(1).max(400),
    ...options,
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

/** What a person may change about a tether: its name, when it refreshes, and what it takes (which takes it anew). */
export const changeTetherSchema = z.object({
  name: z.string().trim().min(1).max(120).optional(),
  reach: reachSchema.optional(),
  mode: modeSchema.nullable().optional(),
});
export type ChangeTether = z.infer<typeof changeTetherSchema>;

/** Changes of a slip that were chosen; see `core/change/part`. */
export const choiceSchema = z.object({
  rows: z
    .array(z.object({ row: z.int().min(0), columns: z.array(position).max(16_384).nullable() }))
    .max(MAX_ROWS),
  columns: z.boolean().optional(),
  arrangement: z.boolean(),
}) satisfies z.ZodType<Choice>;

const seenTether = z.object({ id: z.uuid(), seen: z.string().length(64).nullable() });

/**
 * Objects to refresh, each with the hash of the source's state that the person saw (null means whatever is there), and
 * with what of it to take, where that is not everything.
 */
export const refreshRequestSchema = z.object({
  tethers: z
    .array(seenTether.extend({ choice: choiceSchema.optional() }))
    .min(1)
    .max(10_000),
});
export type RefreshRequest = z.infer<typeof refreshRequestSchema>;

/** Objects whose changes are left until the source changes again, each with the state that the person saw. */
export const leaveRequestSchema = z.object({ tethers: z.array(seenTether).min(1).max(10_000) });
export type LeaveRequest = z.infer<typeof leaveRequestSchema>;

/** Objects at whose changes a person has looked, each with the hash of what it showed. */
export const lookedAtSchema = z.object({
  tethers: z
    .array(z.object({ id: z.uuid(), base: z.string().length(64) }))
    .min(1)
    .max(10_000),
});
export type LookedAt = z.infer<typeof lookedAtSchema>;

/** Two states to compare, by their hash. */
export const compareQuerySchema = z.object({
  from: z.string().length(64),
  to: z.string().length(64),
});
export type CompareQuery = z.infer<typeof compareQuerySchema>;

export const frozenSchema = z.object({ isFrozen: z.boolean() });

/** Whether the workbook itself keeps the cells of an object in step. */
export const mooredSchema = z.object({ isMoored: z.boolean() });

export const goBackSchema = z.object({ state: z.int().min(1) });

/** What a refresh did: objects that took their changes, and those that did not with the reason. */
export interface RefreshResponse {
  refreshed: string[];
  refused: { id: string; fault: Fault }[];
}

/** What brought an object to what it shows. */
export type RefreshedHow = 'by hand' | 'automatically' | 'on opening' | 'by timetable';

/** An earlier state of an object, or the one it shows now. */
export interface TetherState {
  id: number;
  /** Hash of its snapshot. */
  snapshot: string;
  at: string;
  by: string | null;
  how: LogEntry['kind'];
  refreshedHow: RefreshedHow;
  summary: string;
  /** Whether the object shows it now. */
  isShown: boolean;
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
  /** Where its cells may stand now, the likeliest first, where it is reshaped. */
  places: Place[] | null;
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
  refreshedHow: RefreshedHow;
  /** When it refreshes, and who said so: the object itself, its source or its document. */
  mode: Mode;
  modeFrom: ModeFrom;
  /** Next moment of its timetable. */
  nextDue: string | null;
  /** Why an automatic refresh waits for somebody. */
  waits: Fault | null;
  /** Somebody decided to leave what is pending now. */
  left: { by: string | null; at: string } | null;
  /** The moment of the earlier state that it shows on purpose. */
  pinnedTo: string | null;
  frozen: { by: string | null; at: string } | null;
  /** Hash of what stands in the document: the base, or the base with the edits made in it. */
  shown: string;
  editCount: number;
  unlocked: Unlocked | null;
  /** Whether what is corrected in the document is written into the source at once. */
  writesAtOnce: boolean;
  /** Hash of what the person who asks last looked at, where the object shows something else since. */
  lookedAt: string | null;
}

/** Where the cells of an object may stand now. */
export interface Place {
  reach: Reach;
  /** In words. */
  where: string;
  reasons: string[];
}

/** One object on the desk's list of what needs attention. */
export interface NeedsYou {
  tether: Tether;
  documentName: string;
  hold: Hold | null;
}

/** A page of that list, with how many there are in all. */
export interface NeedsPage {
  needs: NeedsYou[];
  total: number;
  hasMore: boolean;
}

export const needsQuerySchema = z.object({ page: z.coerce.number().int().min(0).default(0) });

/** Cells that may be written in a document: all of the object, or areas of its sheet. */
export const unlockedSchema = z.union([z.literal('all'), z.array(areaSchema).max(1_000)]);
export type Unlocked = z.infer<typeof unlockedSchema>;
export const unlockSchema = z.object({ unlocked: unlockedSchema.nullable() });
export const writesAtOnceSchema = z.object({ writesAtOnce: z.boolean() });

/** What somebody typed into cells of an object; `typed` null lets an edit go. */
export const editRequestSchema = z.object({
  /** What the person saw when typing. */
  base: z.string().length(64),
  cells: z
    .array(
      z.object({
        row: position,
        column: position,
        typed: z.string().max(32_767).nullable(),
        /** Whether a formula may give way. */
        isOverFormula: z.boolean().optional(),
      }),
    )
    .min(1)
    .max(10_000),
  writing: writingSchema,
});
export type EditRequest = z.infer<typeof editRequestSchema>;

/** What somebody decided on an edit whose cell the source changed too, or that is gone. */
export const decideSchema = z.object({ edit: z.uuid(), decision: z.enum(['theirs', 'yours']) });

/** One edit of an object, against what source and document agreed on and what the source holds now. */
export interface EditSeen {
  id: string;
  /** Where it stands in the document. */
  row: number;
  column: number;
  /** Words at the head of its row and column. */
  place: string;
  kind: MergeKind;
  agreed: Face | null;
  theirs: Face | null;
  yours: Face | null;
  by: string | null;
  at: string;
}

/** The edits of an object, and what writing them would do. */
export interface EditsSeen {
  edits: EditSeen[];
  /** What is written, and what follows from it; null where it cannot be said, with the reason. */
  plan: {
    /** Of the file as it was looked at and the edits: what is agreed to when it is written. */
    token: string;
    path: string;
    written: { sheet: string; ref: string; before: string; after: string }[];
    recalculated: { sheet: string; ref: string; before: string; after: string }[];
    notFinal: { sheet: string; ref: string; why: string }[];
    losesSignature: boolean;
  } | null;
  fault: Fault | null;
}

/** All edits of a document that would be written into one source. */
export interface SourceEdits {
  sourceId: string;
  path: string;
  objects: { id: string; name: string; count: number }[];
  /** How many of them wait for a decision; then nothing of the source is written. */
  undecided: number;
  cells: number;
  /** Figures that follow in the source, and such as cannot be computed here. */
  follows: number;
  notFinal: number;
  losesSignature: boolean;
  /** What is agreed to when it is written; null where it cannot be, with the reason. */
  token: string | null;
  fault: Fault | null;
}

export const writeAllSchema = z.object({
  sources: z
    .array(z.object({ sourceId: z.uuid(), token: z.string().length(64) }))
    .min(1)
    .max(1_000),
});
export type WriteAll = z.infer<typeof writeAllSchema>;

/** What was written, source by source, and what was not with the reason. */
export interface WriteOutcome {
  written: { path: string; cells: number }[];
  refused: { path: string; fault: Fault }[];
}

export const writeBackSchema = z.object({ token: z.string().length(64) });

/** Kinds of entries in the log. */
export const LOG_KINDS = [
  'placed',
  'refreshed',
  'part taken',
  'left',
  'gone back',
  'taken back',
  'reach changed',
  'mode changed',
  'held',
  'released',
  'frozen',
  'tied',
  'follows again',
  'share changed',
  'renamed',
  'document made',
  'document deleted',
  'document back',
  'folder added',
  'folder removed',
  'folder moved',
  'folder rule',
  'file put in',
  'read otherwise',
  'taken out',
  'put back',
  'waits',
  'adrift',
  'found again',
  'reach followed',
  'stays',
  'source moved',
  'relinked',
  'moored',
  'mooring lifted',
  'unlocked',
  'locked',
  'writing switched',
  'edited',
  'written back',
] as const;

/** Something that happened. */
export interface LogEntry {
  id: number;
  at: string;
  kind: (typeof LOG_KINDS)[number];
  person: string | null;
  /** What did it, where nobody did it by hand. */
  how: RefreshedHow | null;
  /**
   * What was done to many at once: its name, how many entries it has, and how many of them can be taken back. Null for
   * what was done alone.
   */
  act: { id: string; count: number; open: number } | null;
  document: { id: string; name: string } | null;
  tether: { id: string; name: string } | null;
  source: string | null;
  summary: string;
  /** Whether it has a change slip: that of a refresh. */
  hasSlip: boolean;
  /** Whether it can be taken back, and whether it was. */
  canTakeBack: boolean;
  takenBackAt: string | null;
}

export interface LogPage {
  entries: LogEntry[];
  /** Pass as `before` for the entries that came earlier; null at the end. */
  next: number | null;
}

export const logQuerySchema = z.object({
  before: z.coerce.number().int().positive().optional(),
  /** All from this entry on, however many have come since. */
  since: z.coerce.number().int().positive().optional(),
  document: z.uuid().optional(),
  source: z.uuid().optional(),
  /** A person’s id, or `nobody` for what happened by itself. */
  person: z.union([z.uuid(), z.literal('nobody')]).optional(),
  kind: z.enum(LOG_KINDS).optional(),
});
export type LogQuery = z.infer<typeof logQuerySchema>;

/** Steps of the log that are taken back together, the latest first. */
export const takeBackManySchema = z.object({
  entries: z.array(z.int().positive()).min(1).max(200),
});
