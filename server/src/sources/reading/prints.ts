import { anchorsOf, printSheet, type SheetPrint } from '@tether/core';
import { type OpenSource, printSource } from '@tether/formats';
import type { SourcePrint } from '../../db/schema.ts';
import { unpackSnapshot } from '../../storage/packed.ts';
import { packPrints } from '../../storage/packed-prints.ts';
import type { Anchored, ReadingRequest } from './reading.ts';

/** Places of a sheet that are looked at, from its first row. */
const MOST_PLACES = 400_000;

/**
 * By what a source is found again when it goes elsewhere, and its sheets cell by cell, packed; null where it cannot be read. Runs in
 * a reading thread.
 */
export async function printOf(
  source: OpenSource,
): Promise<{ print: SourcePrint; sheets: Uint8Array | null } | null> {
  const printed = await printSource(source, MOST_PLACES);
  if (!printed.ok) return null;
  const { sheets, headers, prints } = printed.value;
  return {
    print: { sheets, headers, names: source.names.map(({ name }) => name) },
    sheets: packPrints(prints.filter((print) => print !== null)),
  };
}

/** Where snapshots stand in a source; null for those that do not. Runs in a reading thread. */
export async function anchorAll(
  source: OpenSource,
  wanted: NonNullable<ReadingRequest['anchor']>,
): Promise<(Anchored | null)[]> {
  if (wanted.length === 0) return [];
  const printed = await printSource(source, MOST_PLACES);
  if (!printed.ok) return wanted.map(() => null);
  const prints = printed.value.prints.filter((print): print is SheetPrint => print !== null);
  return wanted.map(({ packed, sheets }) => {
    const { sheet, area, cells } = unpackSnapshot(packed);
    const before = printSheet(sheet, cells);
    const [first] = before ? anchorsOf(before, area, prints, sheets) : [];
    if (!first) return null;
    const { isCertain, reasons, evidence } = first;
    return { sheet: first.sheet, area: first.area, isCertain, reasons, share: evidence.cells };
  });
}
