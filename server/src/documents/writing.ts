import type { IncomingMessage } from 'node:http';
import {
  type beforeHandleMessagePayload,
  type Document,
  Hocuspocus,
  type onLoadDocumentPayload,
} from '@hocuspocus/server';
import * as decoding from 'lib0/decoding';
import type { WebSocket } from 'ws';
import { applyAwarenessUpdate, encodeAwarenessUpdate } from 'y-protocols/awareness';
import * as sync from 'y-protocols/sync';
import * as Y from 'yjs';
import type { Database } from '../db/database.ts';
import { listUpdates } from '../db/updates.ts';
import { signal } from '../events/announce.ts';
import { reasonAgainst } from '../people/rights.ts';
import { personOf } from '../people/session.ts';
import { tell } from '../tell.ts';
import { keepUpdate, readShared } from './shared.ts';
import { writeOutDocument } from './write-out.ts';

/** Pause in writing after which the content of a document is written out. */
const WRITE_OUT_MS = 400;
/** Who writes on and on has it written out all the same. */
const WRITE_OUT_AT_LEAST_MS = 3_000;
const RETRY_MS = 3_000;
/** What another process told; it is not told on. */
const ELSEWHERE = { isElsewhere: true };
/** Kinds of messages that may hold something written; see the protocol of `@hocuspocus/server`. */
const SYNC_MESSAGES = [0, 4];
/** How much of who is where is told to other processes: what PostgreSQL takes in a notification. */
const MOST_PRESENCE = 7_900;

interface Open {
  document: Document;
  /** Numbers of the pieces that are in it. */
  known: Set<number>;
  /** Whether pieces are being fetched, and whether some were added since that began. */
  fetching: 'no' | 'yes' | 'again';
}

interface Context {
  documentId: string;
  request: IncomingMessage;
}

/**
 * Documents that people have open at the moment, in this process. What one writes is kept in the database before it counts
 * as taken, and goes to everybody who has the document open, here and through the database in other processes.
 */
export class Writing {
  private readonly open = new Map<string, Open>();
  private readonly writingOut = new Set<Promise<void>>();
  private readonly retries = new Map<string, NodeJS.Timeout>();
  private readonly sockets = new Set<WebSocket>();
  private isStopped = false;
  private readonly hocuspocus: Hocuspocus;

  constructor(private readonly db: Database) {
    this.hocuspocus = new Hocuspocus({
      quiet: true,
      debounce: WRITE_OUT_MS,
      maxDebounce: WRITE_OUT_AT_LEAST_MS,
      onLoadDocument: (payload) => this.load(payload),
      afterUnloadDocument: async ({ documentName }) => {
        this.open.delete(documentName);
      },
      onAuthenticate: async ({ documentName, context }) => {
        if (documentName !== (context as Context).documentId) throw new Error('Another document.');
      },
      beforeHandleMessage: (payload) => this.take(payload),
      onStoreDocument: async ({ documentName }) => this.writeOut(documentName),
    });
  }

  /** Takes a connection of a person who may look at the document. */
  attach(socket: WebSocket, request: IncomingMessage, documentId: string): void {
    socket.on('error', () => undefined);
    this.sockets.add(socket);
    socket.on('close', () => this.sockets.delete(socket));
    this.hocuspocus.handleConnection(socket, request, { documentId, request } satisfies Context);
  }

  /** Something was written in a document, here or in another process. */
  heard(documentId: string): void {
    const open = this.open.get(documentId);
    if (open) void this.fetch(documentId, open);
  }

  /** Another process told who is where. */
  heardPresence(text: string): void {
    const { documentId, from, update } = JSON.parse(text) as Record<string, string>;
    const open = this.open.get(documentId!);
    if (!open || from === this.name) return;
    applyAwarenessUpdate(open.document.awareness, Buffer.from(update!, 'base64'), ELSEWHERE);
  }

  /** What was told meanwhile may not have been heard. */
  resync(): void {
    for (const documentId of this.open.keys()) this.heard(documentId);
  }

  /** The data were replaced as a whole: nobody goes on with what there was. */
  forget(): void {
    for (const socket of this.sockets) socket.close();
  }

  async stop(): Promise<void> {
    this.isStopped = true;
    for (const timer of this.retries.values()) clearTimeout(timer);
    for (const socket of this.sockets) socket.terminate();
    // What waits to be written out is written out now; what fails is left to the next process.
    for (const documentId of this.open.keys()) void this.writeOut(documentId);
    await Promise.all(this.writingOut);
    for (const { document } of this.open.values()) document.destroy();
  }

  /** Tells processes apart. */
  private readonly name = crypto.randomUUID();

  private async load({ documentName, document }: onLoadDocumentPayload): Promise<void> {
    const open: Open = { document, known: new Set(), fetching: 'no' };
    // From now on what is added is heard.
    this.open.set(documentName, open);
    const { doc, pieces } = await readShared(this.db, documentName);
    for (const { id } of pieces) open.known.add(id);
    Y.applyUpdate(document, Y.encodeStateAsUpdate(doc), ELSEWHERE);
    document.awareness.on('update', (change: Record<string, number[]>, origin: unknown) => {
      if (origin !== ELSEWHERE)
        this.tellPresence(documentName, document, Object.values(change).flat());
    });
  }

  /**
   * Looks at a message before it is taken: whoever may not write is only shown what others do, and what is written is in
   * the database before anybody is told that it was taken.
   */
  private async take(payload: beforeHandleMessagePayload): Promise<void> {
    const { connection, documentName, update: message } = payload;
    const { request } = payload.context as Context;
    const written = writtenIn(message);
    if (!written) return;
    /** What was sent is not taken: it is sent again when the connection stands anew. */
    const refuse = () => {
      connection.readOnly = true;
      connection.webSocket.close();
    };
    if (written === 'refused' || !isUpdate(written)) return refuse();
    try {
      const person = await personOf(this.db, request);
      if (!person) return refuse();
      const subject = { kind: 'document' as const, id: documentName };
      connection.readOnly = (await reasonAgainst(this.db, person, 'change', subject)) !== null;
      if (connection.readOnly || isNothing(written)) return;
      const id = await keepUpdate(this.db, {
        documentId: documentName,
        personId: person.id,
        update: written,
      });
      this.open.get(documentName)?.known.add(id);
    } catch (error) {
      tell('Keeping what was written', error);
      refuse();
    }
  }

  private async fetch(documentId: string, open: Open): Promise<void> {
    if (open.fetching !== 'no') {
      open.fetching = 'again';
      return;
    }
    do {
      open.fetching = 'yes';
      try {
        for (const { id, update } of await listUpdates(this.db, documentId, [...open.known])) {
          open.known.add(id);
          Y.applyUpdate(open.document, update, ELSEWHERE);
        }
      } catch (error) {
        // The next piece that is added fetches it too.
        tell('What was written elsewhere', error);
      }
    } while (open.fetching === ('again' as Open['fetching']));
    open.fetching = 'no';
  }

  private tellPresence(documentId: string, { awareness }: Document, clients: number[]): void {
    if (clients.length === 0 || this.isStopped) return;
    const update = Buffer.from(encodeAwarenessUpdate(awareness, clients)).toString('base64');
    const text = JSON.stringify({ documentId, from: this.name, update });
    if (text.length > MOST_PRESENCE) return;
    signal(this.db, 'presence', text).catch(() => undefined);
  }

  /** Writes out what was written; tries again where the database is away. */
  private writeOut(documentId: string): Promise<void> {
    clearTimeout(this.retries.get(documentId));
    const writing = writeOutDocument(this.db, documentId).catch((error: unknown) => {
      tell('Writing a document out', error);
      if (this.isStopped) return;
      this.retries.set(
        documentId,
        setTimeout(() => void this.writeOut(documentId), RETRY_MS),
      );
    });
    this.writingOut.add(writing);
    return writing.finally(() => this.writingOut.delete(writing));
  }
}

/** What a message wants written; null for one that wants nothing, `refused` for what nobody may send. */
function writtenIn(message: Uint8Array): Uint8Array | 'refused' | null {
  const decoder = decoding.createDecoder(message);
  decoding.readVarString(decoder);
  const type = decoding.readVarUint(decoder);
  // Words that are no part of a document, to be told to everybody.
  if (type === 5 || type === 6) return 'refused';
  if (!SYNC_MESSAGES.includes(type)) return null;
  const step = decoding.readVarUint(decoder);
  return step === sync.messageYjsSyncStep1 ? null : decoding.readVarUint8Array(decoder);
}

/** Whether bytes are an update at all: what is kept is read by everybody who opens the document. */
function isUpdate(bytes: Uint8Array): boolean {
  try {
    Y.decodeUpdate(bytes);
    return true;
  } catch {
    return false;
  }
}

/** Whether an update says nothing: who has nothing new answers with one. */
function isNothing(update: Uint8Array): boolean {
  return update.length === 2 && update[0] === 0 && update[1] === 0;
}
