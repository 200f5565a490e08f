import type { Person } from './people.ts';

/** What somebody may want to do: look at something, or change it (which is also: make it, and take it away). */
export type Act = 'look' | 'change';

/** What it would be done to. Without an id it is meant of all there are. */
export interface Subject {
  kind: 'document' | 'object' | 'source' | 'source file' | 'source folder' | 'log' | 'ledger view';
  id?: string;
}

/**
 * Whether a person may do something to a subject. The one place where a right follows from who somebody is: the server asks
 * it before it does anything, and screens ask it for what they offer.
 */
export function can({ role }: Pick<Person, 'role'>, act: Act, { kind }: Subject): boolean {
  if (act === 'look') return true;
  // Which folders of the server are sources is for its owner to say.
  return kind === 'source folder' ? role === 'owner' : role !== 'viewer';
}
