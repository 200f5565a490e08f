import {
  type Cut,
  cutsOf,
  drawFacsimile,
  faceTable,
  foldedSize,
  type Snapshot,
  type StripCut,
  type TableWish,
} from '@tether/core';
import { CONTINUED_HEIGHT } from './continued.ts';

/** How large something comes out that takes the cells with this hash: a table as wished, or a facsimile. */
export interface SizeQuestion {
  id: number;
  hash: string;
  table: TableWish | null;
}

/** Pixels of an object, and where it may be cut if it is a table. */
export interface FaceSize {
  width: number;
  height: number;
  cuts: Cut[];
  places: StripCut[];
}

/** Null where it cannot be told: then it has to be drawn. */
export type SizeAnswer = { id: number; size: FaceSize | null };

/** So many cells are asked for at once; what is seen already has to come through beside them. */
const AT_ONCE = 2;
/** Answers are told together, since each has the pages broken anew. */
const TOGETHER_MS = 120;

const questions: SizeQuestion[] = [];
let answers: SizeAnswer[] = [];
let busy = 0;
let telling: ReturnType<typeof setTimeout> | null = null;

self.onmessage = ({ data }: MessageEvent<SizeQuestion[]>) => {
  questions.push(...data);
  for (let free = AT_ONCE - busy; free > 0; free--) void work();
};

async function work(): Promise<void> {
  busy++;
  for (let next = questions.shift(); next; next = questions.shift()) {
    const size = await sizeOf(next).catch(() => null);
    answers.push({ id: next.id, size });
    telling ??= setTimeout(tell, TOGETHER_MS);
  }
  busy--;
  if (busy === 0) tell();
}

function tell(): void {
  if (telling !== null) clearTimeout(telling);
  telling = null;
  if (answers.length > 0) self.postMessage(answers);
  answers = [];
}

async function sizeOf({ hash, table }: SizeQuestion): Promise<FaceSize | null> {
  const response = await fetch(`/api/snapshots/${hash}`);
  if (!response.ok) return null;
  const snapshot = (await response.json()) as Snapshot;
  if (!table) {
    const { width, height } = drawFacsimile(snapshot);
    return { width, height, cuts: [], places: [] };
  }
  const { layout, strips } = faceTable(snapshot, table);
  return { ...foldedSize(layout, strips), ...cutsOf(layout, strips, 0, CONTINUED_HEIGHT) };
}
