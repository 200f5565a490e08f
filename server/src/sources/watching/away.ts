import { fault } from '@tether/core';
import type { Database } from '../../db/database.ts';
import { insertLog } from '../../db/log.ts';
import {
  type FolderRow,
  findFolder,
  listFolderSources,
  nextReadingNumber,
  numberSources,
  setFolderState,
} from '../../db/sources.ts';
import { type MovedTether, setFolderAdrift, setFolderBack } from '../../db/tethers.ts';
import { announce } from '../../events/announce.ts';
import { announceTethers, takeWhatWaited } from '../../following/follow.ts';
import { isAlike } from '../stamp.ts';

/** Records that a folder went away: all its objects at once, so that its coming back can only come after it. */
export async function recordAway(db: Database, folder: FolderRow): Promise<void> {
  await db.transaction(async (tx) => {
    if ((await findFolder(tx, folder.id))?.state === 'offline') return;
    await numberSources(tx, folder.id, await nextReadingNumber(tx));
    const reason = fault('folder-offline', { folder: folder.name });
    const moved = await setFolderAdrift(tx, folder.id, reason);
    await setFolderState(tx, folder.id, 'offline');
    await logMoved(tx, folder, moved, 'adrift', reason.message);
    await announceTethers(tx, moved);
    await announce(tx, { kind: 'sources' });
  });
}

/**
 * Records that a folder is there again. Objects of files that are as they were have their standing back at once; `stamps`
 * are the states of its files now. Gives the paths that are to be looked at: whatever is not exactly as it was.
 */
export async function recordBack(
  db: Database,
  folder: FolderRow,
  stamps: ReadonlyMap<string, string>,
): Promise<string[]> {
  return db.transaction(async (tx) => {
    const known = await listFolderSources(tx, folder.id);
    const byPath = new Map(known.map((source) => [source.path, source]));
    const isAsWas = (source: (typeof known)[number]) =>
      source.state === 'present' &&
      source.stamp !== null &&
      isAlike(source.stamp, stamps.get(source.path) ?? 'gone');
    const back = known.filter(isAsWas);
    await numberSources(tx, folder.id, await nextReadingNumber(tx));
    const moved = await setFolderBack(
      tx,
      back.map(({ id }) => id),
    );
    const hasChanged = await setFolderState(tx, folder.id, 'watched');
    await logMoved(tx, folder, moved, 'found again', 'The folder is there again.');
    // What became automatic meanwhile takes what it is behind.
    await takeWhatWaited(
      tx,
      moved.filter(({ standing }) => standing === 'behind').map(({ id }) => id),
    );
    await announceTethers(tx, moved);
    if (hasChanged) await announce(tx, { kind: 'sources' });
    return [...new Set([...stamps.keys(), ...byPath.keys()])].filter(
      (path) => byPath.get(path)?.stamp !== stamps.get(path),
    );
  });
}

function logMoved(
  tx: Database,
  folder: FolderRow,
  moved: readonly MovedTether[],
  kind: 'adrift' | 'found again',
  summary: string,
): Promise<void> {
  return insertLog(
    tx,
    moved.map(({ id, documentId, name, sourceId, path }) => ({
      kind,
      documentId,
      tetherId: id,
      tetherName: name,
      sourceId,
      source: `${folder.name}/${path}`,
      summary,
    })),
  );
}
