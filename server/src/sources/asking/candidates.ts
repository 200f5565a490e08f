import type { SourceCandidate } from '@tether/contract';
import { type FilePrint, fail, ok, type Result, rankCandidates } from '@tether/core';
import { findPrints, listLikely } from '../../db/sources.ts';
import type { Means } from '../means.ts';

/** So many sources are compared closely. */
const MOST_COMPARED = 60;

/** Sources that may be one whose file went elsewhere, the likeliest first, each with the reasons. Fault: `not-found`. */
export async function findCandidates(
  { db }: Pick<Means, 'db'>,
  sourceId: string,
): Promise<Result<SourceCandidate[]>> {
  const [own] = await findPrints(db, [sourceId]);
  if (!own) return fail('not-found', { what: 'source' });
  const others = await findPrints(db, await listLikely(db, sourceId, MOST_COMPARED));
  const byPath = new Map(others.map((each) => [printOf(each).path, each.source.id]));
  const ranked = rankCandidates(printOf(own), others.map(printOf));
  return ok(
    ranked.map(({ path, score, reasons, isCertain }) => ({
      ...{ sourceId: byPath.get(path)!, path, score, reasons, isCertain },
    })),
  );
}

function printOf({
  source,
  folder,
  print,
  printHash,
}: Awaited<ReturnType<typeof findPrints>>[number]): FilePrint {
  return {
    path: `${folder.name}/${source.path}`,
    hash: source.hash ?? printHash,
    bytes: source.bytes,
    sheets: print?.sheets ?? [],
    headers: print?.headers ?? [],
    names: print?.names ?? [],
    changedAt: source.changedAt.getTime(),
  };
}
