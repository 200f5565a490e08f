import {
  type Dressing,
  dressingSchema,
  readDressing,
  type SharedDressings,
  sharedDressings,
  writeDressing,
} from '@tether/documents';
import { useCallback, useSyncExternalStore } from 'react';
import type * as Y from 'yjs';
import { OWN_STEP } from '../writing/own-step.ts';

const NONE: Dressing = {};

/**
 * How the objects of an open report are dressed. It does not lie in the nodes of the text, so that two people can dress one
 * object at the same time, and a third can move it.
 */
export class Dressings {
  private readonly shared: SharedDressings;
  private readonly known = new Map<string, Dressing>();
  private readonly listeners = new Set<() => void>();

  constructor(private readonly doc: Y.Doc) {
    this.shared = sharedDressings(doc);
    this.shared.observe(this.forget);
  }

  /** Nobody is told of anything any more. */
  close(): void {
    this.shared.unobserve(this.forget);
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** How an object is dressed: the same one for as long as it does not change. */
  of(tetherId: string): Dressing {
    const known = this.known.get(tetherId);
    if (known) return known;
    const read = dressingSchema.safeParse(readDressing(this.shared, tetherId));
    const dressing = read.success ? read.data : NONE;
    this.known.set(tetherId, dressing);
    return dressing;
  }

  /** Dresses an object. */
  set(tetherId: string, dressing: Dressing): void {
    this.doc.transact(() => writeDressing(this.shared, tetherId, dressing), OWN_STEP);
  }

  private readonly forget = ({ keysChanged }: { keysChanged: Set<string> }) => {
    for (const name of keysChanged) this.known.delete(name.slice(0, name.indexOf(':')));
    for (const listener of this.listeners) listener();
  };
}

/** How an object is dressed now. */
export function useDressing(dressings: Dressings, tetherId: string): Dressing {
  const read = useCallback(() => dressings.of(tetherId), [dressings, tetherId]);
  return useSyncExternalStore(dressings.subscribe, read);
}
