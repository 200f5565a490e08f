import type { Database } from '../../db/database.ts';
import { insertLog } from '../../db/log.ts';
import { cameInstead, listFollowable, listMoves, type Move, takePlaceOf } from '../../db/moves.ts';
import { findSource } from '../../db/sources.ts';
import { listSourceTethers, updateTethers } from '../../db/tethers.ts';
import { announce } from '../../events/announce.ts';
import { findCandidates } from '../asking/candidates.ts';
import type { Means } from '../means.ts';

/**
 * Follows files that went elsewhere with the same bytes: what was tied to them is tied to where they are now. Only where it is
 * clear which is which: one that came for one that went, or of several the one with the same name.
 */
export async function followMoved(
  { db, queue }: Pick<Means, 'db' | 'queue'>,
  sourceId: string,
): Promise<void> {
  for (const { from, to } of clearOnes(await listMoves(db, sourceId))) {
    await follow({ db, queue }, { from, to, why: 'the file is the same byte for byte' });
  }
}

/**
 * Follows files that went and were changed, in folders of which somebody said so: only where it is certain which file it is now, and
 * that came when the other went.
 */
export async function followCertain({ db, queue }: Pick<Means, 'db' | 'queue'>): Promise<void> {
  for (const from of await listFollowable(db)) {
    const found = await findCandidates({ db }, from);
    const [first] = found.ok ? found.value : [];
    if (!first?.isCertain || !(await cameInstead(db, from, first.sourceId))) continue;
    const why = `it is certain which file it is now. ${first.reasons.join(' ')}`.replace(/\.$/, '');
    await follow({ db, queue }, { from, to: first.sourceId, why });
  }
}

async function follow(
  { db, queue }: Pick<Means, 'db' | 'queue'>,
  { from, to, why }: { from: string; to: string; why: string },
): Promise<void> {
  const isFollowed = await db.transaction(async (tx) => {
    const before = await findSource(tx, from);
    if (!before || !(await takePlaceOf(tx, from, to))) return false;
    const now = (await findSource(tx, from))!;
    await renameSheet(tx, from, before.source.path, now.source.path);
    const [was, is] = [before, now].map(({ folder, source }) => `${folder.name}/${source.path}`);
    await insertLog(tx, [
      {
        kind: 'source moved',
        sourceId: from,
        source: is!,
        summary: `From ${was} to ${is}: ${why}.`,
      },
    ]);
    await announce(tx, { kind: 'log' });
    await announce(tx, { kind: 'sources' });
    return true;
  });
  if (isFollowed) await queue.askLook(from, { isForced: true });
}

/** A text has one sheet, which is called as its file is: what its objects take has another name then. */
async function renameSheet(
  tx: Database,
  sourceId: string,
  before: string,
  now: string,
): Promise<void> {
  if (!TEXT.test(before) || !TEXT.test(now)) return;
  const rows = await listSourceTethers(tx, [sourceId], { lock: true });
  await updateTethers(
    tx,
    rows.flatMap(({ id, reach }) =>
      reach.kind !== 'name' && reach.sheet === stemOf(before)
        ? [{ id, reach: { ...reach, sheet: stemOf(now) } }]
        : [],
    ),
  );
}

const TEXT = /\.(csv|tsv|tab)$/i;
const stemOf = (path: string) => path.slice(path.lastIndexOf('/') + 1).replace(/\.[^.]*$/, '');

/** The moves of which there is no doubt. */
export function clearOnes(moves: readonly Move[]): Move[] {
  const nameOf = (path: string) => path.slice(path.lastIndexOf('/') + 1);
  const isAlone = (move: Move, among: readonly Move[]) =>
    among.filter(({ from }) => from === move.from).length === 1 &&
    among.filter(({ to }) => to === move.to).length === 1;
  const named = moves.filter(({ fromPath, toPath }) => nameOf(fromPath) === nameOf(toPath));
  const byName = named.filter((move) => isAlone(move, named));
  const isSettled = (move: Move) =>
    byName.some(({ from, to }) => from === move.from || to === move.to);
  const others = moves.filter((move) => !isSettled(move));
  return [...byName, ...others.filter((move) => isAlone(move, others))];
}
