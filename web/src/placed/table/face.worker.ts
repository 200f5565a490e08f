import { faceTable, type Snapshot, type TableFace, type TableWish } from '@tether/core';

/** A long table to be dressed, measured and folded. */
export interface FaceQuestion {
  id: number;
  /** Of the cells that it takes. */
  hash: string;
  wish: TableWish;
}

/** Null where it cannot be told: then it is done where it was asked for. */
export interface FaceAnswer {
  id: number;
  face: TableFace | null;
}

/** The cells of the table that was asked for last: its look is changed several times in a row. */
let held: { hash: string; snapshot: Snapshot } | null = null;

self.onmessage = async ({ data: { id, hash, wish } }: MessageEvent<FaceQuestion>) => {
  const face = await faceOf(hash, wish).catch(() => null);
  self.postMessage({ id, face } satisfies FaceAnswer);
};

async function faceOf(hash: string, wish: TableWish): Promise<TableFace | null> {
  if (held?.hash !== hash) {
    const response = await fetch(`/api/snapshots/${hash}`);
    if (!response.ok) return null;
    held = { hash, snapshot: (await response.json()) as Snapshot };
  }
  return faceTable(held.snapshot, wish);
}
