import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { HocuspocusProvider, HocuspocusProviderWebsocket } from '@hocuspocus/provider';
import { afterEach, describe, expect, test } from '@jest/globals';
import { DEMO_PASSWORD } from '@tether/demo';
import { type ReportContent, sharedText } from '@tether/documents';
import { sql } from 'drizzle-orm';
import * as encoding from 'lib0/encoding';
import { WebSocket } from 'ws';
import { messageYjsUpdate } from 'y-protocols/sync';
import * as Y from 'yjs';
import { writingSockets } from '../api/writing.ts';
import { buildApp } from '../app.ts';
import { connectDatabase } from '../db/database.ts';
import { gather } from '../documents/shared.ts';
import { writeOutDocument, writeOutLeft } from '../documents/write-out.ts';
import { Engine } from '../engine.ts';
import { eventually, MIGRATIONS, startTestServer, testThreads } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;

let server: TestServer;
const toEnd: (() => unknown)[] = [];
afterEach(async () => {
  for (const end of toEnd.splice(0).reverse()) await end();
  await server.stop();
});

/** Serves what there is at a port of its own; gives its address. */
async function serve(services: Parameters<typeof buildApp>[0]): Promise<string> {
  const http: Server = createServer(buildApp(services, null));
  http.on('upgrade', writingSockets(services));
  await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', resolve));
  toEnd.push(() => {
    http.closeAllConnections();
    return new Promise((resolve) => http.close(resolve));
  });
  return `127.0.0.1:${(http.address() as AddressInfo).port}`;
}

async function begin(): Promise<{ host: string; documentId: string }> {
  server = await startTestServer({ works: false });
  const host = await serve(server);
  const ines = await server.as('ines');
  const made = await ines.post('/api/documents').send({ name: 'Together' }).expect(201);
  return { host, documentId: made.body.id as string };
}

async function signIn(host: string, signInName: string): Promise<string> {
  const answer = await fetch(`http://${host}/api/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ signInName, password: DEMO_PASSWORD }),
  });
  return answer.headers.get('set-cookie')!.split(';')[0]!;
}

/** Somebody who has the document open. */
async function writer(host: string, documentId: string, signInName: string) {
  const cookie = await signIn(host, signInName);
  class Socket extends WebSocket {
    constructor(address: string | URL) {
      super(address, { headers: { cookie } });
    }
  }
  const socket = new HocuspocusProviderWebsocket({
    url: `ws://${host}/api/documents/${documentId}/writing`,
    WebSocketPolyfill: Socket,
    delay: 50,
    maxDelay: 200,
    minDelay: 20,
  });
  const doc = new Y.Doc();
  const provider = new HocuspocusProvider({
    websocketProvider: socket,
    name: documentId,
    document: doc,
    token: 'session',
  });
  provider.attach();
  toEnd.push(() => {
    provider.destroy();
    socket.destroy();
    // A connection that it was about to try again is not tried any more.
    socket.connect = () => Promise.resolve();
    doc.destroy();
  });
  await eventually(
    async () => provider.isSynced,
    (isSynced) => isSynced,
  );
  return {
    doc,
    provider,
    socket,
    /** Types words at the end of the heading. */
    type: (words: string) => {
      const line = (sharedText(doc).get(0) as Y.XmlElement).get(0) as Y.XmlText;
      line.insert(line.length, words);
    },
    heading: () => String((sharedText(doc).get(0) as Y.XmlElement).get(0)),
  };
}
type Writer = Awaited<ReturnType<typeof writer>>;

const taken = ({ provider }: Writer) =>
  eventually(
    async () => provider.unsyncedChanges,
    (left) => left === 0,
  );
const reads = (somebody: Writer, words: string) =>
  eventually(
    async () => somebody.heading(),
    (heading) => heading === words,
  );

async function contentOf(documentId: string): Promise<ReportContent> {
  const { rows } = await server.db.execute<{ content: ReportContent }>(
    sql`select content from documents where id = ${documentId}`,
  );
  return rows[0]!.content;
}
/** What is said of nothing is not said. */
const said = (content: unknown): unknown =>
  JSON.parse(JSON.stringify(content, (_, each: unknown) => each ?? undefined));
const headingOf = async (documentId: string) =>
  (await contentOf(documentId)).content[0]!.content![0]!.text;

describe('writing together', () => {
  test('two people write in one line, both see it, and it becomes the content of the document', async () => {
    const { host, documentId } = await begin();
    const [ines, tam] = [
      await writer(host, documentId, 'ines'),
      await writer(host, documentId, 'tam'),
    ];
    ines.type(' A');
    tam.type(' B');
    await Promise.all([taken(ines), taken(tam)]);
    await eventually(
      async () => ines.heading() === tam.heading(),
      (isSame) => isSame,
    );
    expect([...ines.heading()].sort().join('')).toBe([...'Together A B'].sort().join(''));
    await eventually(
      () => headingOf(documentId),
      (text) => text === ines.heading(),
    );
    const { body } = await (await server.as('ines')).get(`/api/documents/${documentId}`);
    expect(body.version).toBeGreaterThan(1);
    expect(['Ines Fallow', 'Tam Reedsby']).toContain(body.savedBy);
  });

  test('a viewer sees what others write, and nothing of theirs is taken', async () => {
    const { host, documentId } = await begin();
    const ines = await writer(host, documentId, 'ines');
    const viewer = await writer(host, documentId, 'odile');
    ines.type('!');
    await reads(viewer, 'Together!');
    viewer.type('?');
    await taken(ines);
    ines.type('!');
    await reads(ines, 'Together!!');
    await taken(ines);
    await writeOutDocument(server.db, documentId);
    expect(await headingOf(documentId)).toBe('Together!!');
    expect(ines.heading()).toBe('Together!!');
  });

  test('what is written counts as taken only when the database has it', async () => {
    const { host, documentId } = await begin();
    const ines = await writer(host, documentId, 'ines');
    await taken(ines);
    await server.db.transaction(async (tx) => {
      await tx.execute(sql`lock table document_updates in access exclusive mode`);
      ines.type(' and kept');
      // The server has had the words for as long as it takes to answer something else.
      await (await server.as('ines')).get('/api/me').expect(200);
      expect(ines.provider.hasUnsyncedChanges).toBe(true);
    });
    await taken(ines);
    await writeOutDocument(server.db, documentId);
    expect(await headingOf(documentId)).toBe('Together and kept');
  });

  test('who was offline sends and gets what was missed', async () => {
    const { host, documentId } = await begin();
    const [ines, tam] = [
      await writer(host, documentId, 'ines'),
      await writer(host, documentId, 'tam'),
    ];
    tam.socket.disconnect();
    await eventually(
      async () => tam.socket.status,
      (status) => status === 'disconnected',
    );
    tam.type(' (Tam was away)');
    ines.type('!');
    await taken(ines);
    expect(tam.heading()).toBe('Together (Tam was away)');
    await tam.socket.connect();
    await eventually(
      async () => ines.heading() === tam.heading() && ines.heading().includes('away'),
      (isSame) => isSame,
    );
    expect(ines.heading()).toContain('!');
  });

  test('another process hears what is written in this one, and who is there', async () => {
    const { host, documentId } = await begin();
    const database = await connectDatabase(server.url, MIGRATIONS);
    const other = new Engine(database, server.url, 'server', testThreads());
    await other.start({ works: false, watches: false });
    toEnd.push(() => other.stop());
    const elsewhere = await serve({ ...server, db: other.db, writing: other.writing });
    const [ines, tam] = [
      await writer(host, documentId, 'ines'),
      await writer(elsewhere, documentId, 'tam'),
    ];
    ines.type(' here');
    await reads(tam, 'Together here');
    tam.type(' and there');
    await reads(ines, 'Together here and there');
    tam.provider.setAwarenessField('person', { name: 'Tam Reedsby' });
    await eventually(
      async () => [...ines.provider.awareness!.getStates().values()],
      (states) => states.some(({ person }) => person?.name === 'Tam Reedsby'),
    );
  });

  test('nobody gets in who is not signed in, and no page of another host', async () => {
    const { host, documentId } = await begin();
    const cookie = await signIn(host, 'ines');
    const knock = (headers: Record<string, string>, id = documentId) =>
      new Promise<number>((resolve) => {
        const socket = new WebSocket(`ws://${host}/api/documents/${id}/writing`, { headers });
        socket.on('unexpected-response', (_, { statusCode }) => resolve(statusCode!));
        socket.on('error', () => undefined);
        socket.on('open', () => {
          socket.close();
          resolve(101);
        });
      });
    expect(await knock({})).toBe(401);
    expect(await knock({ cookie, origin: 'http://elsewhere.example' })).toBe(403);
    expect(await knock({ cookie }, 'no-id')).toBe(404);
    expect(await knock({ cookie, origin: `http://${host}` })).toBe(101);
  });

  test('what is no update is not kept, and the document stays as it is', async () => {
    const { host, documentId } = await begin();
    const ines = await writer(host, documentId, 'ines');
    await taken(ines);
    const encoder = encoding.createEncoder();
    encoding.writeVarString(encoder, documentId);
    encoding.writeVarUint(encoder, 0);
    encoding.writeVarUint(encoder, messageYjsUpdate);
    encoding.writeVarUint8Array(encoder, new Uint8Array([7, 1, 255, 255, 3]));
    ines.socket.webSocket!.send(encoding.toUint8Array(encoder));
    await eventually(
      async () => ines.socket.status,
      (status) => status !== 'connected',
    );
    const tam = await writer(host, documentId, 'tam');
    tam.type(' goes on');
    await taken(tam);
    await reads(ines, 'Together goes on');
  });

  test('whoever signs out meanwhile writes no more', async () => {
    const { host, documentId } = await begin();
    const ines = await writer(host, documentId, 'ines');
    await server.db.execute(sql`delete from sessions`);
    ines.type(' gone');
    await eventually(
      async () => ines.socket.status,
      (status) => status !== 'connected',
    );
    await writeOutDocument(server.db, documentId);
    expect(await headingOf(documentId)).toBe('Together');
  });
});

describe('what was written', () => {
  test('by a process that ended too early is written out by another one', async () => {
    const { host, documentId } = await begin();
    const ines = await writer(host, documentId, 'ines');
    ines.type(' in time');
    await taken(ines);
    await server.db.execute(
      sql`update document_updates set is_written_out = false where document_id = ${documentId}`,
    );
    await server.db.execute(
      sql`update documents set content = jsonb_set(content, '{content}', '[]') where id = ${documentId}`,
    );
    await writeOutLeft(server.db);
    expect(await headingOf(documentId)).toBe('Together in time');
  });

  test('in many pieces is put together into one, and who has it open goes on', async () => {
    const { host, documentId } = await begin();
    const ines = await writer(host, documentId, 'ines');
    for (let at = 0; at < 20; at++) {
      ines.type(String(at % 10));
      await taken(ines);
    }
    await gather(server.db, documentId);
    const { rows } = await server.db.execute<{ count: number }>(
      sql`select count(*)::int as count from document_updates where document_id = ${documentId}`,
    );
    expect(rows[0]!.count).toBe(1);
    ines.type('!');
    await taken(ines);
    const tam = await writer(host, documentId, 'tam');
    expect(tam.heading()).toBe('Together01234567890123456789!');
  });

  test('in the demo’s report before there was writing together is carried over as it was', async () => {
    const { host } = await begin();
    const ines = await server.as('ines');
    const all = (await ines.get('/api/documents')).body as { id: string; name: string }[];
    for (const { id } of all) {
      const before = await contentOf(id);
      await writer(host, id, 'ines');
      await server.db.execute(
        sql`update document_updates set is_written_out = false where document_id = ${id}`,
      );
      await writeOutDocument(server.db, id);
      expect(said(await contentOf(id))).toEqual(said(before));
    }
  });

  test('by a program upon a version keeps what a person types elsewhere', async () => {
    const { host, documentId } = await begin();
    const tam = await writer(host, documentId, 'tam');
    const ines = await server.as('ines');
    const { body: known } = await ines.get(`/api/documents/${documentId}`);
    tam.type(' typed');
    await taken(tam);
    const content = {
      ...known.content,
      content: [
        ...known.content.content,
        { type: 'paragraph', content: [{ type: 'text', text: 'By a program' }] },
      ],
    };
    await ines
      .put(`/api/documents/${documentId}/content`)
      .send({ version: known.version, content })
      .expect(409);
    const { body: now } = await ines.get(`/api/documents/${documentId}`);
    await ines
      .put(`/api/documents/${documentId}/content`)
      .send({
        version: now.version,
        content: { ...content, content: [now.content.content[0], ...content.content.slice(1)] },
      })
      .expect(200);
    await eventually(
      async () => sharedText(tam.doc).toString(),
      (text) => text.includes('By a program'),
    );
    expect(tam.heading()).toBe('Together typed');
  });
});
