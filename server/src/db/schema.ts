import type {
  DocumentContent,
  Form,
  LogEntry,
  Role,
  SheetHeadings,
  SourceFolder,
  SourceReading,
  SourceSummary,
} from '@tether/contract';
import type {
  ChangeSlip,
  Fault,
  Reach,
  ReachWarning,
  SheetSummary,
  Snapshot,
  StandingName,
} from '@tether/core';
import {
  bigint,
  bigserial,
  boolean,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  text,
  timestamp,
  unique,
  uuid,
} from 'drizzle-orm/pg-core';

const moment = () => timestamp({ withTimezone: true, mode: 'date' });

/** Accounts. */
export const people = pgTable('people', {
  id: uuid().primaryKey().defaultRandom(),
  name: text().notNull(),
  title: text().notNull(),
  signInName: text().notNull().unique(),
  /** `scrypt$N$r$p$salt$hash`, see `people/password.ts`. */
  passwordHash: text().notNull(),
  role: text().$type<Role>().notNull(),
});

/** Signed-in sessions. The cookie's token is kept only as a hash. */
export const sessions = pgTable('sessions', {
  tokenHash: text().primaryKey(),
  personId: uuid()
    .notNull()
    .references(() => people.id, { onDelete: 'cascade' }),
  expiresAt: moment().notNull(),
});

/** Folders the server watches. */
export const sourceFolders = pgTable('source_folders', {
  id: uuid().primaryKey().defaultRandom(),
  name: text().notNull().unique(),
  /** Absolute path on the server. */
  root: text().notNull(),
  state: text().$type<SourceFolder['state']>().notNull().default('watched'),
});

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
    /** SHA-256 of the content; null while it could not be read. */
    hash: text(),
    bytes: bigint({ mode: 'number' }).notNull().default(0),
    sheets: jsonb().$type<SheetSummary[]>().notNull().default([]),
    /** What a search by sheet and header looks through. */
    headings: jsonb().$type<SheetHeadings[]>().notNull().default([]),
    /** How it is read where somebody said otherwise than was found. */
    reading: jsonb().$type<SourceReading>(),
    changedAt: moment().notNull().defaultNow(),
  },
  (table) => [unique().on(table.folderId, table.path)],
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

/** Documents with their current text. */
export const documents = pgTable('documents', {
  id: uuid().primaryKey().defaultRandom(),
  kind: text().$type<'report'>().notNull(),
  name: text().notNull(),
  content: jsonb().$type<DocumentContent>().notNull(),
  version: integer().notNull().default(1),
  savedAt: moment().notNull().defaultNow(),
  savedBy: uuid().references(() => people.id, { onDelete: 'set null' }),
});

/** Snapshots by the SHA-256 of their content: equal content is stored once and never changes. */
export const snapshots = pgTable('snapshots', {
  hash: text().primaryKey(),
  /** `json`, not `jsonb`: the text must come back as it was stored, key order included, to hash the same. */
  content: json().$type<Snapshot>().notNull(),
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
  },
  (table) => [index().on(table.documentId), index().on(table.sourceId), index().on(table.standing)],
);

/** What happened, in order. */
export const logEntries = pgTable(
  'log_entries',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    at: moment().notNull().defaultNow(),
    kind: text().$type<LogEntry['kind']>().notNull(),
    personId: uuid().references(() => people.id, { onDelete: 'set null' }),
    documentId: uuid().references(() => documents.id, { onDelete: 'cascade' }),
    tetherId: uuid().references(() => tethers.id, { onDelete: 'set null' }),
    /** Names as they were then. */
    tetherName: text(),
    source: text(),
    summary: text().notNull(),
    slip: jsonb().$type<ChangeSlip>(),
  },
  (table) => [index().on(table.documentId)],
);
