import type { LedgerOutcome } from '@tether/contract';
import type { Fault } from '@tether/core';
import { useRef, useState } from 'react';
import { faultOf } from '../state/api.ts';

/** What is done at once; small enough that its progress is seen. */
const STEP = 50;

/** One step after the other of something that is done to many. */
export interface Steps {
  total: number;
  steps: (() => Promise<LedgerOutcome>)[];
  sizes: number[];
}

/** Takes many things apart into steps. */
export function inSteps<T>(all: readonly T[], act: (step: T[]) => Promise<LedgerOutcome>): Steps {
  const parts = Array.from({ length: Math.ceil(all.length / STEP) }, (_, at) =>
    all.slice(at * STEP, at * STEP + STEP),
  );
  return {
    total: all.length,
    steps: parts.map((part) => () => act(part)),
    sizes: parts.map((part) => part.length),
  };
}

export type ManyState =
  | { kind: 'idle' }
  | { kind: 'running'; done: number; total: number }
  | { kind: 'ended'; done: number; refused: LedgerOutcome['refused']; isStopped: boolean }
  | { kind: 'failed'; fault: Fault };

/** Does many things step by step; tells how far it has come, and can be stopped between two steps. */
export function useManySteps() {
  const [state, setState] = useState<ManyState>({ kind: 'idle' });
  const isWanted = useRef(false);

  const run = async (begin: () => Promise<Steps>): Promise<void> => {
    if (isWanted.current) return;
    isWanted.current = true;
    let done = 0;
    let gone = 0;
    const refused: LedgerOutcome['refused'] = [];
    try {
      const { steps, sizes, total } = await begin();
      setState({ kind: 'running', done: 0, total });
      for (const [at, step] of steps.entries()) {
        if (!isWanted.current) break;
        const outcome = await step();
        done += outcome.done;
        gone += sizes[at]!;
        refused.push(...outcome.refused);
        setState({ kind: 'running', done: gone, total });
      }
      setState({ kind: 'ended', done, refused, isStopped: !isWanted.current });
    } catch (error) {
      setState({ kind: 'failed', fault: faultOf(error) });
    } finally {
      isWanted.current = false;
    }
  };
  const stop = () => {
    isWanted.current = false;
  };
  return { state, run, stop };
}
