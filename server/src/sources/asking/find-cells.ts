import type { CellsMatch } from '@tether/contract';
import { keysOfText, markOf, type PastedCells, surenessOf } from '@tether/core';
import { findSource, sourcesWithMarks } from '../../db/sources.ts';
import { locate } from '../locate.ts';
import type { Means } from '../means.ts';

/** Sources that are looked into: those with the most of the values. */
const MOST_SOURCES = 5;
const MOST_MATCHES = 4;

/** Where cells from elsewhere stand in the sources, the surest first; none when no source holds half of them. */
export async function findCells(
  { db, reader }: Pick<Means, 'db' | 'reader'>,
  cells: PastedCells,
): Promise<CellsMatch[]> {
  const marks = new Set(cells.flatMap((row) => row.flatMap(keysOfText)).map(markOf));
  if (marks.size === 0) return [];
  const candidates = await sourcesWithMarks(db, [...marks], MOST_SOURCES);
  const found: Omit<CellsMatch, 'sureness'>[] = [];
  for (const { id } of candidates) {
    const known = await findSource(db, id);
    const located = known && (await locate(known.folder, known.source.path));
    if (!known || !located?.ok) continue;
    const { path, reading } = known.source;
    const outcome = await reader.read({
      ...located.value,
      shownPath: path,
      reaches: [],
      reading,
      find: cells,
    });
    // A source that cannot be read now is no place to tie to.
    if (!outcome.ok) continue;
    for (const placement of outcome.value.found) {
      found.push({ ...placement, sourceId: id, folder: known.folder.name, path });
    }
  }
  found.sort((a, b) => b.same / b.of - a.same / a.of);
  return found.slice(0, MOST_MATCHES).map((match) => ({
    ...match,
    sureness: surenessOf(
      match,
      found.filter((other) => other !== match),
    ),
  }));
}
