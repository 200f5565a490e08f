import type { Fault, Result } from '@tether/core';
import type { DocumentContent } from '@tether/documents';
import type { Draft } from './draft.ts';

/** Pause in writing after which the text is saved. */
export const QUIET_MS = 600;
/** Time until a save that failed is tried again. */
export const RETRY_MS = 3_000;

/** How the content stands to what the server has. */
export type SaveState =
  | { kind: 'saved' }
  | { kind: 'writing' }
  | { kind: 'failed'; fault: Fault }
  /** Somebody else saved meanwhile: nothing is sent until the person decides. */
  | { kind: 'conflict'; fault: Fault };

/** What the saver needs of the world around it. */
export interface SaverTools {
  /** Saves content written upon `version`; gives the new version. */
  send: (draft: Draft) => Promise<Result<number>>;
  keep: (draft: Draft) => void;
  forget: () => void;
}

/**
 * Saves the content of one document a moment after each change, upon the version it was written on. It outlives the page
 * that shows the document: whoever leaves and comes back while a save is on its way finds it as it was left, and
 * no save of one window stands in the way of another save of the same window.
 */
export class ContentSaver {
  /** The newest content this window has seen: loaded, written or saved. */
  content: DocumentContent;
  /** The version `content` stands upon. */
  version: number;
  state: SaveState = { kind: 'saved' };
  private isDirty = false;
  private isSaving = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly listeners = new Set<() => void>();

  constructor(
    known: Draft,
    private readonly tools: SaverTools,
  ) {
    this.content = known.content;
    this.version = known.version;
  }

  /** Whether anything of it is not on the server yet. */
  get isUnsaved(): boolean {
    return this.isDirty || this.isSaving;
  }

  /** Calls back after each change of `state`; gives the way to stop that. */
  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Takes what was written; it is saved when the writing pauses. */
  write(content: DocumentContent): void {
    this.content = content;
    this.isDirty = true;
    this.tools.keep({ version: this.version, content });
    if (this.state.kind === 'conflict') return;
    this.tell({ kind: 'writing' });
    this.later(QUIET_MS);
  }

  /** Saves at once what is not saved. */
  async flush(): Promise<void> {
    clearTimeout(this.timer);
    if (!this.isDirty || this.isSaving || this.state.kind === 'conflict') return;
    this.isSaving = true;
    this.isDirty = false;
    const sent = await this.tools.send({ version: this.version, content: this.content });
    this.isSaving = false;
    if (sent.ok) {
      this.version = sent.value;
      if (this.isDirty) {
        this.tools.keep({ version: this.version, content: this.content });
        this.later(QUIET_MS);
        return;
      }
      this.tools.forget();
      this.tell({ kind: 'saved' });
      return;
    }
    this.isDirty = true;
    if (sent.fault.code === 'document-saved-elsewhere') {
      this.tell({ kind: 'conflict', fault: sent.fault });
    } else {
      this.tell({ kind: 'failed', fault: sent.fault });
      this.later(RETRY_MS);
    }
  }

  /** Takes what was saved elsewhere, unless something here is not saved; says whether it did. */
  takeNewer(newer: Draft): boolean {
    if (newer.version <= this.version || this.isUnsaved) return false;
    this.version = newer.version;
    this.content = newer.content;
    return true;
  }

  /** Gives up what is unsaved here for what was saved elsewhere. */
  takeTheirs(theirs: Draft): void {
    clearTimeout(this.timer);
    this.version = theirs.version;
    this.content = theirs.content;
    this.isDirty = false;
    this.tools.forget();
    this.tell({ kind: 'saved' });
  }

  private later(milliseconds: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.flush(), milliseconds);
  }

  private tell(state: SaveState): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }
}
