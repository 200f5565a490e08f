import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { brotliCompress, brotliDecompress, constants } from 'node:zlib';
import type { Snapshot } from '@tether/core';
import { inArray, sql } from 'drizzle-orm';
import type { Database } from './database.ts';
import { snapshots } from './schema.ts';

const compress = promisify(brotliCompress);
const decompress = promisify(brotliDecompress);

/** First byte of what is stored: how the rest is packed. */
const AS_IS = 0;
const BROTLI = 1;
/** Quick, and a tenth of the JSON of a usual table. */
const QUALITY = { params: { [constants.BROTLI_PARAM_QUALITY]: 4 } };

/** SHA-256 of the snapshot's content, hexadecimal. Snapshots are built key by key in one order, so equal ones agree. */
export function hashSnapshot(snapshot: Snapshot): string {
  return hashText(JSON.stringify(snapshot));
}

function hashText(text: string): string {
  return createHash('sha256').update(text).digest('hex');
}

/** Stores a snapshot unless it is there already, and returns its hash. */
export async function storeSnapshot(db: Database, content: Snapshot): Promise<string> {
  const [hash] = await storeSnapshots(db, [content]);
  return hash!;
}

/** Stores snapshots unless they are there already, and returns their hashes in the same order. */
export async function storeSnapshots(
  db: Database,
  contents: readonly Snapshot[],
): Promise<string[]> {
  if (contents.length === 0) return [];
  const texts = contents.map((content) => JSON.stringify(content));
  const hashes = texts.map(hashText);
  // Touching what is there keeps it from being swept away before it is used (see `sweepSnapshots`).
  const known = await db
    .select({ hash: snapshots.hash })
    .from(snapshots)
    .where(inArray(snapshots.hash, hashes))
    .for('key share');
  const isKnown = new Set(known.map(({ hash }) => hash));
  const rows = await Promise.all(
    contents.flatMap(({ sheet, area }, at) => {
      const hash = hashes[at]!;
      if (isKnown.has(hash)) return [];
      isKnown.add(hash);
      return [
        compress(texts[at]!, QUALITY).then((packed) => ({
          hash,
          sheet,
          area,
          packed: Buffer.concat([Buffer.from([BROTLI]), packed]),
        })),
      ];
    }),
  );
  if (rows.length > 0) await db.insert(snapshots).values(rows).onConflictDoNothing();
  return hashes;
}

/** The snapshots with these hashes. */
export async function findSnapshots(
  db: Database,
  hashes: readonly string[],
): Promise<Map<string, Snapshot>> {
  if (hashes.length === 0) return new Map();
  const rows = await db
    .select({ hash: snapshots.hash, packed: snapshots.packed })
    .from(snapshots)
    .where(inArray(snapshots.hash, [...new Set(hashes)]));
  return new Map(
    await Promise.all(
      rows.map(async ({ hash, packed }) => [hash, await unpack(packed)] as [string, Snapshot]),
    ),
  );
}

async function unpack(packed: Buffer): Promise<Snapshot> {
  const rest = packed.subarray(1);
  const text = packed[0] === AS_IS ? rest : await decompress(rest);
  return JSON.parse(text.toString('utf8')) as Snapshot;
}

/** Removes snapshots that nothing shows, waits for, remembers or is compared with; gives how many. */
export async function sweepSnapshots(db: Database): Promise<number> {
  const swept = await db.execute(sql`
    delete from snapshots s where
      not exists (select 1 from tethers t where t.base = s.hash or t.pending = s.hash)
      and not exists (select 1 from tether_states h where h.snapshot = s.hash)
      and not exists (select 1 from tether_looks l where l.snapshot = s.hash)`);
  return swept.rowCount ?? 0;
}
