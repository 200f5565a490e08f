import { HocuspocusProvider, HocuspocusProviderWebsocket } from '@hocuspocus/provider';
import * as Y from 'yjs';
import { whenIdle } from '../../placed/nearness/when-idle.ts';
import { KeptHere } from './kept-here.ts';
import { LeftBehind } from './left-behind.ts';

/** How what was written here stands to what the server has. */
export type WritingState =
  /** The server has all of it. */
  | 'saved'
  /** Some of it is on its way. */
  | 'writing'
  /** Some of it is only here, since the server cannot be reached. */
  | 'away';

/** Somebody who has a document open. */
export interface Present {
  /** The window, not the person. */
  window: number;
  personId: string;
  name: string;
  /** Of the caret, `#RRGGBB`. */
  colour: string;
}

/** A document to be shown: as everybody writes it, or one of this window alone, which nobody else sees. */
export interface SharedWith {
  doc: Y.Doc;
  provider: HocuspocusProvider | null;
}

/** Who writes here. */
export interface Writer {
  id: string;
  name: string;
  mayWrite: boolean;
}

const RETRY = { minDelay: 200, delay: 500, factor: 1.5, maxDelay: 4_000 };
/** Of carets: dark enough for white letters on them. */
const COLOURS = ['#1f6f78', '#8a4b12', '#5b3f8c', '#2f6b2f', '#9c2f4f', '#3b5a9a'] as const;
const colourOf = (window: number) => COLOURS[window % COLOURS.length]!;

/**
 * A document that is open in this window: what everybody writes in it, as it is now. What is written here is kept in the
 * browser until the server has it, and is sent again when the connection stands again.
 */
export class SharedDocument {
  readonly doc = new Y.Doc();
  readonly provider: HocuspocusProvider;
  /** Resolves when the document is there as the server has it. */
  readonly ready: Promise<void>;
  state: WritingState = 'saved';
  present: readonly Present[] = [];
  private readonly socket: HocuspocusProviderWebsocket;
  private readonly kept: KeptHere | null;
  private readonly left: LeftBehind | null;
  private readonly listeners = new Set<() => void>();
  private isConnected = false;

  constructor(documentId: string, writer: Writer) {
    const { protocol, host } = window.location;
    const address = `${protocol === 'https:' ? 'wss' : 'ws'}://${host}/api/documents/${documentId}/writing`;
    // Only for who writes, and apart for each person: nobody sends what somebody else wrote.
    const name = `tether-${writer.id}-${documentId}`;
    this.kept = writer.mayWrite ? new KeptHere(name, this.doc) : null;
    this.left = writer.mayWrite ? new LeftBehind(name, this.doc, window.localStorage) : null;
    this.socket = new HocuspocusProviderWebsocket({ url: address, ...RETRY });
    this.provider = new HocuspocusProvider({
      websocketProvider: this.socket,
      name: documentId,
      document: this.doc,
      // Who it is says the session’s cookie.
      token: 'session',
      onStatus: ({ status }) => {
        this.isConnected = status === 'connected';
        this.look();
      },
      onUnsyncedChanges: () => this.look(),
      onAwarenessChange: () => this.lookAround(),
    });
    this.ready = new Promise((resolve) => {
      this.provider.on('synced', () => resolve());
    });
    void this.ready.then(() => whenIdle(this.tidy));
    this.provider.setAwarenessField('user', {
      id: writer.id,
      name: writer.name,
      color: colourOf(this.doc.clientID),
    });
    this.provider.attach();
    window.addEventListener('beforeunload', this.onLeaving);
    window.addEventListener('pagehide', this.onGoing);
  }

  /** Calls back after each change of `state` or `present`; gives the way to stop that. */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Lets go of it. What the server does not have yet is sent before, as long as it can be reached. */
  async close(): Promise<void> {
    await this.sent();
    window.removeEventListener('beforeunload', this.onLeaving);
    window.removeEventListener('pagehide', this.onGoing);
    const isAllSent = !this.provider.hasUnsyncedChanges;
    this.provider.destroy();
    this.socket.destroy();
    // A connection that it was about to try again is not tried any more.
    this.socket.connect = () => Promise.resolve();
    await this.kept?.close(isAllSent);
    this.doc.destroy();
  }

  private readonly tidy = () => {
    const isAllSent = () => this.provider.isSynced && !this.provider.hasUnsyncedChanges;
    // What could not be taken out stays until the document is closed, or opened again.
    void this.kept?.tidy(isAllSent).catch(() => undefined);
  };

  /** Resolves when the server has all, or cannot be reached. */
  private sent(): Promise<void> {
    return new Promise((resolve) => {
      const look = () => {
        if (this.state === 'writing') return;
        stop();
        resolve();
      };
      const stop = this.subscribe(look);
      look();
    });
  }

  private readonly onLeaving = (event: BeforeUnloadEvent) => {
    if (this.state !== 'saved') event.preventDefault();
  };

  private readonly onGoing = () => {
    if (this.state !== 'saved') this.left?.leave();
  };

  /** Whether anything was written in this window at all: the first greeting of the server counts as something to be sent. */
  private get hasOwn(): boolean {
    return this.doc.store.clients.has(this.doc.clientID);
  }

  private look(): void {
    const isOpen = this.provider.hasUnsyncedChanges && this.hasOwn;
    if (!this.provider.hasUnsyncedChanges && this.provider.isSynced) this.left?.agree();
    const state = !isOpen ? 'saved' : this.isConnected ? 'writing' : 'away';
    if (state === this.state) return;
    this.state = state;
    this.tell();
  }

  private lookAround(): void {
    const others: Present[] = [];
    for (const [window, said] of this.provider.awareness!.getStates()) {
      const person = said.user as { id?: unknown; name?: unknown } | undefined;
      if (window === this.doc.clientID || typeof person?.name !== 'string') continue;
      const { id, name } = person;
      others.push({ window, personId: String(id), name, colour: colourOf(window) });
    }
    if (JSON.stringify(others) === JSON.stringify(this.present)) return;
    this.present = others;
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}
