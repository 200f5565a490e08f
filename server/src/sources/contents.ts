import type { SourceContents } from '@tether/contract';
import { MAX_TILE_CELLS } from '@tether/contract';
import {
  type Area,
  cellCount,
  fail,
  ok,
  parseReference,
  type Reach,
  type Result,
  resolveReach,
  type Snapshot,
} from '@tether/core';
import { findSource } from '../db/sources.ts';
import type { Services } from '../services.ts';
import { locate } from './locate.ts';
import type { Reading, ReadingRequest } from './reading.ts';

/** Reads a registered source once for what a person asked to see. Faults of the file, and `not-found`. */
async function readNow(
  { db, reader }: Pick<Services, 'db' | 'reader'>,
  sourceId: string,
  want: Pick<ReadingRequest, 'areas' | 'withUsedAreas'>,
): Promise<Result<Reading>> {
  const found = await findSource(db, sourceId);
  if (!found) return fail('not-found', { what: 'source' });
  const located = await locate(found.folder, found.source.path);
  if (!located.ok) return located;
  const outcome = await reader.read({
    path: located.value,
    shownPath: found.source.path,
    ...want,
  });
  return outcome.ok ? ok(outcome.value) : { ok: false, fault: outcome.fault };
}

/** The sheets of a source with the area each uses, and its defined names. */
export async function readContents(
  services: Services,
  sourceId: string,
): Promise<Result<SourceContents>> {
  const reading = await readNow(services, sourceId, { areas: [], withUsedAreas: true });
  if (!reading.ok) return reading;
  const { hash, sheets, names } = reading.value;
  return ok({ hash, sheets, names: names.filter(({ hidden }) => !hidden) });
}

/** The cells of `reference` on a sheet, at most 20,000 of them at once: a piece of what a person scrolls through. */
export async function readCells(
  services: Services,
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
  return readReach(services, sourceId, { kind: 'block', sheet, area });
}

/** What a reach takes from a source now. */
export async function readReach(
  services: Pick<Services, 'db' | 'reader'>,
  sourceId: string,
  reach: Reach,
): Promise<Result<Snapshot>> {
  const area: Area = reach.area;
  const reading = await readNow(services, sourceId, {
    areas: [{ sheet: reach.sheet, area }],
    withUsedAreas: false,
  });
  if (!reading.ok) return reading;
  const resolved = resolveReach(reach, reading.value.sheets);
  return resolved.ok ? reading.value.areas[0]! : resolved;
}
