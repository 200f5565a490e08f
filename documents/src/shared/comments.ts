import type * as Y from 'yjs';
import { z } from 'zod';

/** The longest that one person says in one go. */
export const MOST_COMMENT = 5_000;

const personSchema = z.object({ id: z.string(), name: z.string() });
const noteSchema = z.object({
  by: personSchema,
  /** ISO 8601. */
  at: z.iso.datetime(),
  words: z.string().min(1).max(MOST_COMMENT),
});
const aboutSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('words'),
    /** Where they begin and end, in whatever way the kind of document finds them again. */
    from: z.unknown(),
    to: z.unknown(),
    /** What they were when somebody said something of them. */
    quote: z.string(),
  }),
  z.object({ kind: z.literal('object'), tetherId: z.string() }),
]);
const resolvedSchema = z.object({ by: personSchema, at: z.iso.datetime() });

/** Who says something, as it is kept with what they say. */
export type Commenter = z.infer<typeof personSchema>;
/** What a thread of comments is about: words, or a placed object. */
export type CommentAbout = z.infer<typeof aboutSchema>;
/** What one person said. */
export type CommentNote = z.infer<typeof noteSchema> & { id: string };
/** What people said of one thing, the earliest first. */
export interface CommentThread {
  id: string;
  about: CommentAbout;
  notes: CommentNote[];
  /** Who settled it and when; null while it is open. */
  resolved: z.infer<typeof resolvedSchema> | null;
}

/**
 * The comments of a shared document, beside its content: a map of single entries, so that whatever two people say or settle
 * at the same time is kept from both. Undo and kept versions of the content leave them as they are.
 */
export type SharedComments = Y.Map<unknown>;

export function sharedComments(doc: Y.Doc): SharedComments {
  return doc.getMap('comments');
}

const ABOUT = 'about';
const RESOLVED = 'resolved';
const NOTE = 'note';
const nameOf = (thread: string, ...path: string[]) => [thread, ...path].join(':');

/** All threads, in the order in which they were begun. What came from many hands and is none is passed over. */
export function readComments(comments: SharedComments): CommentThread[] {
  const threads = new Map<string, CommentThread>();
  for (const [name, value] of comments.entries()) {
    const about = name.endsWith(`:${ABOUT}`) ? aboutSchema.safeParse(value) : null;
    if (!about?.success) continue;
    const id = name.slice(0, -1 - ABOUT.length);
    threads.set(id, { id, about: about.data, notes: [], resolved: null });
  }
  for (const [name, value] of comments.entries()) {
    const [id = '', what, note] = name.split(':');
    const thread = threads.get(id);
    if (!thread) continue;
    if (what === RESOLVED) {
      const resolved = resolvedSchema.safeParse(value);
      if (resolved.success) thread.resolved = resolved.data;
    } else if (what === NOTE && note !== undefined) {
      const said = noteSchema.safeParse(value);
      if (said.success) thread.notes.push({ id: note, ...said.data });
    }
  }
  const begun = (thread: CommentThread) => `${thread.notes[0]?.at ?? ''} ${thread.id}`;
  const inTime = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
  for (const { notes } of threads.values()) {
    notes.sort((a, b) => inTime(`${a.at} ${a.id}`, `${b.at} ${b.id}`));
  }
  return [...threads.values()]
    .filter(({ notes }) => notes.length > 0)
    .sort((a, b) => inTime(begun(a), begun(b)));
}

/** Begins a thread with what one person says of something. */
export function addComment(
  comments: SharedComments,
  thread: string,
  about: CommentAbout,
  note: CommentNote,
): void {
  comments.doc!.transact(() => {
    comments.set(nameOf(thread, ABOUT), about);
    addNote(comments, thread, note);
  });
}

/** Says something more in a thread, or says it otherwise. */
export function addNote(comments: SharedComments, thread: string, note: CommentNote): void {
  const { id, ...said } = note;
  comments.set(nameOf(thread, NOTE, id), said);
}

/** Takes back what somebody said; a thread without any notes is gone. */
export function removeNote(comments: SharedComments, thread: string, note: string): void {
  comments.delete(nameOf(thread, NOTE, note));
}

/** Settles a thread, or opens it again with null. */
export function settleThread(
  comments: SharedComments,
  thread: string,
  resolved: CommentThread['resolved'],
): void {
  if (resolved) comments.set(nameOf(thread, RESOLVED), resolved);
  else comments.delete(nameOf(thread, RESOLVED));
}
