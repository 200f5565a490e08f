import type { Snapshot } from './sheet.ts';

/** Which rows, or columns, of a sheet are hidden, by their numbers: by hand, by a filter or by a group that is closed. */
export function hiddenPlaces(bands: Snapshot['rows']): Set<number> {
  return new Set(bands.filter(({ hidden }) => hidden).map(({ index }) => index));
}
