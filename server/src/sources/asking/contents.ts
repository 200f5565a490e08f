import {
  MAX_TILE_CELLS,
  type SourceContents,
  type SourceReading,
  type TakePreview,
} from '@tether/contract';
import {
  type ChartData,
  cellCount,
  fail,
  ok,
  parseReference,
  type Reach,
  type Result,
  type Snapshot,
} from '@tether/core';
import { insertLog } from '../../db/log.ts';
import { findSource, setReading } from '../../db/sources.ts';
import type { Followed } from '../../following/followed.ts';
import { locate } from '../locate.ts';
import { lookNow, noteContents } from '../look.ts';
import type { Means } from '../means.ts';
import type { Reading, ReadingRequest } from '../reading/reading.ts';

/** Reads a registered source once for what a person asked to see. Faults of the file, and `not-found`. */
export async function readNow(
  { db, reader }: Pick<Means, 'db' | 'reader'>,
  sourceId: string,
  want: Pick<
    ReadingRequest,
    'reaches' | 'follow' | 'preview' | 'areas' | 'withOutline' | 'chart' | 'anchor'
  >,
): Promise<Result<Reading>> {
  const found = await findSource(db, sourceId);
  if (!found) return fail('not-found', { what: 'source' });
  const located = await locate(found.folder, found.source.path);
  if (!located.ok) return located;
  const outcome = await reader.read({
    ...located.value,
    shownPath: found.source.path,
    reading: found.source.reading,
    ...want,
  });
  return outcome.ok ? ok(outcome.value) : { ok: false, fault: outcome.fault };
}

/** The sheets of a source with the area each uses, and its defined names. */
export async function readContents(
  services: Means,
  sourceId: string,
): Promise<Result<SourceContents>> {
  const reading = await readNow(services, sourceId, { reaches: [], withOutline: true });
  if (!reading.ok) return reading;
  const { hash, outline } = reading.value;
  // The same bytes read otherwise are another state of the source.
  const overruled = JSON.stringify(outline!.delimited?.overruled ?? {});
  return ok({ hash: overruled === '{}' ? hash : `${hash} ${overruled}`, ...outline! });
}

/** The cells of `reference` on a sheet, at most 20,000 of them at once: a piece of what a person scrolls through. */
export async function readCells(
  services: Means,
  sourceId: string,
  sheet: string,
  reference: string,
): Promise<Result<Snapshot>> {
  const parsed = parseReference(reference);
  if (!parsed.ok) return parsed;
  const { area } = parsed.value;
  if (cellCount(area) > MAX_TILE_CELLS) {
    return fail('reach-too-large', { cells: cellCount(area).toLocaleString('en') });
  }
  const reading = await readNow(services, sourceId, { reaches: [], areas: [{ sheet, area }] });
  return reading.ok ? reading.value.areas[0]! : reading;
}

/** What a chart of a source draws now. */
export async function readChart(
  services: Means,
  sourceId: string,
  chart: string,
): Promise<Result<ChartData>> {
  const reading = await readNow(services, sourceId, { reaches: [], chart });
  return reading.ok ? reading.value.chart! : reading;
}

/** What a reach takes from a source now, packed to be kept. */
export async function takeNow(
  means: Pick<Means, 'db' | 'reader'>,
  sourceId: string,
  reach: Reach,
): Promise<Result<Followed>> {
  const reading = await readNow(means, sourceId, { reaches: [], follow: [{ reach, bases: [] }] });
  return reading.ok ? reading.value.followed[0]! : reading;
}

/** What a reach would take, for looking at before placing: long ones are cut to their first rows. */
export async function previewReach(
  services: Means,
  sourceId: string,
  reach: Reach,
): Promise<Result<TakePreview>> {
  const reading = await readNow(services, sourceId, { reaches: [], preview: reach });
  return reading.ok ? reading.value.preview! : reading;
}

/** Says how a source is to be read, and reads it so at once: its objects show what that changes. */
export async function changeReading(
  services: Means,
  personId: string,
  sourceId: string,
  reading: SourceReading,
): Promise<Result<null>> {
  const { db } = services;
  const found = await findSource(db, sourceId);
  if (!found) return fail('not-found', { what: 'source' });
  const isPlain = Object.keys(reading.delimited ?? {}).length === 0;
  await setReading(db, sourceId, isPlain ? null : reading);
  await insertLog(db, [
    {
      kind: 'read otherwise',
      personId,
      sourceId,
      source: `${found.folder.name}/${found.source.path}`,
      summary: isPlain ? 'As it is found to be written.' : 'As somebody said that it is written.',
    },
  ]);
  await lookNow(services, sourceId, { isForced: true });
  // Read otherwise it holds something else, though its bytes are the same.
  await noteContents(services, sourceId);
  return ok(null);
}
