import type { Person } from '@tether/contract';
import { and, eq, gt, lt, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { people, sessions } from './schema.ts';

const asPerson = { id: people.id, name: people.name, title: people.title, role: people.role };

/** Adds an account. */
export async function insertPerson(
  db: Database,
  person: typeof people.$inferInsert,
): Promise<Person> {
  const [row] = await db.insert(people).values(person).returning(asPerson);
  return row!;
}

/** An account by its id. */
export async function findPerson(db: Database, id: string): Promise<Person | null> {
  const [row] = await db.select(asPerson).from(people).where(eq(people.id, id));
  return row ?? null;
}

/** The account with the sign-in name, in any case, with its password hash. */
export async function findPersonBySignInName(db: Database, signInName: string) {
  const [row] = await db
    .select({ ...asPerson, passwordHash: people.passwordHash })
    .from(people)
    .where(eq(sql`lower(${people.signInName})`, signInName.toLowerCase()));
  return row ?? null;
}

/** Names of the people who may give help where a right is missing. */
export async function ownerNames(db: Database): Promise<string[]> {
  const rows = await db.select({ name: people.name }).from(people).where(eq(people.role, 'owner'));
  return rows.map(({ name }) => name);
}

/** Starts a session. Sessions that ran out are swept away in passing. */
export async function insertSession(
  db: Database,
  session: typeof sessions.$inferInsert,
): Promise<void> {
  await db.delete(sessions).where(lt(sessions.expiresAt, sql`now()`));
  await db.insert(sessions).values(session);
}

/** The person of a running session. */
export async function findSessionPerson(db: Database, tokenHash: string): Promise<Person | null> {
  const [row] = await db
    .select(asPerson)
    .from(sessions)
    .innerJoin(people, eq(people.id, sessions.personId))
    .where(and(eq(sessions.tokenHash, tokenHash), gt(sessions.expiresAt, sql`now()`)));
  return row ?? null;
}

/** Ends a session. */
export async function deleteSession(db: Database, tokenHash: string): Promise<void> {
  await db.delete(sessions).where(eq(sessions.tokenHash, tokenHash));
}

/** The names by which people sign in. */
export async function listSignInNames(db: Database): Promise<string[]> {
  const rows = await db.select({ name: people.signInName }).from(people).orderBy(people.signInName);
  return rows.map(({ name }) => name);
}
