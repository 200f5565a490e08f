import { type Act, can, type Person, type Subject } from '@tether/contract';
import { type Fault, fault } from '@tether/core';
import type { Database } from '../db/database.ts';
import { ownerNames } from '../db/people.ts';

/** Why a person may not do something to a subject: `not-allowed`, with those who may. Null where they may. */
export async function reasonAgainst(
  db: Database,
  person: Person,
  act: Act,
  subject: Subject,
): Promise<Fault | null> {
  if (can(person, act, subject)) return null;
  return fault('not-allowed', { who: (await ownerNames(db)).join(' or ') || 'the owner' });
}
