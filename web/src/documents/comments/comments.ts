import {
  addComment,
  addNote,
  type CommentAbout,
  type Commenter,
  type CommentThread,
  readComments,
  removeNote,
  type SharedComments,
  settleThread,
  sharedComments,
} from '@tether/documents';
import { createContext, useContext, useSyncExternalStore } from 'react';
import type * as Y from 'yjs';

/** The comments of an open document, as they are now. */
export class Comments {
  private readonly shared: SharedComments;
  private read: readonly CommentThread[] | null = null;
  private readonly listeners = new Set<() => void>();

  constructor(
    doc: Y.Doc,
    /** Who is at this window. */
    readonly person: Commenter,
  ) {
    this.shared = sharedComments(doc);
    this.shared.observe(this.forget);
  }

  /** Nobody is told of anything any more. */
  close(): void {
    this.shared.unobserve(this.forget);
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** All threads: the same list for as long as nothing changes. */
  readonly threads = (): readonly CommentThread[] => {
    this.read ??= readComments(this.shared);
    return this.read;
  };

  /** Begins a thread; gives its id. */
  begin(about: CommentAbout, words: string): string {
    const thread = crypto.randomUUID();
    addComment(this.shared, thread, about, this.note(words));
    return thread;
  }

  answer(thread: string, words: string): void {
    addNote(this.shared, thread, this.note(words));
  }

  takeBack(thread: string, note: string): void {
    removeNote(this.shared, thread, note);
  }

  settle(thread: string): void {
    settleThread(this.shared, thread, { by: this.person, at: new Date().toISOString() });
  }

  open(thread: string): void {
    settleThread(this.shared, thread, null);
  }

  private note(words: string) {
    return { id: crypto.randomUUID(), by: this.person, at: new Date().toISOString(), words };
  }

  private readonly forget = () => {
    this.read = null;
    for (const listener of this.listeners) listener();
  };
}

/** The comments of the document around; null where it has none, as in print. */
export const CommentsAround = createContext<Comments | null>(null);

const NONE: readonly CommentThread[] = [];
const never = () => () => undefined;
const none = () => NONE;

/** The threads of the document around. */
export function useThreads(): readonly CommentThread[] {
  const comments = useContext(CommentsAround);
  return useSyncExternalStore(comments?.subscribe ?? never, comments?.threads ?? none);
}
