import { createReadStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  BUNDLE_FORMAT,
  BUNDLE_MANIFEST,
  BUNDLE_VERSION,
  type Bundle,
  type BundleContents,
  MAX_BUNDLE_BYTES,
} from '@tether/contract';
import { fail, ok, type Result } from '@tether/core';
import { kindOf } from '@tether/documents';
import { type ZipPart, zipParts } from '@tether/formats';
import { findDocument } from '../../db/documents.ts';
import { findEdits } from '../../db/edits.ts';
import { findPicture } from '../../db/pictures.ts';
import { findPacked } from '../../db/snapshots.ts';
import { findSources } from '../../db/sources.ts';
import { findTethers, placedIn } from '../../db/tethers.ts';
import { copyFile } from '../../sources/copy-file.ts';
import { locate } from '../../sources/locate.ts';
import type { Means } from '../../sources/means.ts';
import { unpackSnapshot } from '../../storage/packed.ts';
import { writeOutDocument } from '../write-out.ts';
import { cleanPath, PartNames } from './part-names.ts';

/** Sources whose bytes are packed already: most kinds are zips themselves. */
const TEXT = /\.(csv|tsv|txt|fods)$/i;

/** A document with its objects and their sources, as they stand in the database. */
async function findAll({ db }: Pick<Means, 'db'>, documentId: string) {
  await writeOutDocument(db, documentId);
  const document = await findDocument(db, documentId);
  if (!document) return null;
  const objects = await findTethers(db, await placedIn(db, documentId));
  const sources = await findSources(db, [...new Set(objects.map(({ sourceId }) => sourceId))]);
  const pictures = kindOf(document.kind).pictures(document.content);
  return { document, objects, sources, pictures };
}

/** What a bundle of a document would hold. Fault: `not-found`. */
export async function seePacking(
  means: Pick<Means, 'db'>,
  documentId: string,
): Promise<Result<BundleContents>> {
  const found = await findAll(means, documentId);
  if (!found) return fail('not-found', { what: 'document' });
  const sources = await Promise.all(
    found.sources.map(async ({ source, folder }) => ({
      path: `${folder.name}/${source.path}`,
      bytes: source.bytes,
      isThere: (await locate(folder, source.path)).ok,
    })),
  );
  return ok({
    objects: found.objects.length,
    edited: found.objects.filter(({ editCount }) => editCount > 0).length,
    sources: sources.sort((a, b) => (a.path < b.path ? -1 : 1)),
    pictures: found.pictures.length,
  });
}

/** A bundle on its way out. */
export interface Packed {
  /** Of the document. */
  name: string;
  bytes: AsyncGenerator<Uint8Array>;
}

/**
 * Makes a bundle of a document: what it says, what its objects show, and copies of their sources as they are now. A source that
 * is not there is named without a copy. Its bytes must be taken to their end, or be given up. Faults: `not-found`,
 * `bundle-too-large`.
 */
export async function packBundle(
  means: Pick<Means, 'db'>,
  documentId: string,
): Promise<Result<Packed>> {
  const found = await findAll(means, documentId);
  if (!found) return fail('not-found', { what: 'document' });
  const size = found.sources.reduce((sum, { source }) => sum + source.bytes, 0);
  if (size > MAX_BUNDLE_BYTES) return fail('bundle-too-large', { limit: '1 GB' });
  return ok({ name: found.document.name, bytes: packed(means, found) });
}

async function* packed(
  { db }: Pick<Means, 'db'>,
  { document, objects, sources, pictures }: NonNullable<Awaited<ReturnType<typeof findAll>>>,
): AsyncGenerator<Uint8Array> {
  // Copied first: the manifest, which comes before them, says what their bytes are.
  const waiting = await mkdtemp(join(tmpdir(), 'bundle-'));
  try {
    const names = new PartNames();
    const copies: { part: string; at: string }[] = [];
    const known: Bundle['sources'] = [];
    for (const [nth, { source, folder }] of sources.entries()) {
      const at = join(waiting, String(nth));
      const copy = await copyFile(folder, source.path, at);
      const part = copy.ok ? names.name(`sources/${cleanPath(folder.name, source.path)}`) : null;
      if (part !== null) copies.push({ part, at });
      const { path, reading, mode } = source;
      known.push({
        ...{ folder: folder.name, path, reading, mode, part },
        ...(copy.ok ? copy.value : { hash: null, bytes: 0 }),
      });
    }
    const edits = await findEdits(
      db,
      objects.map(({ id }) => id),
    );
    const shows = new Map<string, string>();
    for (const { base } of objects) {
      if (!shows.has(base)) shows.set(base, names.name(`shows/${shows.size + 1}.json`));
    }
    const kept = new Map<string, string>();
    for (const hash of pictures) kept.set(hash, names.name(`pictures/${hash.slice(0, 16)}`));
    const { kind, name, mode, share, content } = document;
    const manifest: Bundle = {
      format: BUNDLE_FORMAT,
      version: BUNDLE_VERSION,
      madeAt: new Date().toISOString(),
      document: { kind, name, mode, share, content },
      sources: known,
      objects: objects.map((row) => ({
        ...{ id: row.id, name: row.name, form: row.form, reach: row.reach, mode: row.mode },
        source: sources.findIndex(({ source }) => source.id === row.sourceId),
        shows: shows.get(row.base)!,
        refreshedAt: row.refreshedAt.toISOString(),
        isFrozen: row.frozenAt !== null,
        unlocked: row.unlocked,
        writesAtOnce: row.writesAtOnce,
        edits: edits
          .filter(({ tetherId }) => tetherId === row.id)
          .map(({ row, column, value, agreed, isGone, isOverFormula }) => ({
            ...{ row, column, value, agreed, isGone, isOverFormula },
          })),
      })),
      pictures: [...kept].map(([hash, part]) => ({ hash, part })),
    };
    yield* zipParts(partsOf(db, { manifest, copies, shows, kept }));
  } finally {
    await rm(waiting, { recursive: true, force: true });
  }
}

/** One part after the other, so that little of them is held at once. */
async function* partsOf(
  db: Means['db'],
  held: {
    manifest: Bundle;
    copies: { part: string; at: string }[];
    shows: Map<string, string>;
    kept: Map<string, string>;
  },
): AsyncGenerator<ZipPart> {
  const text = (name: string, content: unknown): ZipPart => ({
    name,
    bytes: [Buffer.from(`${JSON.stringify(content, null, name === BUNDLE_MANIFEST ? 1 : 0)}\n`)],
    isPacked: false,
  });
  yield text(BUNDLE_MANIFEST, held.manifest);
  for (const { part, at } of held.copies) {
    yield { name: part, bytes: createReadStream(at), isPacked: !TEXT.test(part) };
  }
  for (const [hash, part] of held.shows) {
    const packed = (await findPacked(db, [hash])).get(hash);
    if (packed) yield text(part, unpackSnapshot(packed));
  }
  for (const [hash, part] of held.kept) {
    const picture = await findPicture(db, hash);
    if (picture) yield { name: part, bytes: [picture.bytes], isPacked: true };
  }
}
