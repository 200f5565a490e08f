import type { Office } from '@tether/demo';
import type { Writing } from './documents/writing.ts';
import type { EventHub } from './events/hub.ts';
import type { Printer } from './outputs/printer.ts';
import type { Means } from './sources/means.ts';
import type { SourceKeeper } from './sources/watching/keeper.ts';

/** What the rooms of the server work with, handed to the routes. */
export interface Services extends Means {
  keeper: SourceKeeper;
  events: EventHub;
  writing: Writing;
  /** Places on the server below which the operator allows source folders. */
  roots: readonly string[];
  printer: Printer;
  /** Whether the demo is loaded: the sign-in page then offers its people. */
  hasDemo: boolean;
  /** The stand-in office, which plays the world outside on the demo's files; null where there is no demo. */
  office: Office | null;
}
