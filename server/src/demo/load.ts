import { mkdir, rm } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { parseReference, type Reach } from '@tether/core';
import {
  AUTUMN_REPORT,
  BOARDWALK_SHEET,
  DEMO_FOLDERS,
  DEMO_PASSWORD,
  DEMO_PEOPLE,
  type DemoObject,
  type DemoPages,
  type DemoReport,
  type DemoWords,
  FUNDERS_BRIEFING,
  officeOf,
  SHORT_REPORT,
  writeDemoSources,
} from '@tether/demo';
import {
  CAPTION_NODE,
  CAPTIONED_NODE,
  type DocumentContent,
  type Form,
  isInline,
  type KindName,
  kindOf,
  LIST_NODE,
  PLACED_INLINE,
  PLACED_NODE,
  REFERENCE_NODE,
  type ReportContent,
  type ReportNode,
  readContent,
} from '@tether/documents';
import type { Database } from '../db/database.ts';
import { insertDocument, listDocuments, storeContent } from '../db/documents.ts';
import { insertPerson, listSignInNames } from '../db/people.ts';
import { keepPicture } from '../db/pictures.ts';
import { emptyDatabase, isEmptyDatabase } from '../db/reset.ts';
import { insertFolder, listFolderSources, listFolders, upsertSource } from '../db/sources.ts';
import { setPlaced } from '../db/tethers.ts';
import { signal } from '../events/announce.ts';
import { hashPassword } from '../people/password.ts';
import { placeTether } from '../placing/place.ts';
import type { Means } from '../sources/means.ts';

type LoadMeans = Pick<Means, 'db' | 'locks' | 'reader'>;

/** The whole demo, or one with a short report to begin with. */
export type DemoSize = 'whole' | 'short';

/** Loads the demo into a database that nobody has used yet. `sourcesRoot` is where its files go. */
export async function loadDemoOnce(
  means: LoadMeans,
  sourcesRoot: string,
  size: DemoSize = 'whole',
): Promise<boolean> {
  // Of several processes that begin at once, one loads it.
  return means.locks.run('demo', async () => {
    if (!(await isEmptyDatabase(means.db))) return false;
    await loadDemo(means, sourcesRoot, size);
    return true;
  });
}

/** What people made beside the demo and a reset would delete: documents, source folders and accounts, each in words. */
export async function listOwn(db: Database): Promise<string[]> {
  const demo = {
    documents: new Set([
      AUTUMN_REPORT.name,
      SHORT_REPORT.name,
      BOARDWALK_SHEET.name,
      FUNDERS_BRIEFING.name,
    ]),
    folders: new Set<string>(DEMO_FOLDERS.map(({ name }) => name)),
    people: new Set<string>(DEMO_PEOPLE.map(({ signInName }) => signInName)),
  };
  const [documents, folders, people] = [
    await listDocuments(db),
    await listFolders(db),
    await listSignInNames(db),
  ];
  return [
    ...documents
      .filter(({ name }) => !demo.documents.has(name))
      .map(({ name }) => `the document “${name}”`),
    ...folders
      .filter(({ name }) => !demo.folders.has(name))
      .map(({ name }) => `the source folder “${name}” (not its files)`),
    ...people.filter((name) => !demo.people.has(name)).map((name) => `the account ${name}`),
  ];
}

/** Puts the demo back as it was at first, files and data, and tells running servers. */
export async function resetDemo(means: LoadMeans, sourcesRoot: string): Promise<void> {
  await emptyDatabase(means.db);
  await loadDemo(means, sourcesRoot, 'whole');
  await signal(means.db, 'reset');
}

async function loadDemo(means: LoadMeans, sourcesRoot: string, size: DemoSize): Promise<void> {
  const { db } = means;
  const root = resolve(sourcesRoot);
  await mkdir(root, { recursive: true });
  await writeDemoSources(root);
  // What the office did before was done to other files.
  await rm(officeOf(root).kept, { recursive: true, force: true });
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  const people = [];
  for (const person of DEMO_PEOPLE)
    people.push(await insertPerson(db, { ...person, passwordHash }));
  for (const { name, folder } of DEMO_FOLDERS) {
    await insertFolder(db, { name, root: join(root, folder) });
  }
  const owner = people[0]!.id;
  if (size === 'short') return loadReport(means, owner, SHORT_REPORT);
  await loadReport(means, owner, AUTUMN_REPORT);
  await loadPages(means, owner, BOARDWALK_SHEET);
  await loadPages(means, owner, FUNDERS_BRIEFING);
}

async function loadReport(means: LoadMeans, ownerId: string, report: DemoReport): Promise<void> {
  await loadDocument(means, ownerId, { kind: 'report', ...report }, (ids) =>
    Promise.resolve(toContent(report, ids)),
  );
}

async function loadPages(means: LoadMeans, ownerId: string, demo: DemoPages): Promise<void> {
  await loadDocument(means, ownerId, demo, async (ids) => {
    const { kind, settings, pages } = demo;
    const things = demo.things(ids, demo.plan ? await keepPlan(means, demo.plan) : '');
    const read = readContent(kind, { type: kind, settings, pages, things });
    if (!read.ok) throw new Error(read.fault.message);
    return read.value;
  });
}

/** Keeps a plan as pictures are kept that people put in; gives its hash. */
function keepPlan({ db }: LoadMeans, plan: NonNullable<DemoPages['plan']>): Promise<string> {
  const [width, height] = [Math.round(plan.width), Math.round(plan.height)];
  return keepPicture(db, { type: 'image/svg+xml', width, height }, Buffer.from(plan.svg));
}

/** Places a document's objects by the same road a person's take, so that the demo is made of nothing special. */
async function loadDocument(
  { db, locks, reader }: LoadMeans,
  ownerId: string,
  { kind, name, objects }: { kind: KindName; name: string; objects: readonly DemoObject[] },
  contentWith: (ids: ReadonlyMap<string, string>) => Promise<DocumentContent>,
): Promise<void> {
  const content = kindOf(kind).firstContent(name);
  const documentId = await insertDocument(db, { kind, name, content, savedBy: ownerId });
  const folders = await listFolders(db);
  const ids = new Map<string, string>();
  for (const object of objects) {
    const folder = folders.find((each) => each.name === object.folder)!;
    const known = await listFolderSources(db, folder.id);
    const source =
      known.find(({ path }) => path === object.path) ??
      (await upsertSource(db, { folderId: folder.id, path: object.path, state: 'new' }));
    const placed = await placeTether({ db, reader, locks }, ownerId, documentId, {
      sourceId: source.id,
      reach: reachOf(object),
      name: object.name,
      form: object.form ?? 'table',
    });
    if (!placed.ok) throw new Error(placed.fault.message);
    ids.set(object.key, placed.value.id);
  }
  await storeContent(db, { id: documentId, kind, content: await contentWith(ids) }, ownerId);
  const forms = new Map<string, Form>();
  for (const { key, form = 'table' } of objects) forms.set(ids.get(key)!, form);
  await setPlaced(db, documentId, forms);
}

function reachOf({ path, takes }: DemoObject): Reach {
  if ('columns' in takes) return { kind: 'picked columns', ...takes };
  if ('chart' in takes) return { kind: 'chart', ...takes };
  if ('name' in takes) return { kind: 'name', ...takes, sheet: null };
  const reference = parseReference(takes.reference);
  if (!reference.ok) throw new Error(reference.fault.message);
  const { sheet, area } = reference.value;
  // Delimited text has one sheet, named after the file.
  return { kind: 'block', sheet: sheet ?? path.replace(/\.[^.]*$/, ''), area };
}

function toContent(
  { body, objects, settings }: DemoReport,
  ids: ReadonlyMap<string, string>,
): ReportContent {
  const words = (text: string | DemoWords): ReportNode[] =>
    (typeof text === 'string' ? [text] : text).map((each): ReportNode => {
      if (typeof each === 'string') return { type: 'text', text: each };
      if ('object' in each) return placed(each.object);
      return { type: REFERENCE_NODE, attrs: { to: ids.get(each.reference)! } };
    });
  const placed = (key: string): ReportNode => {
    const { form = 'table', dressing = {} } = objects.find((each) => each.key === key)!;
    const attrs = { tetherId: ids.get(key)!, copyOf: null, form, dressing };
    return {
      type: isInline(form) ? PLACED_INLINE : PLACED_NODE,
      attrs: attrs as NonNullable<ReportNode['attrs']>,
    };
  };
  const withCaption = (key: string): ReportNode => {
    const { caption } = objects.find((each) => each.key === key)!;
    if (!caption) return placed(key);
    return {
      type: CAPTIONED_NODE,
      attrs: { kind: caption.kind, of: ids.get(key)! },
      content: [placed(key), { type: CAPTION_NODE, content: words(caption.words) }],
    };
  };
  const paragraph = (text: string | DemoWords): ReportNode => ({
    type: 'paragraph',
    content: words(text),
  });
  return {
    type: 'doc',
    ...(settings ? { attrs: settings as NonNullable<ReportContent['attrs']> } : {}),
    content: body.map((node): ReportNode => {
      if ('heading' in node) {
        return { type: 'heading', attrs: { level: node.level }, content: words(node.heading) };
      }
      if ('object' in node) return withCaption(node.object);
      if ('listOfObjects' in node) return { type: LIST_NODE };
      if ('list' in node) {
        return {
          type: 'bulletList',
          content: node.list.map((item) => ({ type: 'listItem', content: [paragraph(item)] })),
        };
      }
      return paragraph(node.text);
    }),
  };
}
