import { createHash, randomUUID } from 'node:crypto';
import { closeSync, openSync, writeSync } from 'node:fs';
import { mkdir, rename, rm, rmdir } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import {
  type Bundle,
  type BundleOpened,
  type BundleSeen,
  bundledSnapshotSchema,
  type OpenBundle,
} from '@tether/contract';
import {
  changeSlip,
  fail,
  fault,
  ok,
  type Result,
  type Snapshot,
  shownTexts,
  takenChartData,
} from '@tether/core';
import { kindOf } from '@tether/documents';
import { readPicture, SOURCE_ENDINGS } from '@tether/formats';
import { scheduleTethers } from '../../changing/timetable.ts';
import type { Database } from '../../db/database.ts';
import { namesLike, setDocumentRules } from '../../db/documents.ts';
import { putEdits } from '../../db/edits.ts';
import { insertStates, recordLooks } from '../../db/history.ts';
import { insertMoorings } from '../../db/moorings.ts';
import { keepPicture } from '../../db/pictures.ts';
import { storePacked } from '../../db/snapshots.ts';
import {
  type FolderRow,
  findAlike,
  findFolder,
  type SourceRow,
  upsertSource,
} from '../../db/sources.ts';
import { insertTether, type TetherRow } from '../../db/tethers.ts';
import { showEdits } from '../../following/show-edits.ts';
import type { Means } from '../../sources/means.ts';
import { whyNotKept } from '../../sources/take-in.ts';
import { isSourcePath } from '../../sources/watching/watcher.ts';
import { type PackedSnapshot, packSnapshot } from '../../storage/packed.ts';
import { copyName, makeDocument } from '../save.ts';
import { cleanPath, PartNames } from './part-names.ts';
import { type OpenedBundle, readBundle, readJson } from './read-bundle.ts';

/** A bundle that came, as a file. */
export interface Arrived {
  path: string;
  /** What it was called where it came from. */
  name: string;
}

type Known = Awaited<ReturnType<typeof findAlike>>[number];

/** What a bundle holds, and which of its sources are here. Faults: those of reading it (`readBundle`). */
export async function seeBundle(
  { db }: Pick<Means, 'db'>,
  arrived: Arrived,
): Promise<Result<BundleSeen>> {
  const opened = await readBundle(arrived.path, arrived.name);
  if (!opened.ok) return opened;
  const { manifest, parts } = opened.value;
  await parts.close();
  const known = await findKnown(db, manifest);
  const { name } = manifest.document;
  const taken = new Set(await namesLike(db, name));
  return ok({
    name: taken.has(name) ? copyName(name, taken) : name,
    madeAt: manifest.madeAt,
    objects: manifest.objects.length,
    sources: manifest.sources.map(({ folder, path, bytes, part }, nth) => {
      const own = known[nth];
      return {
        ...{ path: `${folder}/${path}`, bytes, hasCopy: part !== null },
        objects: manifest.objects.filter(({ source }) => source === nth).length,
        known: own ? { id: own.source.id, path: `${own.folder.name}/${own.source.path}` } : null,
      };
    }),
  });
}

/**
 * For each source of a bundle the file here that is the same: with the same bytes, read the same way; of several the one with the
 * same folder and path. One of which there is no copy is known by its place alone.
 */
async function findKnown(db: Database, { sources }: Bundle): Promise<(Known | null)[]> {
  const alike = await findAlike(db, sources);
  const isSame = (one: unknown, other: unknown) =>
    JSON.stringify(one ?? null) === JSON.stringify(other ?? null);
  return sources.map((wanted) => {
    const isThere = ({ source, folder }: Known) =>
      source.path === wanted.path && folder.name === wanted.folder;
    if (wanted.part === null) return alike.find(isThere) ?? null;
    const same = alike.filter(
      ({ source }) =>
        source.state === 'present' &&
        source.hash === wanted.hash &&
        isSame(source.reading, wanted.reading),
    );
    return (
      same.find(isThere) ??
      same.find(({ source }) => source.path === wanted.path) ??
      same[0] ??
      null
    );
  });
}

/**
 * Makes the document of a bundle here, its objects tied to files that are known here or to copies that are put into a folder. What
 * its objects show is what they showed; when their files say otherwise they are behind. All of it comes, or nothing.
 * Faults: `bundle-not-one`, `bundle-newer`, `not-found` (the folder), `folder-offline`.
 */
export async function openBundle(
  means: Pick<Means, 'db' | 'queue'>,
  person: { id: string; name: string },
  arrived: Arrived,
  wish: OpenBundle,
): Promise<Result<BundleOpened>> {
  const folder = await findFolder(means.db, wish.folder);
  if (!folder) return fail('not-found', { what: 'source folder' });
  const opened = await readBundle(arrived.path, arrived.name);
  if (!opened.ok) return opened;
  const waiting = join(folder.root, `.${randomUUID()}.arriving`);
  const place = { name: '' };
  try {
    const { manifest } = opened.value;
    const known = wish.known === 'yes' ? await findKnown(means.db, manifest) : [];
    const shows = await readShows(opened.value, arrived.name);
    if (!shows.ok) return shows;
    const copies = await unpack(opened.value, { folder, waiting, place, known, wish, ...arrived });
    if (!copies.ok) return copies;
    const pictures = await readPictures(opened.value, arrived.name);
    if (!pictures.ok) return pictures;
    const made = await store(means, person, {
      ...{ opened: opened.value, folder, known, wish },
      ...{ shows: shows.value, copies: copies.value, pictures: pictures.value },
    });
    // Now that they are tied to something nobody takes them for files that went from elsewhere.
    for (const { at, path } of copies.value.values()) {
      if (at === null) continue;
      await mkdir(dirname(join(folder.root, path)), { recursive: true });
      await rename(at, join(folder.root, path));
    }
    for (const id of made.looks) await means.queue.askLook(id, { isForced: true });
    return ok(made.outcome);
  } finally {
    await opened.value.parts.close();
    await rm(waiting, { recursive: true, force: true }).catch(() => undefined);
    // Where nothing came of it, no folder without files is left.
    if (place.name) await rmdir(join(folder.root, place.name)).catch(() => undefined);
  }
}

/** Where the copy of a source is and where it will lie below the folder; `at` null where none came along. */
type Copies = Map<number, { at: string | null; path: string }>;

/** Unpacks the copies that are needed, where nobody takes them for sources yet. */
async function unpack(
  { manifest, parts }: OpenedBundle,
  to: {
    folder: FolderRow;
    waiting: string;
    /** Told what the folder of its own is called. */
    place: { name: string };
    known: (Known | null)[];
    wish: OpenBundle;
    name: string;
  },
): Promise<Result<Copies>> {
  const copies: Copies = new Map();
  const needed = [...manifest.sources.entries()].filter(([nth]) => !to.known[nth]);
  if (needed.length === 0) return ok(copies);
  try {
    await mkdir(to.waiting);
    to.place.name = await makePlace(
      to.folder.root,
      cleanPath(to.wish.name.replace(/\//g, '_')) || 'Bundle',
    );
    const names = new PartNames();
    for (const [nth, { folder, path, hash, part }] of needed) {
      const clean = cleanPath(folder, path);
      const named = isSourcePath(clean) ? clean : `${clean || 'source'}.${SOURCE_ENDINGS[0]}`;
      const at = part === null ? null : join(to.waiting, String(nth));
      if (at !== null && (await unpackTo(parts, part!, at)) !== hash) {
        return fail('bundle-not-one', { path: to.name, detail: `its part ${part} is damaged` });
      }
      copies.set(nth, { at, path: `${to.place.name}/${names.name(named)}` });
    }
    return ok(copies);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === undefined) throw error;
    const { name, folder } = to;
    return { ok: false, fault: whyNotKept(error, { name, limit: '1 GB', folder: folder.name }) };
  }
}

/** Makes a folder of its own below a folder: whoever opens a bundle at the same time gets another one. Gives its name. */
async function makePlace(root: string, wanted: string): Promise<string> {
  for (let nth = 1; ; nth++) {
    const name = nth === 1 ? wanted : `${wanted} ${nth}`;
    try {
      await mkdir(join(root, name));
      return name;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
  }
}

/** Writes a part into a file; gives the SHA-256 of its bytes, null where it cannot be unpacked. */
async function unpackTo(parts: OpenedBundle['parts'], part: string, at: string) {
  const handle = openSync(at, 'wx');
  try {
    const hash = createHash('sha256');
    const done = await parts.scan(part, (piece) => {
      hash.update(piece);
      writeSync(handle, piece);
      return true;
    });
    return done.ok ? hash.digest('hex') : null;
  } finally {
    closeSync(handle);
  }
}

/** What each object shows, by its part, ready to be stored. */
async function readShows(
  { manifest, parts }: OpenedBundle,
  path: string,
): Promise<Result<Map<string, PackedSnapshot>>> {
  const shows = new Map<string, PackedSnapshot>();
  for (const part of new Set(manifest.objects.map((each) => each.shows))) {
    const read = await readJson(parts, part);
    const snapshot = read.ok ? bundledSnapshotSchema.safeParse(read.value) : null;
    if (!snapshot?.success || !canBeDrawn(snapshot.data)) {
      return fail('bundle-not-one', { path, detail: `its part ${part} is damaged` });
    }
    shows.set(part, packSnapshot(snapshot.data));
  }
  return ok(shows);
}

/** Whether what draws and compares a snapshot gets along with it: it may have been made up. */
function canBeDrawn(snapshot: Snapshot): boolean {
  try {
    shownTexts(snapshot);
    changeSlip(snapshot, { ...snapshot, cells: [] });
    if (snapshot.chart) takenChartData(snapshot);
    return true;
  } catch {
    return false;
  }
}

async function readPictures(
  { manifest, parts }: OpenedBundle,
  path: string,
): Promise<Result<Buffer[]>> {
  const pictures: Buffer[] = [];
  for (const { hash, part } of manifest.pictures) {
    const bytes = await parts.read(part);
    const isWhole = bytes.ok && createHash('sha256').update(bytes.value).digest('hex') === hash;
    if (!isWhole || !readPicture(bytes.value).ok) {
      return fail('bundle-not-one', { path, detail: `its picture ${part} is damaged` });
    }
    pictures.push(bytes.value);
  }
  return ok(pictures);
}

/** Puts everything into the database; gives what came of it, and which sources are to be looked at. */
function store(
  { db }: Pick<Means, 'db'>,
  person: { id: string; name: string },
  all: {
    opened: OpenedBundle;
    folder: FolderRow;
    known: (Known | null)[];
    wish: OpenBundle;
    shows: Map<string, PackedSnapshot>;
    copies: Copies;
    pictures: Buffer[];
  },
): Promise<{ outcome: BundleOpened; looks: string[] }> {
  const { manifest, content } = all.opened;
  const { kind, mode, share } = manifest.document;
  return db.transaction(async (tx) => {
    for (const bytes of all.pictures) {
      const read = readPicture(bytes);
      if (read.ok) await keepPicture(tx, read.value, bytes);
    }
    await storePacked(tx, [...all.shows.values()]);
    const sources: SourceRow[] = [];
    const missing: string[] = [];
    for (const [nth, { reading, mode, folder, path }] of manifest.sources.entries()) {
      const known = all.known[nth];
      const copy = all.copies.get(nth);
      if (known || !copy) {
        sources.push(known!.source);
        continue;
      }
      if (copy.at === null) missing.push(`${folder}/${path}`);
      const state = copy.at === null ? 'missing' : 'new';
      const seen = { folderId: all.folder.id, path: copy.path, state } as const;
      sources.push(await upsertSource(tx, { ...seen, reading, mode }));
    }
    const objects = new Map(manifest.objects.map((each) => [each.id, each]));
    const own = kindOf(kind).asCopies(content, randomUUID);
    const documentId = await makeDocument(tx, person, {
      ...{ kind, name: all.wish.name, content: own },
      said: `“${all.wish.name}”, from a bundle.`,
      async before(documentId) {
        const rows: TetherRow[] = [];
        for (const placement of kindOf(kind).placements(own)) {
          const object = objects.get(placement.copyOf ?? placement.tetherId);
          if (!object) continue;
          rows.push(
            await insertTether(tx, {
              ...{ id: placement.tetherId, documentId, placed: true },
              ...rowOf(object, all.shows.get(object.shows)!.hash, person.id),
              ...(object.isFrozen ? {} : standingFor(sources[object.source]!)),
              sourceId: sources[object.source]!.id,
            }),
          );
          await putEdits(tx, person.id, placement.tetherId, object.edits);
        }
        // Names that came in copies are ours: no other document holds on to them.
        const copied = new Set([...all.copies.keys()].map((nth) => sources[nth]!.id));
        await insertMoorings(
          tx,
          rows.flatMap(({ sourceId, reach }) =>
            copied.has(sourceId) && reach.kind === 'block' && reach.mooring !== undefined
              ? [{ sourceId, name: reach.mooring }]
              : [],
          ),
        );
        await insertStates(
          tx,
          rows.map(({ id, base, reach }) => ({
            ...{ tetherId: id, snapshot: base, reach, personId: person.id },
            ...{ how: 'placed' as const, summary: 'It came in a bundle.' },
          })),
        );
        for (const row of rows) await showEdits(tx, row);
        await recordLooks(tx, person.id, rows);
        await scheduleTethers(
          tx,
          rows.map(({ id }) => id),
        );
      },
    });
    await setDocumentRules(tx, documentId, { mode, share });
    const copies = [...all.copies.values()].filter(({ at }) => at !== null);
    return {
      outcome: {
        ...{ documentId, missing },
        copies: copies.map(({ path }) => `${all.folder.name}/${path}`),
      },
      looks: [...new Set(sources.map(({ id }) => id))],
    };
  });
}

function rowOf(object: Bundle['objects'][number], base: string, personId: string) {
  const { name, form, reach, mode, unlocked, isFrozen } = object;
  return {
    ...{ name, form, reach, mode, unlocked, base },
    // What came in from elsewhere is written into no file before somebody looked at it.
    writesAtOnce: false,
    refreshedAt: new Date(object.refreshedAt),
    ...(isFrozen
      ? { standing: 'frozen' as const, frozenAt: new Date(), frozenBy: personId }
      : { standing: 'in step' as const }),
  };
}

/** An object whose source is not here keeps what it shows, and says so. */
function standingFor({ state, path }: SourceRow) {
  if (state !== 'missing') return {};
  return { standing: 'adrift' as const, reason: fault('source-missing', { path }) };
}
