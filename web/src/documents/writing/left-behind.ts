import * as Y from 'yjs';

const MARK = '-left-';

/**
 * What was written in the very last moment before a page goes. The browser's database is written to a little later, which is
 * too late then; this store is written to at once, and is small: it holds only what the server did not have.
 */
export class LeftBehind {
  private readonly key: string;
  /** What the server had when all was saved last. */
  private agreed: Uint8Array;

  constructor(
    name: string,
    private readonly doc: Y.Doc,
    private readonly store: Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>,
  ) {
    this.key = `${name}${MARK}${doc.clientID}`;
    const before = `${name}${MARK}`;
    const keys = Array.from({ length: store.length }, (_, at) => store.key(at) ?? '');
    for (const each of keys.filter((one) => one.startsWith(before))) {
      const left = store.getItem(each);
      if (left !== null) apply(doc, left);
      // From here on it is kept like all that is written here.
      store.removeItem(each);
    }
    this.agreed = Y.encodeStateVector(new Y.Doc());
  }

  /** The server has all of it. */
  agree(): void {
    this.agreed = Y.encodeStateVector(this.doc);
    this.store.removeItem(this.key);
  }

  /** The page goes, and the server does not have all. */
  leave(): void {
    const update = Y.encodeStateAsUpdate(this.doc, this.agreed);
    try {
      this.store.setItem(this.key, btoa(String.fromCharCode(...chunked(update))));
    } catch {
      // There is no room: the browser's database has all but the last moment.
    }
  }
}

/** More cannot be handed over as single arguments; it is not the last moment's any more. */
const MOST_BYTES = 60_000;

function chunked(update: Uint8Array): Uint8Array {
  if (update.length > MOST_BYTES) throw new RangeError('too large');
  return update;
}

function apply(doc: Y.Doc, left: string): void {
  try {
    Y.applyUpdate(
      doc,
      Uint8Array.from(atob(left), (sign) => sign.charCodeAt(0)),
    );
  } catch {
    // Cut short or written by something else: nothing to be had from it.
  }
}
