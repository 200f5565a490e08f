import type { EventHub } from './events/hub.ts';
import type { JobQueue } from './jobs/queue.ts';
import type { Means } from './means.ts';
import type { SourceKeeper } from './sources/keeper.ts';

/** What the rooms of the server work with, handed to each piece of work. */
export interface Services extends Means {
  queue: JobQueue;
  keeper: SourceKeeper;
  events: EventHub;
  /** Places on the server below which the operator allows source folders. */
  roots: readonly string[];
  /** Path of the Chromium that prints, or null. */
  chromium: string | null;
  /** Whether the demo is loaded: the sign-in page then offers its people. */
  hasDemo: boolean;
}
