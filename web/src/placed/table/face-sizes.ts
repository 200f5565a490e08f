import type { TableWish } from '@tether/core';
import { useEffect, useReducer } from 'react';
import type { FaceSize, SizeAnswer, SizeQuestion } from './face-size.worker.ts';

/** A size is computed once for the same question; so many are kept. */
const MOST_KEPT = 2_000;
const known = new Map<string, FaceSize | null>();
const asked = new Map<string, Promise<FaceSize | null>>();
const waiting = new Map<number, (size: FaceSize | null) => void>();
let worker: Worker | null = null;
let count = 0;
let unsent: SizeQuestion[] = [];

function start(): Worker {
  const fresh = new Worker(new URL('./face-size.worker.ts', import.meta.url), { type: 'module' });
  fresh.onmessage = ({ data }: MessageEvent<SizeAnswer[]>) => {
    for (const { id, size } of data) {
      waiting.get(id)?.(size);
      waiting.delete(id);
    }
  };
  // Whoever waits for a thread that broke down draws what it wanted to know of.
  fresh.onerror = () => {
    fresh.terminate();
    worker = null;
    for (const tell of waiting.values()) tell(null);
    waiting.clear();
  };
  return fresh;
}

function ask(hash: string, table: TableWish | null): Promise<FaceSize | null> {
  const id = ++count;
  if (unsent.length === 0) {
    queueMicrotask(() => {
      worker ??= start();
      worker.postMessage(unsent);
      unsent = [];
    });
  }
  unsent.push({ id, hash, table });
  return new Promise((resolve) => waiting.set(id, resolve));
}

function keep(key: string, size: FaceSize | null): void {
  known.set(key, size);
  const oldest = known.keys().next().value;
  if (known.size > MOST_KEPT && oldest !== undefined) known.delete(oldest);
}

/** What is asked about an object, so that the same question is known again. */
export interface Sizing {
  hash: string;
  /** Null for a facsimile. */
  table: TableWish | null;
}

/**
 * How large an object comes out, computed in a thread of its own; undefined while it is not known, null
 * where it cannot be told. With `null` nothing is asked.
 */
export function useFaceSize(sizing: Sizing | null): FaceSize | null | undefined {
  const key = sizing && JSON.stringify(sizing);
  const [, drawAnew] = useReducer((times: number) => times + 1, 0);
  useEffect(() => {
    if (key === null || known.has(key)) return;
    let asking = asked.get(key);
    if (!asking) {
      const { hash, table } = JSON.parse(key) as Sizing;
      asking = ask(hash, table).then((size) => {
        asked.delete(key);
        keep(key, size);
        return size;
      });
      asked.set(key, asking);
    }
    let isWanted = true;
    void asking.then(() => isWanted && drawAnew());
    return () => {
      isWanted = false;
    };
  }, [key]);
  return key === null ? undefined : known.get(key);
}
