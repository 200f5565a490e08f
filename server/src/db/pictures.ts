import { createHash } from 'node:crypto';
import type { Picture } from '@tether/formats';
import { eq } from 'drizzle-orm';
import type { Database } from './database.ts';
import { pictures } from './schema.ts';

/** Keeps a picture; the same bytes are kept once. Gives the hash by which it is found. */
export async function keepPicture(db: Database, picture: Picture, bytes: Buffer): Promise<string> {
  const hash = createHash('sha256').update(bytes).digest('hex');
  await db
    .insert(pictures)
    .values({ hash, ...picture, bytes })
    .onConflictDoNothing();
  return hash;
}

/** A kept picture; null when none has this hash. */
export async function findPicture(
  db: Database,
  hash: string,
): Promise<{ type: string; bytes: Buffer } | null> {
  const [row] = await db
    .select({ type: pictures.type, bytes: pictures.bytes })
    .from(pictures)
    .where(eq(pictures.hash, hash));
  return row ?? null;
}
