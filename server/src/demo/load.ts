import { randomUUID } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { type DocumentContent, type DocumentNode, PLACED_NODE } from '@tether/contract';
import { parseReference } from '@tether/core';
import {
  AUTUMN_REPORT,
  DEMO_FOLDERS,
  DEMO_PASSWORD,
  DEMO_PEOPLE,
  type DemoNode,
  writeDemoSources,
} from '@tether/demo';
import type { Database } from '../db/database.ts';
import { insertDocument, storeContent } from '../db/documents.ts';
import { insertPerson } from '../db/people.ts';
import { announceReset, emptyDatabase, isEmptyDatabase } from '../db/reset.ts';
import { insertFolder, listFolderSources, listFolders, upsertSource } from '../db/sources.ts';
import { setPlaced } from '../db/tethers.ts';
import { EventHub } from '../events/hub.ts';
import { hashPassword } from '../people/password.ts';
import { SourceKeeper } from '../sources/keeper.ts';
import { startReader } from '../sources/reader.ts';
import { placeTether } from '../tethers/place.ts';

/** Loads the demo into a database that nobody has used yet. `sourcesRoot` is where its files go. */
export async function loadDemoOnce(db: Database, sourcesRoot: string): Promise<boolean> {
  if (!(await isEmptyDatabase(db))) return false;
  await loadDemo(db, sourcesRoot);
  return true;
}

/** Puts the demo back as it was at first, files and data, and tells running servers. */
export async function resetDemo(db: Database, sourcesRoot: string): Promise<void> {
  await emptyDatabase(db);
  await loadDemo(db, sourcesRoot);
  await announceReset(db);
}

async function loadDemo(db: Database, sourcesRoot: string): Promise<void> {
  const root = resolve(sourcesRoot);
  await mkdir(root, { recursive: true });
  await writeDemoSources(root);
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  const people = [];
  for (const person of DEMO_PEOPLE)
    people.push(await insertPerson(db, { ...person, passwordHash }));
  for (const { name, folder } of DEMO_FOLDERS) {
    await insertFolder(db, { name, root: join(root, folder) });
  }
  await loadReport(db, people[0]!.id);
}

/** Places the report's objects by the same road a person's take, so that the demo is made of nothing special. */
async function loadReport(db: Database, ownerId: string): Promise<void> {
  const { name, objects, body } = AUTUMN_REPORT;
  const events = new EventHub();
  const reader = startReader();
  const keeper = new SourceKeeper(db, reader, events);
  try {
    const documentId = await insertDocument(db, {
      name,
      content: { type: 'doc', content: [] },
      savedBy: ownerId,
    });
    const folders = await listFolders(db);
    const ids = new Map<string, string>();
    for (const object of objects) {
      const folder = folders.find((each) => each.name === object.folder)!;
      const known = await listFolderSources(db, folder.id);
      const source =
        known.find(({ path }) => path === object.path) ??
        (await upsertSource(db, { folderId: folder.id, path: object.path, state: 'missing' }));
      const reference = parseReference(object.reference);
      if (!reference.ok) throw new Error(reference.fault.message);
      const { sheet, area } = reference.value;
      const placed = await placeTether({ db, reader, keeper, events }, ownerId, documentId, {
        sourceId: source.id,
        reach: { kind: 'block', sheet: sheet!, area },
        name: object.name,
      });
      if (!placed.ok) throw new Error(placed.fault.message);
      ids.set(object.key, placed.value.id);
    }
    await storeContent(db, documentId, toContent(body, ids), ownerId);
    await setPlaced(db, documentId, new Map([...ids.values()].map((id) => [id, 'table' as const])));
  } finally {
    await reader.close();
    events.close();
  }
}

function toContent(body: readonly DemoNode[], ids: Map<string, string>): DocumentContent {
  const text = (words: string): DocumentNode[] => [{ type: 'text', text: words }];
  return {
    type: 'doc',
    content: body.map((node): DocumentNode => {
      if ('heading' in node) {
        return { type: 'heading', attrs: { level: node.level }, content: text(node.heading) };
      }
      if ('object' in node) {
        return {
          type: PLACED_NODE,
          attrs: { tetherId: ids.get(node.object) ?? randomUUID(), copyOf: null },
        };
      }
      if ('list' in node) {
        return {
          type: 'bulletList',
          content: node.list.map((item) => ({
            type: 'listItem',
            content: [{ type: 'paragraph', content: text(item) }],
          })),
        };
      }
      return { type: 'paragraph', content: text(node.text) };
    }),
  };
}
