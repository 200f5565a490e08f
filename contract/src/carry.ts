import type { Fault } from '@tether/core';
import { z } from 'zod';

/** What a document carried forward would begin with. */
export interface CarrySeen {
  /** What it may be called. */
  name: string;
  sources: {
    id: string;
    /** `folder/path` */
    path: string;
    objects: number;
    /** The file of the next period, where one is named so. */
    next: { id: string; path: string } | null;
  }[];
}

export const carrySchema = z.object({
  name: z.string().trim().min(1).max(200),
  /** Whether the old document keeps what it shows from now on. */
  freezes: z.boolean(),
  sources: z.array(z.object({ from: z.uuid(), to: z.uuid() })).max(1_000),
});
export type Carry = z.infer<typeof carrySchema>;

/** What came of it. */
export interface Carried {
  documentId: string;
  /** Objects that are tied to the new files. */
  tied: number;
  /** Those that nothing was found for there: they are tied to the old ones. */
  left: { name: string; fault: Fault }[];
}
