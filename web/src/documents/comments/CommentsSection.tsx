import type { CommentThread } from '@tether/documents';
import { useContext, useEffect, useRef, useState } from 'react';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { useMayChange } from '../../state/useMayChange.ts';
import { threadShown } from '../../state/workbench-slice.ts';
import { Button } from '../../ui/Button.tsx';
import { Tick } from '../../ui/fields/Tick.tsx';
import { Moment } from '../../ui/Moment.tsx';
import type { Surface } from '../surface.ts';
import { CommentField } from './CommentField.tsx';
import { CommentsAround, useThreads } from './comments.ts';

/** What people said of a document, or of one object in it: to be answered, settled and opened again. */
export function CommentsSection(props: {
  surface: Surface;
  /** Only what is said of this object; null for all. */
  tetherId: string | null;
  /** What objects are called, for those that comments are on. */
  nameOf: (tetherId: string) => string | null;
}) {
  const { surface, tetherId, nameOf } = props;
  const comments = useContext(CommentsAround);
  const { isAllowed } = useMayChange();
  const [showsSettled, setShowsSettled] = useState(false);
  const shown = useAppSelector(({ workbench }) => workbench.thread);
  const all = useThreads().filter(
    ({ about }) => tetherId === null || (about.kind === 'object' && about.tetherId === tetherId),
  );
  const settled = all.filter(({ resolved }) => resolved !== null);
  const listed = all.filter(
    ({ id, resolved }) => resolved === null || showsSettled || id === shown,
  );
  if (!comments) return null;
  return (
    <section className="flex flex-col gap-2" aria-label="Comments">
      {all.length === 0 && (
        <p className="text-muted">
          {tetherId === null
            ? 'None yet. Mark words, or select an object, and press “Comment” on the rail.'
            : 'None on this object yet.'}
        </p>
      )}
      <ol className="flex flex-col gap-2">
        {listed.map((thread) => (
          <Thread key={thread.id} thread={thread} surface={surface} nameOf={nameOf} />
        ))}
      </ol>
      {settled.length > 0 && (
        <Tick isOn={showsSettled} onChange={setShowsSettled}>
          Show {settled.length === 1 ? 'the settled one' : `the ${settled.length} settled ones`}
        </Tick>
      )}
      {tetherId !== null && isAllowed && (
        <CommentField
          label="A comment on this object"
          action="Say it"
          onSaid={(words) => comments.begin({ kind: 'object', tetherId }, words)}
        />
      )}
    </section>
  );
}

function Thread(props: {
  thread: CommentThread;
  surface: Surface;
  nameOf: (tetherId: string) => string | null;
}) {
  const { thread, surface, nameOf } = props;
  const comments = useContext(CommentsAround)!;
  const dispatch = useAppDispatch();
  const { isAllowed } = useMayChange();
  const isShown = useAppSelector(({ workbench }) => workbench.thread === thread.id);
  const box = useRef<HTMLLIElement>(null);
  const [isGone, setGone] = useState(false);
  useEffect(() => {
    if (isShown) box.current?.scrollIntoView({ block: 'nearest' });
  }, [isShown]);
  const { about, notes, resolved } = thread;
  const name = about.kind === 'object' ? nameOf(about.tetherId) : null;
  return (
    <li
      ref={box}
      className={`rounded-box border p-2 ${isShown ? 'border-rope' : 'border-hairline'} ${resolved ? 'bg-mist' : 'bg-white'}`}
    >
      <button
        type="button"
        className="mb-1 block w-full truncate text-left text-sm text-muted hover:underline"
        onClick={() => {
          dispatch(threadShown(thread.id));
          setGone(!surface.showAbout(about));
        }}
      >
        {about.kind === 'words' ? `“${about.quote}”` : (name ?? 'An object that is gone')}
      </button>
      {isGone && (
        <p role="status" className="mb-1 text-sm text-muted">
          {about.kind === 'words'
            ? 'These words are not in the text any more.'
            : 'This object is not in the document any more.'}
        </p>
      )}
      <ol className="flex flex-col gap-1.5">
        {notes.map((note) => (
          <li key={note.id}>
            <p className="text-sm">
              <span className="font-semibold">{note.by.name}</span>{' '}
              <span className="text-muted">
                <Moment at={note.at} />
              </span>
            </p>
            <p className="break-words whitespace-pre-wrap">{note.words}</p>
            {isAllowed && note.by.id === comments.person.id && (
              <button
                type="button"
                className="text-sm text-muted underline hover:text-ink"
                aria-label={`Take back “${note.words.slice(0, 40)}”`}
                onClick={() => comments.takeBack(thread.id, note.id)}
              >
                Take back
              </button>
            )}
          </li>
        ))}
      </ol>
      {resolved && (
        <p className="mt-1 text-sm text-muted">
          Settled by {resolved.by.name} <Moment at={resolved.at} />
        </p>
      )}
      {isAllowed && (
        <div className="mt-2">
          {resolved ? (
            <Button onClick={() => comments.open(thread.id)}>Open it again</Button>
          ) : (
            <CommentField
              label={`Answer to ${notes[0]!.by.name}`}
              action="Answer"
              onSaid={(words) => comments.answer(thread.id, words)}
            >
              <Button onClick={() => comments.settle(thread.id)}>Settle</Button>
            </CommentField>
          )}
        </div>
      )}
    </li>
  );
}
