import type { Fault, Reach } from '@tether/core';
import { z } from 'zod';
import { reachSchema } from './tethers.ts';

/** A source that may be one whose file went elsewhere. */
export interface SourceCandidate {
  sourceId: string;
  /** `folder/path` */
  path: string;
  /** From 0 to 1. */
  score: number;
  reasons: string[];
  /** Whether nothing else comes near. */
  isCertain: boolean;
}

/** Of which document objects are looked at; of all where none is named. */
export const seeRelinkSchema = z.object({ document: z.uuid().optional() });

/** Objects that are to be tied to another source, each with what it is to take there. */
export const relinkSchema = z.object({
  to: z.uuid(),
  objects: z
    .array(z.object({ id: z.uuid(), reach: reachSchema }))
    .min(1)
    .max(5_000),
});
export type Relink = z.infer<typeof relinkSchema>;

/** What tying an object to another source would do. */
export interface RelinkSeen {
  id: string;
  name: string;
  document: { id: string; name: string };
  /** What it would take; null where nothing of the kind is found. */
  reach: Reach | null;
  /** In words: where it would take it from. */
  place: string | null;
  /** `as it is`: by the same reach. `elsewhere`: what it shows stands at another place there. */
  how: 'as it is' | 'elsewhere' | 'not found';
  /** Whether nothing speaks against it. */
  isCertain: boolean;
  reasons: string[];
  /** What would be other than it shows now; null for nothing. */
  summary: string | null;
  behindBy: number;
  fault: Fault | null;
}
