import { createHash } from 'node:crypto';
import { type BigIntStats, closeSync, fstatSync, readSync, statSync } from 'node:fs';
import { MAX_TILE_CELLS, type TakePreview } from '@tether/contract';
import { cutSnapshot, fail, ok, type Reach, type Result } from '@tether/core';
import { type OpenSource, openSource, takeChart, takeReaches } from '@tether/formats';
import { followReaches } from '../../following/followed.ts';
import { openInside, pathOf } from '../locate.ts';
import { stampOfStats } from '../stamp.ts';
import { findIn, marksIn } from './marks.ts';
import { headingsOf, outlineOf } from './outline.ts';
import { anchorAll, printOf } from './prints.ts';
import type { Reading, ReadingOutcome, ReadingRequest } from './reading.ts';

/** Openings kept from the last readings, so that a person who scrolls through a sheet does not open it anew each time. */
interface Kept {
  /** State of the file. */
  stamp: string;
  /** How it is read, as somebody said. */
  howRead: string;
  /** Opened for somebody who scrolls through it, which serves everybody else as well. */
  isBrowsed: boolean;
  hash: string;
  source: OpenSource;
  /** What was opened: the source is read through it, whatever comes to stand at its path meanwhile. */
  handle: number;
}
const kept = new Map<string, Kept>();
const MAX_KEPT = 3;
const PIECE = 1 << 20;
/** A file that changes while it is read is read again, this often at most. */
const MAX_TRIES = 4;

/**
 * Reads what `request` asks for out of one state of the file: when the file changes meanwhile, it is read again. Runs
 * in a worker thread.
 */
export default async function readFile(request: ReadingRequest): Promise<ReadingOutcome> {
  let outcome = await readOnce(request);
  for (let tries = 1; tries < MAX_TRIES && !outcome.isSteady; tries++) {
    outcome = await readOnce(request);
  }
  return outcome.result;
}

async function readOnce(
  request: ReadingRequest,
): Promise<{ isSteady: boolean; result: ReadingOutcome }> {
  const { path, shownPath } = request;
  const inside = openInside(request);
  if (!inside.ok) return { isSteady: true, result: { ...inside, hash: null, bytes: 0 } };
  const handle = inside.value;
  const before = factsOf(fstatSync(handle, { bigint: true }));
  let isKept = false;
  try {
    const known = kept.get(path);
    const isBrowsed = (request.areas ?? []).length > 0;
    const howRead = JSON.stringify(request.reading ?? null);
    // The bytes of an unchanged file keep their hash, however they are read.
    let hash = known && known.stamp === before.stamp ? known.hash : null;
    const isOpen = hash !== null && known!.howRead === howRead && (known!.isBrowsed || !isBrowsed);
    if (!isOpen) {
      await forget(path);
      const hashed = hash === null ? hashFile(handle, shownPath, before.isFile) : ok(hash);
      if (!hashed.ok) {
        return { isSteady: true, result: { ...hashed, hash: null, bytes: before.bytes } };
      }
      hash = hashed.value;
      if (hash === request.unlessHash) return { isSteady: true, result: same(hash, before.bytes) };
      const source = await openSource(pathOf(handle), shownPath, {
        delimited: request.reading?.delimited,
        isBrowsed,
        hash,
      });
      if (!source.ok) {
        const isSteady = stampAt(path) === before.stamp;
        return { isSteady, result: { ...source, hash, bytes: before.bytes } };
      }
      isKept = true;
      const entry = { stamp: before.stamp, howRead, isBrowsed, hash, source: source.value, handle };
      await keep(path, entry);
    }
    if (hash === request.unlessHash) return { isSteady: true, result: same(hash, before.bytes) };
    const opened = kept.get(path)!;
    const facts = { hash: hash!, bytes: before.bytes, isOpenEnded: endsOpen(opened.handle) };
    const reading = await readAll(opened.source, request, facts);
    const isSteady = stampAt(path) === before.stamp;
    if (!isSteady || !reading.ok) await forget(path);
    return { isSteady, result: reading };
  } catch (error) {
    // What is wrong with a file comes as a fault: this is wrong with us, and what was opened may be in any state.
    await forget(path);
    throw error;
  } finally {
    if (!isKept) closeSync(handle);
  }
}

function same(hash: string, bytes: number): ReadingOutcome {
  return ok({
    hash,
    bytes,
    isOpenEnded: false,
    isSame: true,
    sheets: [],
    taken: [],
    preview: null,
    followed: [],
    areas: [],
    outline: null,
    headings: [],
    marks: [],
    print: null,
    anchored: [],
    found: [],
    chart: null,
  });
}

async function readAll(
  source: OpenSource,
  request: ReadingRequest,
  facts: Pick<Reading, 'hash' | 'bytes' | 'isOpenEnded'>,
): Promise<ReadingOutcome> {
  const { hash, bytes } = facts;
  const taken = await takeReaches(source, request.reaches);
  const preview = request.preview ? await previewOf(source, request.preview) : null;
  const followed = await followReaches(source, request.follow ?? [], request.before ?? null);
  const areas: Reading['areas'] = [];
  for (const { sheet, area } of request.areas ?? []) {
    areas.push(await source.readArea(sheet, area));
  }
  const outline = request.withOutline ? await outlineOf(source) : ok(null);
  if (!outline.ok) return { ...outline, hash, bytes };
  return ok({
    ...facts,
    isSame: false,
    sheets: source.sheets,
    taken,
    preview,
    followed,
    areas,
    outline: outline.value,
    headings: request.withHeadings ? await headingsOf(source) : [],
    marks: request.withMarks ? await marksIn(source) : [],
    print: request.withPrint ? await printOf(source) : null,
    anchored: await anchorAll(source, request.anchor ?? []),
    found: request.find ? await findIn(source, request.find) : [],
    chart: request.chart === undefined ? null : await takeChart(source, request.chart),
  });
}

/** The beginning of what a reach takes, with how far the whole of it goes. */
async function previewOf(source: OpenSource, reach: Reach): Promise<Result<TakePreview>> {
  const [taken] = await takeReaches(source, [reach]);
  if (!taken!.ok) return taken!;
  const { snapshot, warnings } = taken!.value;
  const { area } = snapshot;
  const rows = Math.max(1, Math.floor(MAX_TILE_CELLS / (area.right - area.left + 1)));
  const shown = { ...area, bottom: Math.min(area.bottom, area.top + rows - 1) };
  const isWhole = shown.bottom === area.bottom;
  return ok({ snapshot: isWhole ? snapshot : cutSnapshot(snapshot, shown), area, warnings });
}

function factsOf(stats: BigIntStats) {
  const isFile = (stats.mode & 0o170000n) === 0o100000n;
  return { stamp: stampOfStats(stats), bytes: Number(stats.size), isFile };
}

/** The state of what stands at a path now. */
function stampAt(path: string): string {
  try {
    return stampOfStats(statSync(path, { bigint: true }));
  } catch {
    return 'gone';
  }
}

/** At once, piece by piece: the reading thread has nothing else to do, and each piece handed over costs as much as it. */
function hashFile(handle: number, shownPath: string, isFile: boolean): Result<string> {
  if (!isFile) {
    return fail('source-unreadable', { path: shownPath, detail: 'it is not a plain file' });
  }
  const hash = createHash('sha256');
  const piece = Buffer.allocUnsafe(PIECE);
  try {
    for (let at = 0; ; ) {
      const length = readSync(handle, piece, 0, PIECE, at);
      if (length === 0) break;
      hash.update(piece.subarray(0, length));
      at += length;
    }
  } catch (error) {
    const detail = (error as NodeJS.ErrnoException).code ?? 'reading failed';
    return fail('source-unreadable', { path: shownPath, detail });
  }
  return ok(hash.digest('hex'));
}

/** Whether the last letter of a file is no line end, whatever encoding it is in: zero bytes are parts of one. */
function endsOpen(handle: number): boolean {
  const { size } = fstatSync(handle);
  const end = Buffer.alloc(Math.min(size, 4));
  readSync(handle, end, 0, end.length, size - end.length);
  const last = end.filter((byte) => byte !== 0).at(-1);
  return last !== undefined && last !== 0x0a && last !== 0x0d;
}

async function keep(path: string, entry: Kept) {
  kept.set(path, entry);
  const oldest = kept.keys().next().value;
  if (kept.size > MAX_KEPT && oldest !== undefined) await forget(oldest);
}

async function forget(path: string) {
  const entry = kept.get(path);
  kept.delete(path);
  if (!entry) return;
  await entry.source.close().catch(() => undefined);
  closeSync(entry.handle);
}
