import type {
  SheetHeadings,
  SourceFolder,
  SourceMatch,
  SourceReading,
  SourceSummary,
} from '@tether/contract';
import type { Mode } from '@tether/core';
import { and, asc, desc, eq, inArray, or, type SQL, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { isOneOf } from './rows.ts';
import { type SourcePrint, sourceFolders, sourceMarks, sourcePrints, sources } from './schema.ts';

export type FolderRow = typeof sourceFolders.$inferSelect;
export type SourceRow = typeof sources.$inferSelect;

/** Registers a folder. */
export async function insertFolder(
  db: Database,
  folder: typeof sourceFolders.$inferInsert,
): Promise<FolderRow> {
  const [row] = await db.insert(sourceFolders).values(folder).returning();
  return row!;
}

/** All folders by name. */
export function listFolders(db: Database): Promise<FolderRow[]> {
  return db.select().from(sourceFolders).orderBy(asc(sourceFolders.name));
}

/** Sets whether a folder can be reached; false when nothing changed. */
export async function setFolderState(
  db: Database,
  id: string,
  state: SourceFolder['state'],
): Promise<boolean> {
  const rows = await db
    .update(sourceFolders)
    .set({ state })
    .where(sql`${sourceFolders.id} = ${id} and ${sourceFolders.state} <> ${state}`)
    .returning({ id: sourceFolders.id });
  return rows.length > 0;
}

/** A folder by its id. */
export async function findFolder(db: Database, id: string): Promise<FolderRow | null> {
  const [row] = await db.select().from(sourceFolders).where(eq(sourceFolders.id, id));
  return row ?? null;
}

/** Changes what is said of a folder: its name, where it lies, its rule. */
export async function updateFolder(
  db: Database,
  id: string,
  values: Partial<Pick<FolderRow, 'name' | 'root' | 'followsCertain'>>,
): Promise<FolderRow> {
  const [row] = await db
    .update(sourceFolders)
    .set(values)
    .where(eq(sourceFolders.id, id))
    .returning();
  return row!;
}

/** Forgets a folder and its files; what is on the disk stays. */
export async function deleteFolder(db: Database, id: string): Promise<void> {
  await db.delete(sourceFolders).where(eq(sourceFolders.id, id));
}

/** Sets how a source is read; null for as it is found to be. */
export async function setReading(
  db: Database,
  id: string,
  reading: SourceReading | null,
): Promise<void> {
  await db.update(sources).set({ reading }).where(eq(sources.id, id));
}

const MAX_MATCHES = 200;
const MATCHES_EACH = 3;

/** Sheets and headers that have all of the words, a few of each source. */
export async function searchHeadings(
  db: Database,
  words: readonly string[],
): Promise<SourceMatch[]> {
  const patterns = words.map((word) => `%${word.replace(/[\\%_]/g, '\\$&')}%`);
  const rows = await db
    .select({ id: sources.id, headings: sources.headings })
    .from(sources)
    .where(and(...patterns.map((pattern) => sql`${sources.headings}::text ilike ${pattern}`)))
    .orderBy(asc(sources.path))
    .limit(MAX_MATCHES);
  // Every word must begin a word of the text: `on` is not found in `second`.
  const begins = words.map((word) => word.toLowerCase());
  const has = (text: string) => {
    const inText = text.toLowerCase().split(/[^\p{L}\p{N}]+/u);
    return begins.every(
      (word) => inText.some((each) => each.startsWith(word)) || text.toLowerCase().startsWith(word),
    );
  };
  return rows.flatMap(({ id, headings }) =>
    headings
      .flatMap(({ sheet, headers }) => [
        ...(has(sheet) ? [{ sourceId: id, sheet, header: null }] : []),
        ...headers
          .filter((header) => has(header) && header !== sheet)
          .map((header) => ({ sourceId: id, sheet, header })),
      ])
      .slice(0, MATCHES_EACH),
  );
}

/** Sets when objects that take of a source refresh, where nothing is said of them; false when there is no such source. */
export async function setSourceMode(db: Database, id: string, mode: Mode | null): Promise<boolean> {
  const rows = await db
    .update(sources)
    .set({ mode })
    .where(eq(sources.id, id))
    .returning({ id: sources.id });
  return rows.length > 0;
}

/** Counts that somebody wants a source looked at. */
export async function askForLook(db: Database, id: string): Promise<void> {
  await db
    .update(sources)
    .set({ askedNumber: sql`nextval('reading_numbers')` })
    .where(eq(sources.id, id));
}

/** The same of the sources at these places; gives the id of each, null where none is known. */
export async function askForLooksAt(
  db: Database,
  places: readonly { folderId: string; path: string }[],
): Promise<(string | null)[]> {
  const { rows } = await db.execute<{ id: string; at: number }>(sql`
    update ${sources} s set asked_number = nextval('reading_numbers')
    from jsonb_array_elements(${JSON.stringify(places)}::jsonb) with ordinality as v (place, at)
    where s.folder_id = (v.place ->> 'folderId')::uuid and s.path = v.place ->> 'path'
    returning s.id, v.at::int`);
  const byPlace = new Map(rows.map(({ id, at }) => [at, id]));
  return places.map((_, index) => byPlace.get(index + 1) ?? null);
}

/** A number for a reading that begins now: higher than that of every reading that began before, in any process. */
export async function nextReadingNumber(db: Database): Promise<number> {
  const { rows } = await db.execute<{ number: string }>(
    sql`select nextval('reading_numbers') as number`,
  );
  return Number(rows[0]!.number);
}

/**
 * What is left to do after reading `number` of each source, in their order: whether somebody asked for a look after it
 * began, and whether what is noted of the source is of other bytes than it has now.
 */
export async function leftAfter(
  db: Database,
  readings: readonly { id: string; number: number }[],
): Promise<{ isAsked: boolean; lacksNotes: boolean }[]> {
  const rows = await db
    .select({
      id: sources.id,
      asked: sources.askedNumber,
      hash: sources.hash,
      notedHash: sources.notedHash,
    })
    .from(sources)
    .where(
      inArray(
        sources.id,
        readings.map(({ id }) => id),
      ),
    );
  const byId = new Map(rows.map((row) => [row.id, row]));
  return readings.map(({ id, number }) => {
    const row = byId.get(id);
    if (!row) return { isAsked: false, lacksNotes: false };
    return {
      isAsked: row.asked > number,
      lacksNotes: row.hash !== null && row.hash !== row.notedHash,
    };
  });
}

/** What a reading saw of a source. */
export interface SeenSource
  extends Pick<SourceRow, 'state' | 'fault' | 'hash' | 'bytes' | 'stamp'> {
  /** Null for as it was. */
  sheets: SourceRow['sheets'] | null;
  /** Null for as it was. */
  changedAt: Date | null;
}

/** Records what readings of different sources saw under their numbers; gives the sources of which no reading that began later was recorded already. */
export async function recordReadings(
  tx: Database,
  readings: readonly { id: string; number: number; seen: SeenSource }[],
): Promise<Set<string>> {
  const { rows } = await tx.execute<{ id: string }>(sql`
    with locked as (
      select s.id as known, v.* from ${sources} s
      join jsonb_to_recordset(${JSON.stringify(readings)}::jsonb) as v (id uuid, number bigint, seen jsonb)
        on v.id = s.id
      where s.read_number < v.number
      order by s.id for no key update of s
    )
    update ${sources} s set
      read_number = l.number,
      state = coalesce(l.seen ->> 'state', s.state),
      fault = nullif(l.seen -> 'fault', 'null'),
      hash = l.seen ->> 'hash',
      bytes = coalesce((l.seen ->> 'bytes')::bigint, s.bytes),
      sheets = coalesce(nullif(l.seen -> 'sheets', 'null'), s.sheets),
      stamp = coalesce(l.seen ->> 'stamp', s.stamp),
      changed_at = coalesce((l.seen ->> 'changedAt')::timestamptz, s.changed_at)
    from locked l where s.id = l.known returning s.id`);
  return new Set(rows.map(({ id }) => id));
}

/** Gives sources of a folder the number of something that is recorded of all of them: readings that began before come too late. */
export async function numberSources(tx: Database, folderId: string, number: number): Promise<void> {
  await tx.execute(sql`
    update ${sources} s set read_number = ${number} where s.id in (
      select id from ${sources} where folder_id = ${folderId} and read_number < ${number}
      order by id for no key update)`);
}

/** Sets in which state the file was last looked at; null for none. */
export async function setStamp(db: Database, id: string, stamp: string | null): Promise<void> {
  await db.update(sources).set({ stamp }).where(eq(sources.id, id));
}

/** Of a folder's files the ids of those that need a look although their file is as it was: something is missing. */
export async function listUnsettled(db: Database, folderId: string): Promise<Set<string>> {
  const { rows } = await db.execute<{ id: string }>(sql`
    select s.id from sources s where s.folder_id = ${folderId} and (
      s.state <> 'present' or s.noted_hash is distinct from s.hash
      or exists (select 1 from tethers t where t.source_id = s.id and t.standing = 'adrift'))`);
  return new Set(rows.map(({ id }) => id));
}

/** An array of numbers as one parameter: thousands, each a parameter, would keep the process from other work. */
function integers(numbers: readonly number[]): SQL {
  return sql`${`{${numbers.join(',')}}`}::integer[]`;
}

/** Keeps by what a source can be searched: headings, and marks of its values; `hash` is that of the bytes they are of. */
export async function storeNotes(
  db: Database,
  sourceId: string,
  {
    hash,
    headings,
    marks,
    print,
  }: {
    hash: string;
    headings: SheetHeadings[];
    marks: number[];
    print: { print: SourcePrint; sheets: Uint8Array | null } | null;
  },
): Promise<void> {
  await db.transaction(async (tx) => {
    const known = await tx
      .update(sources)
      .set({ headings, notedHash: hash })
      .where(eq(sources.id, sourceId))
      .returning({ id: sources.id });
    if (known.length === 0) return;
    // What a later look said of the file goes before what these notes say of one of its sheets.
    await tx
      .update(sources)
      .set({ fault: headings.find(({ fault }) => fault)?.fault ?? null })
      .where(and(eq(sources.id, sourceId), eq(sources.state, 'present'), eq(sources.hash, hash)));
    const packed = integers(marks);
    await tx
      .insert(sourceMarks)
      .values({ sourceId, marks: packed })
      .onConflictDoUpdate({ target: sourceMarks.sourceId, set: { marks: packed } });
    if (!print) return;
    const kept = { hash, print: print.print, sheets: print.sheets && Buffer.from(print.sheets) };
    await tx
      .insert(sourcePrints)
      .values({ sourceId, ...kept })
      .onConflictDoUpdate({ target: sourcePrints.sourceId, set: kept });
  });
}

/** The sources that hold the most of these values, each with how many: present ones, at least one value. */
export function sourcesWithMarks(
  db: Database,
  marks: readonly number[],
  limit: number,
): Promise<{ id: string; shared: number }[]> {
  const wanted = integers(marks);
  const shared = sql<number>`cardinality(array(
    select unnest(${sourceMarks.marks}) intersect select unnest(${wanted})))`;
  return db
    .select({ id: sources.id, shared: shared.mapWith(Number) })
    .from(sourceMarks)
    .innerJoin(sources, eq(sources.id, sourceMarks.sourceId))
    .where(and(eq(sources.state, 'present'), sql`${sourceMarks.marks} && ${wanted}`))
    .orderBy(desc(shared), asc(sources.path))
    .limit(limit);
}

/** Sources with what is kept to find them again, and the marks by which others like them are looked for. */
export async function findPrints(
  db: Database,
  ids: readonly string[],
): Promise<
  { source: SourceRow; folder: FolderRow; print: SourcePrint | null; printHash: string | null }[]
> {
  if (ids.length === 0) return [];
  return db
    .select({
      source: sources,
      folder: sourceFolders,
      print: sourcePrints.print,
      printHash: sourcePrints.hash,
    })
    .from(sources)
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .leftJoin(sourcePrints, eq(sourcePrints.sourceId, sources.id))
    .where(isOneOf(sources.id, ids));
}

/** Of sources their sheets cell by cell, packed, as far as these are kept of the state that was read last. */
export async function findSheetPrints(
  db: Database,
  ids: readonly string[],
): Promise<Map<string, Uint8Array>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({ id: sourcePrints.sourceId, sheets: sourcePrints.sheets })
    .from(sourcePrints)
    .innerJoin(
      sources,
      and(eq(sources.id, sourcePrints.sourceId), eq(sources.hash, sourcePrints.hash)),
    )
    .where(isOneOf(sourcePrints.sourceId, new Set(ids)));
  return new Map(rows.flatMap(({ id, sheets }) => (sheets ? [[id, new Uint8Array(sheets)]] : [])));
}

/** Present sources that may be another one: the same bytes, the same name, or many of its values. */
export async function listLikely(db: Database, id: string, most: number): Promise<string[]> {
  const { rows } = await db.execute<{
    id: string;
    path: string;
    marks: number[];
    hash: string;
  }>(sql`
    select s.path, coalesce(m.marks, '{}') as marks, s.hash
    from sources s left join source_marks m on m.source_id = s.id where s.id = ${id}`);
  const [own] = rows;
  if (!own) return [];
  const name = own.path.slice(own.path.lastIndexOf('/') + 1).toLowerCase();
  const alike = await db
    .select({ id: sources.id })
    .from(sources)
    .where(
      and(
        eq(sources.state, 'present'),
        sql`(${sources.hash} = ${own.hash} or lower(regexp_replace(${sources.path}, '^.*/', '')) = ${name})`,
      ),
    )
    .limit(most);
  const shared = own.marks.length > 0 ? await sourcesWithMarks(db, own.marks, most) : [];
  const ids = new Set([...alike, ...shared].map((each) => each.id));
  ids.delete(id);
  return [...ids];
}

/** Sources with one of these contents, or at one of these places (the folder by its name); with their folders. */
export async function findAlike(
  db: Database,
  wanted: readonly { hash: string | null; folder: string; path: string }[],
): Promise<{ source: SourceRow; folder: FolderRow }[]> {
  if (wanted.length === 0) return [];
  const hashes = wanted.flatMap(({ hash }) => hash ?? []);
  const places = new Set(wanted.map(({ folder, path }) => `${folder}/${path}`));
  return db
    .select({ source: sources, folder: sourceFolders })
    .from(sources)
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .where(
      or(
        isOneOf(sources.hash, new Set(hashes)),
        isOneOf(sql`${sourceFolders.name} || '/' || ${sources.path}`, places),
      ),
    )
    .orderBy(asc(sources.path));
}

/** The files of a folder. */
export function listFolderSources(db: Database, folderId: string): Promise<SourceRow[]> {
  return db.select().from(sources).where(eq(sources.folderId, folderId)).orderBy(asc(sources.path));
}

/** Begins readings: of each source that is there its number, and the source together with its folder. */
export async function beginReadings(
  db: Database,
  ids: readonly string[],
): Promise<Map<string, { number: number; source: SourceRow; folder: FolderRow }>> {
  const rows = await db
    .select({
      number: sql`nextval('reading_numbers')`.mapWith(Number),
      source: sources,
      folder: sourceFolders,
    })
    .from(sources)
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .where(inArray(sources.id, [...ids]));
  return new Map(rows.map((row) => [row.source.id, row]));
}

/** A source together with its folder. */
export async function findSource(
  db: Database,
  id: string,
): Promise<{ source: SourceRow; folder: FolderRow } | null> {
  const [row] = await db
    .select({ source: sources, folder: sourceFolders })
    .from(sources)
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .where(eq(sources.id, id));
  return row ?? null;
}

/** These sources with their folders. */
export async function findSources(
  db: Database,
  ids: readonly string[],
): Promise<{ source: SourceRow; folder: FolderRow }[]> {
  if (ids.length === 0) return [];
  return db
    .select({ source: sources, folder: sourceFolders })
    .from(sources)
    .innerJoin(sourceFolders, eq(sourceFolders.id, sources.folderId))
    .where(isOneOf(sources.id, ids));
}

/** A source with its folder, the former locked for the running transaction. */
export async function lockSource(
  tx: Database,
  id: string,
): Promise<{ source: SourceRow; folder: FolderRow } | null> {
  await tx.select({ id: sources.id }).from(sources).where(eq(sources.id, id)).for('no key update');
  return findSource(tx, id);
}

/** Records how a file was seen, under its folder and path. */
export async function upsertSource(
  db: Database,
  seen: typeof sources.$inferInsert,
): Promise<SourceRow> {
  const { folderId: _, path: __, ...values } = seen;
  const [row] = await db
    .insert(sources)
    .values(seen)
    .onConflictDoUpdate({ target: [sources.folderId, sources.path], set: values })
    .returning();
  return row!;
}

/** All folders with their files, for the screen. */
export async function describeFolders(db: Database): Promise<SourceFolder[]> {
  const folders = await listFolders(db);
  const files = await db.select().from(sources).orderBy(asc(sources.path));
  return folders.map(({ id, name, root, state, followsCertain }) => ({
    ...{ id, name, root, state, followsCertain },
    sources: files.filter((file) => file.folderId === id).map((file) => summarise(file, name)),
  }));
}

function summarise(file: SourceRow, folder: string): SourceSummary {
  const { id, folderId, path, state, fault, bytes, changedAt, mode } = file;
  const changed = changedAt.toISOString();
  return { id, folderId, folder, path, state, fault, bytes, changedAt: changed, mode };
}
