import {
  type Change,
  type ChangeSlip,
  type Choice,
  changeOf,
  changeSlip,
  isWholeChoice,
  summariseSlip,
  takePart,
} from '@tether/core';
import { type PackedSnapshot, packSnapshot, unpackSnapshot } from '../storage/packed.ts';

/** What a comparing thread is asked. */
export interface ComparingTask {
  before: Uint8Array;
  after: Uint8Array;
  want: 'slip' | 'change' | 'part';
  choice?: Choice | undefined;
}

/** What somebody took of a change slip; null where it is all of it. */
export type PartTaken = null | {
  /** What the object shows then. */
  part: PackedSnapshot;
  /** What that changes, in few words. */
  summary: string;
  /** What is left to be taken. */
  left: Change | null;
};

/** Compares two states of an object. Runs in a thread. */
export default function comparePacked(task: ComparingTask): ChangeSlip | Change | PartTaken {
  const [before, after] = [unpackSnapshot(task.before), unpackSnapshot(task.after)];
  if (task.want === 'change') return changeOf(before, after);
  const slip = changeSlip(before, after);
  if (task.want === 'slip') return slip;
  const choice = task.choice!;
  if (isWholeChoice(slip, choice)) return null;
  const part = takePart(before, after, slip, choice);
  return {
    part: packSnapshot(part),
    summary: summariseSlip(changeSlip(before, part)),
    left: changeOf(part, after),
  };
}

/** A state as JSON. Runs in a thread. */
export function toJson(packed: Uint8Array): string {
  return JSON.stringify(unpackSnapshot(packed));
}
