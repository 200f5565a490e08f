import { faceTable, type Snapshot, type TableFace, type TableWish } from '@tether/core';
import { useEffect, useMemo, useState } from 'react';
import type { FaceAnswer, FaceQuestion } from './face.worker.ts';

/** A table of more cells takes longer to be dressed and measured than a page may stand still. */
const LONG_CELLS = 6_000;

let worker: Worker | null = null;
let count = 0;
const waiting = new Map<number, (face: TableFace | null) => void>();

function start(): Worker {
  const fresh = new Worker(new URL('./face.worker.ts', import.meta.url), { type: 'module' });
  fresh.onmessage = ({ data: { id, face } }: MessageEvent<FaceAnswer>) => {
    waiting.get(id)?.(face);
    waiting.delete(id);
  };
  // Whoever waits for a thread that broke down does it here.
  fresh.onerror = () => {
    fresh.terminate();
    worker = null;
    for (const tell of waiting.values()) tell(null);
    waiting.clear();
  };
  return fresh;
}

function ask(hash: string, wish: TableWish): Promise<TableFace | null> {
  const id = ++count;
  worker ??= start();
  worker.postMessage({ id, hash, wish } satisfies FaceQuestion);
  return new Promise((resolve) => waiting.set(id, resolve));
}

/**
 * A table dressed, measured and folded: a long one in a thread of its own, so that writing goes on beside it. `hash` is that
 * of the cells, null for cells that the server does not have as they are. Until it has come the face before stays, null
 * where there was none.
 */
export function useTableFace(
  snapshot: Snapshot,
  hash: string | null,
  wish: TableWish,
): { face: TableFace | null; isComing: boolean } {
  const isLong = hash !== null && snapshot.cells.length > LONG_CELLS;
  const here = useMemo(() => (isLong ? null : faceTable(snapshot, wish)), [isLong, snapshot, wish]);
  const [found, setFound] = useState<{ of: Snapshot; wish: TableWish; face: TableFace } | null>(
    null,
  );
  useEffect(() => {
    if (!isLong) return;
    let isWanted = true;
    void ask(hash, wish).then((face) => {
      if (isWanted) setFound({ of: snapshot, wish, face: face ?? faceTable(snapshot, wish) });
    });
    return () => {
      isWanted = false;
    };
  }, [isLong, hash, snapshot, wish]);
  if (here) return { face: here, isComing: false };
  return {
    face: found?.face ?? null,
    isComing: found?.of !== snapshot || found.wish !== wish,
  };
}
