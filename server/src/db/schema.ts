import type {
  DocumentVersion,
  LedgerQuery,
  LogEntry,
  Place,
  RefreshedHow,
  Role,
  SheetHeadings,
  SourceFolder,
  SourceReading,
  SourceSummary,
  Unlocked,
} from '@tether/contract';
import type {
  Area,
  ChangeSlip,
  Danger,
  Edit,
  Face,
  Fault,
  Mode,
  Reach,
  ReachWarning,
  SheetSketch,
  SheetSummary,
  StandingName,
} from '@tether/core';
import type { DocumentContent, Form, KindName } from '@tether/documents';
import { sql } from 'drizzle-orm';
import {
  type AnyPgColumn,
  bigint,
  bigserial,
  boolean,
  check,
  customType,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';

/** What is kept of a source to find it again. */
export interface SourcePrint {
  sheets: SheetSketch[];
  headers: string[];
  names: string[];
}

/** What a cell of a source holds: a value, or a formula without its `=`, and what it shows. */
export interface CellHeld {
  value: number | string | boolean | null | { error: string };
  formula: string | null;
  text: string;
}

const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' });
const moment = () => timestamp({ withTimezone: true, mode: 'date' });
/** The database takes none but these words in a column: every word of the type, so that none is forgotten. */
const oneOf = <Word extends string>(
  name: string,
  column: AnyPgColumn,
  words: Record<NoInfer<Word>, true>,
) =>
  check(
    name,
    sql`${column} in (${sql.raw(
      Object.keys(words)
        .map((word) => `'${word}'`)
        .join(', '),
    )})`,
  );

/** Accounts. */
export const people = pgTable(
  'people',
  {
    id: uuid().primaryKey().defaultRandom(),
    name: text().notNull(),
    title: text().notNull(),
    signInName: text().notNull().unique(),
    /** `scrypt$N$r$p$salt$hash`, see `people/password.ts`. */
    passwordHash: text().notNull(),
    role: text().$type<Role>().notNull(),
  },
  (table) => [
    // People sign in with capitals or without.
    uniqueIndex('people_sign_in_name').on(sql`lower(${table.signInName})`),
    oneOf<Role>('people_role', table.role, { owner: true, editor: true, viewer: true }),
  ],
);

/** Signed-in sessions. The cookie's token is kept only as a hash. */
export const sessions = pgTable('sessions', {
  tokenHash: text().primaryKey(),
  personId: uuid()
    .notNull()
    .references(() => people.id, { onDelete: 'cascade' }),
  expiresAt: moment().notNull(),
});

/** Folders the server watches. */
export const sourceFolders = pgTable(
  'source_folders',
  {
    id: uuid().primaryKey().defaultRandom(),
    name: text().notNull().unique(),
    /** Absolute path on the server. */
    root: text().notNull(),
    state: text().$type<SourceFolder['state']>().notNull().default('watched'),
    /** Whether a file that went and was changed is followed by itself, where it is certain which one it is now. */
    followsCertain: boolean().notNull().default(false),
  },
  (table) => [
    oneOf<SourceFolder['state']>('source_folders_state', table.state, {
      watched: true,
      offline: true,
    }),
  ],
);

/** Files of the folders, as they were last seen. A file that is gone keeps its row, since tethers hold on to it. */
export const sources = pgTable(
  'sources',
  {
    id: uuid().primaryKey().defaultRandom(),
    folderId: uuid()
      .notNull()
      .references(() => sourceFolders.id, { onDelete: 'cascade' }),
    path: text().notNull(),
    state: text().$type<SourceSummary['state']>().notNull(),
    fault: jsonb().$type<Fault>(),
    /** SHA-256 of the content; null while it could not be read. Of a file that is missing that of what it was. */
    hash: text(),
    bytes: bigint({ mode: 'number' }).notNull().default(0),
    sheets: jsonb().$type<SheetSummary[]>().notNull().default([]),
    /** What a search by sheet and header looks through. */
    headings: jsonb().$type<SheetHeadings[]>().notNull().default([]),
    /** Hash of the bytes of which headings and marks are. */
    notedHash: text(),
    /** How it is read where somebody said otherwise than was found. */
    reading: jsonb().$type<SourceReading>(),
    /** When objects that take of it refresh, where nothing is said of the object itself. */
    mode: jsonb().$type<Mode>(),
    /** State of the file when it was last looked at, by which one that changed meanwhile is told. */
    stamp: text(),
    /** Number of the reading that was recorded last: one that began earlier is not recorded after it. */
    readNumber: bigint({ mode: 'number' }).notNull().default(0),
    /** Number of the last request to look at it: whoever is looking looks again when one came meanwhile. */
    askedNumber: bigint({ mode: 'number' }).notNull().default(0),
    changedAt: moment().notNull().defaultNow(),
  },
  (table) => [
    unique().on(table.folderId, table.path),
    index().on(table.hash),
    oneOf<SourceSummary['state']>('sources_state', table.state, {
      new: true,
      present: true,
      missing: true,
      unreadable: true,
    }),
  ],
);

/**
 * Marks of the values that a source holds (`core/lookup`), by which pasted cells find it. In a table of their own, since
 * there are many of them and few look for them.
 */
export const sourceMarks = pgTable(
  'source_marks',
  {
    sourceId: uuid()
      .primaryKey()
      .references(() => sources.id, { onDelete: 'cascade' }),
    marks: integer().array().notNull(),
  },
  (table) => [index().using('gin', table.marks)],
);

/** By what a source is found again when its file went elsewhere: what its sheets hold, in few numbers, and their headers. */
export const sourcePrints = pgTable('source_prints', {
  sourceId: uuid()
    .primaryKey()
    .references(() => sources.id, { onDelete: 'cascade' }),
  /** Of the bytes of which it is. */
  hash: text().notNull(),
  print: jsonb().$type<SourcePrint>().notNull(),
  /** Its sheets cell by cell (`storage/packed-prints`), by which it is seen what moved when it is saved; null for large ones. */
  sheets: bytes(),
});

/** Hidden names that were put into files for objects, by which these find their cells (`core/reach/mooring`). */
export const moorings = pgTable(
  'moorings',
  {
    sourceId: uuid()
      .notNull()
      .references(() => sources.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    at: moment().notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.sourceId, table.name] })],
);

/** Documents with their current text. */
export const documents = pgTable('documents', {
  id: uuid().primaryKey().defaultRandom(),
  kind: text().$type<KindName>().notNull(),
  name: text().notNull(),
  content: jsonb().$type<DocumentContent>().notNull(),
  /** As much of it as the desk shows; null where it was saved before there was this column. */
  beginning: jsonb().$type<DocumentContent>(),
  version: integer().notNull().default(1),
  savedAt: moment().notNull().defaultNow(),
  savedBy: uuid().references(() => people.id, { onDelete: 'set null' }),
  /** When its objects refresh, where nothing else is said; null for as usual. */
  mode: jsonb().$type<Mode>(),
  /** Per cent of an object's cells that may change without anybody looking. */
  share: integer().notNull().default(50),
  heldSince: moment(),
  heldBy: uuid().references(() => people.id, { onDelete: 'set null' }),
  /** When it was deleted; it is kept, so that the log can bring it back. */
  deletedAt: moment(),
});

/**
 * What people wrote in documents together, piece by piece, as updates of shared types: all of a document's make it up, in any
 * order. Now and then they are put together into one.
 */
export const documentUpdates = pgTable(
  'document_updates',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    documentId: uuid()
      .notNull()
      .references(() => documents.id, { onDelete: 'cascade' }),
    personId: uuid().references(() => people.id, { onDelete: 'set null' }),
    at: moment().notNull().defaultNow(),
    update: bytes().notNull(),
    /** Whether the document's `content` says what it says. */
    isWrittenOut: boolean().notNull().default(false),
  },
  (table) => [
    index().on(table.documentId),
    index('document_updates_not_written_out')
      .on(table.documentId)
      .where(sql`not ${table.isWrittenOut}`),
  ],
);

/** Pictures that documents hold, each kept once by the hash of its bytes. */
export const pictures = pgTable('pictures', {
  hash: text().primaryKey(),
  /** Media type, as it was told from the bytes. */
  type: text().notNull(),
  bytes: bytes().notNull(),
  width: integer().notNull(),
  height: integer().notNull(),
  at: moment().notNull().defaultNow(),
});

/** States of texts that are kept beside the current one. */
export const documentVersions = pgTable(
  'document_versions',
  {
    id: uuid().primaryKey().defaultRandom(),
    documentId: uuid()
      .notNull()
      .references(() => documents.id, { onDelete: 'cascade' }),
    personId: uuid().references(() => people.id, { onDelete: 'set null' }),
    at: moment().notNull().defaultNow(),
    why: text().$type<DocumentVersion['why']>().notNull(),
    content: jsonb().$type<DocumentContent>().notNull(),
  },
  (table) => [index().on(table.documentId, table.at)],
);

/** Snapshots by the SHA-256 of their content: equal content is stored once and never changes. */
export const snapshots = pgTable('snapshots', {
  hash: text().primaryKey(),
  sheet: text().notNull(),
  area: jsonb().$type<Area>().notNull(),
  /** The content's JSON, compressed (RFC 7932): it comes back letter for letter, so that it hashes the same. */
  packed: bytes().notNull(),
});

/** Tethers: what a placed object shows (`base`), what its source holds where that differs (`pending`), its standing. */
export const tethers = pgTable(
  'tethers',
  {
    id: uuid().primaryKey().defaultRandom(),
    documentId: uuid()
      .notNull()
      .references(() => documents.id, { onDelete: 'cascade' }),
    sourceId: uuid()
      .notNull()
      .references(() => sources.id),
    name: text().notNull(),
    form: text().$type<Form>().notNull().default('table'),
    reach: jsonb().$type<Reach>().notNull(),
    base: text()
      .notNull()
      .references(() => snapshots.hash),
    pending: text().references(() => snapshots.hash),
    standing: text().$type<StandingName>().notNull().default('in step'),
    reason: jsonb().$type<Fault>(),
    summary: text(),
    /** Cells that are behind, rows that came or went with all of theirs. */
    behindBy: integer().notNull().default(0),
    warnings: jsonb().$type<ReachWarning[]>().notNull().default([]),
    placed: boolean().notNull().default(false),
    standingSince: moment().notNull().defaultNow(),
    refreshedAt: moment().notNull().defaultNow(),
    refreshedBy: uuid().references(() => people.id, { onDelete: 'set null' }),
    refreshedHow: text().$type<RefreshedHow>().notNull().default('by hand'),
    /** When it refreshes, where it is said for it alone. */
    mode: jsonb().$type<Mode>(),
    /** Next moment of its timetable. */
    nextDue: moment(),
    /** What of the pending change may do harm. */
    danger: jsonb().$type<Danger>(),
    /** Why an automatic refresh waits for somebody. */
    waits: jsonb().$type<Fault>(),
    /** The pending state that somebody decided to leave; another one counts anew. */
    leftHash: text(),
    leftBy: uuid().references(() => people.id, { onDelete: 'set null' }),
    leftAt: moment(),
    /** Where its cells may stand now, of one that is reshaped, and of which state of the source that is. */
    reshaped: jsonb().$type<{ hash: string; places: Place[] }>(),
    /** The state of which somebody said that it stays where it is. */
    staysHash: text(),
    /** The moment of the earlier state that somebody went back to. */
    pinnedTo: moment(),
    frozenAt: moment(),
    frozenBy: uuid().references(() => people.id, { onDelete: 'set null' }),
    /** Cells that may be written in the document; null for none. */
    unlocked: jsonb().$type<Unlocked>(),
    /** Whether what is corrected in the document is written into the source at once. */
    writesAtOnce: boolean().notNull().default(false),
    /** What stands in the document where edits were made in it: the base with them; null where there are none. */
    shown: text().references(() => snapshots.hash),
    /** How many edits there are. */
    editCount: integer().notNull().default(0),
  },
  (table) => [
    index().on(table.documentId),
    index().on(table.sourceId),
    index().on(table.standing),
    index().on(table.nextDue),
    index().on(table.base),
    index().on(table.pending),
    index().on(table.shown),
    oneOf<StandingName>('tethers_standing', table.standing, {
      'in step': true,
      behind: true,
      'edited here': true,
      contested: true,
      reshaped: true,
      adrift: true,
      frozen: true,
    }),
    oneOf<Form>('tethers_form', table.form, {
      table: true,
      facsimile: true,
      chart: true,
      value: true,
      tag: true,
    }),
  ],
);

/** Corrections made in documents, apart from what their sources hold, until they are written there. */
export const edits = pgTable(
  'edits',
  {
    id: uuid().primaryKey().defaultRandom(),
    tetherId: uuid()
      .notNull()
      .references(() => tethers.id, { onDelete: 'cascade' }),
    /** Where its cell stands in what the object shows; where it stood last, of one whose row or column is gone. */
    row: integer().notNull(),
    column: integer().notNull(),
    value: jsonb().$type<{ is: Edit['value'] }>().notNull(),
    /** What source and document agreed on when it was made. */
    agreed: jsonb().$type<{ is: Face | null }>().notNull(),
    isGone: boolean().notNull().default(false),
    /** Whether the formula of its cell gives way. */
    isOverFormula: boolean().notNull().default(false),
    personId: uuid().references(() => people.id, { onDelete: 'set null' }),
    at: moment().notNull().defaultNow(),
  },
  (table) => [
    index().on(table.tetherId),
    uniqueIndex('edits_cell')
      .on(table.tetherId, table.row, table.column)
      .where(sql`not ${table.isGone}`),
  ],
);

/** What people typed into cells of sources, until it is saved in their files. */
export const entries = pgTable(
  'entries',
  {
    id: uuid().primaryKey().defaultRandom(),
    sourceId: uuid()
      .notNull()
      .references(() => sources.id, { onDelete: 'cascade' }),
    sheet: text().notNull(),
    row: integer().notNull(),
    column: integer().notNull(),
    /** As it was typed, and what that is. */
    typed: text().notNull(),
    entered: jsonb().$type<CellHeld>().notNull(),
    /** What stood there when it was typed, and what stood beside it. */
    agreed: jsonb().$type<CellHeld>().notNull(),
    landmark: text().notNull(),
    personId: uuid().references(() => people.id, { onDelete: 'set null' }),
    at: moment().notNull().defaultNow(),
  },
  (table) => [unique('entries_cell').on(table.sourceId, table.sheet, table.row, table.column)],
);

/** What an object showed, state by state: its history. */
export const tetherStates = pgTable(
  'tether_states',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    tetherId: uuid()
      .notNull()
      .references(() => tethers.id, { onDelete: 'cascade' }),
    snapshot: text()
      .notNull()
      .references(() => snapshots.hash),
    reach: jsonb().$type<Reach>().notNull(),
    at: moment().notNull().defaultNow(),
    personId: uuid().references(() => people.id, { onDelete: 'set null' }),
    how: text().$type<LogEntry['kind']>().notNull(),
    refreshedHow: text().$type<RefreshedHow>().notNull().default('by hand'),
    summary: text().notNull(),
  },
  (table) => [index().on(table.tetherId), index().on(table.snapshot)],
);

/** What each person last looked at of an object: what changed since is marked for them. */
export const tetherLooks = pgTable(
  'tether_looks',
  {
    personId: uuid()
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    tetherId: uuid()
      .notNull()
      .references(() => tethers.id, { onDelete: 'cascade' }),
    snapshot: text()
      .notNull()
      .references(() => snapshots.hash),
  },
  (table) => [
    primaryKey({ columns: [table.personId, table.tetherId] }),
    index().on(table.snapshot),
  ],
);

/** Questions to the ledger that a person keeps. */
export const savedViews = pgTable(
  'saved_views',
  {
    id: uuid().primaryKey().defaultRandom(),
    personId: uuid()
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    query: jsonb().$type<LedgerQuery>().notNull(),
  },
  (table) => [unique().on(table.personId, table.name)],
);

/** Processes that look at sources. One that is not seen any more has its jobs done by others. */
export const workers = pgTable('workers', {
  id: uuid().primaryKey(),
  host: text().notNull(),
  pid: integer().notNull(),
  kind: text().$type<'server' | 'worker'>().notNull(),
  startedAt: moment().notNull().defaultNow(),
  seenAt: moment().notNull().defaultNow(),
  /** Jobs it is doing. */
  jobs: uuid().array().notNull().default([]),
});

/** What taking a logged step back needs: the step's name, and what that step keeps of itself (`changing/steps`). */
export type StepData = { kind: string } & Record<string, unknown>;

/** What happened, in order. */
export const logEntries = pgTable(
  'log_entries',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    at: moment().notNull().defaultNow(),
    kind: text().$type<LogEntry['kind']>().notNull(),
    personId: uuid().references(() => people.id, { onDelete: 'set null' }),
    /** What did it, where nobody did it by hand. */
    how: text().$type<RefreshedHow>(),
    documentId: uuid().references(() => documents.id, { onDelete: 'cascade' }),
    tetherId: uuid().references(() => tethers.id, { onDelete: 'set null' }),
    /** Names as they were then. */
    tetherName: text(),
    source: text(),
    summary: text().notNull(),
    slip: jsonb().$type<ChangeSlip>(),
    sourceId: uuid().references(() => sources.id, { onDelete: 'set null' }),
    /** What taking it back needs. */
    undo: jsonb().$type<StepData>(),
    takenBackAt: moment(),
    /** The same for all entries of what a person did to many at once. */
    act: uuid(),
  },
  (table) => [
    index().on(table.documentId),
    index().on(table.tetherId),
    index().on(table.sourceId),
    index().on(table.personId),
    index().on(table.act),
  ],
);
