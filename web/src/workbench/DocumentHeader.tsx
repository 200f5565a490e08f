import type { DocumentDetail, Tether } from '@tether/contract';
import { Columns2, MonitorPlay, PanelRight, Pause, Plus, Printer, RefreshCw } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { useRefreshObjects } from '../documents/object/useRefreshObjects.ts';
import type { SharedDocument, WritingState } from '../documents/writing/shared-document.ts';
import { usePresent, useWritingState } from '../documents/writing/useSharedDocument.ts';
import { KIND_SCREENS } from '../kinds/kinds.tsx';
import { useChangeDocumentMutation, useHoldMutation, useMeQuery } from '../state/api.ts';
import { useAppDispatch, useAppSelector } from '../state/store.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { panelShown, stripOpened } from '../state/workbench-slice.ts';
import { Button } from '../ui/Button.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import { Moment } from '../ui/Moment.tsx';
import { StandingBar } from '../ui/StandingBar.tsx';
import { hasChanges } from '../ui/standing-words.ts';
import { WriteAll } from './WriteAll.tsx';

interface Props {
  saved: DocumentDetail;
  objects: Tether[];
  shared: SharedDocument;
  onPlace: () => void;
  onAlongside: () => void;
}

/** The thin header of a document: its name, how its objects stand, and what can be done with all of it. */
export function DocumentHeader({ saved, objects, shared, onPlace, onAlongside }: Props) {
  const alongside = useAppSelector(({ workbench }) => workbench.alongside);
  const hasPanel = useAppSelector(({ workbench }) => workbench.hasPanel);
  const dispatch = useAppDispatch();
  const { isAllowed, whyNot } = useMayChange();
  const writing = useWritingState(shared);
  const { take, isTaking, refused } = useRefreshObjects();
  const behind = objects.filter(hasChanges);
  const edits = objects.reduce((sum, { editCount }) => sum + editCount, 0);
  const counts: Record<string, number> = {};
  for (const { standing } of objects) counts[standing] = (counts[standing] ?? 0) + 1;

  const takeAll = async () => {
    await take(behind);
  };
  const [refusal] = refused;

  return (
    <section
      aria-label="Document"
      className="flex h-12 shrink-0 items-center gap-4 border-b border-hairline bg-white px-4"
    >
      <NameInput saved={saved} isAllowed={isAllowed} />
      <StandingBar counts={counts} />
      {behind.length > 0 && (
        <Button kind="quiet" onClick={() => dispatch(stripOpened({ reason: 'asked', only: null }))}>
          See the changes
        </Button>
      )}
      <span role="status" className={`ml-auto ${refusal ? 'text-adrift' : 'text-muted'}`}>
        {refusal ? refusal.fault.message : saveWords(writing)}
      </span>
      <WhoIsHere shared={shared} />
      <Button
        kind="quiet"
        aria-pressed={alongside !== null}
        className={alongside ? 'border-rope bg-rope/10' : ''}
        onClick={onAlongside}
      >
        <Columns2 size={14} aria-hidden /> Alongside
      </Button>
      {alongside && (
        <IconButton
          icon={PanelRight}
          label={hasPanel ? 'Hide the panel' : 'Show the panel'}
          isOn={hasPanel}
          className="-ml-3"
          onClick={() => dispatch(panelShown(!hasPanel))}
        />
      )}
      <Link
        to={`/documents/${saved.id}/print`}
        className="flex h-8 items-center gap-1.5 rounded-box border border-transparent px-2.5 font-semibold hover:bg-mist"
      >
        <Printer size={14} aria-hidden /> Print
      </Link>
      {KIND_SCREENS[saved.kind].Present && (
        <Link
          to={`/documents/${saved.id}/present`}
          className="flex h-8 items-center gap-1.5 rounded-box border border-transparent px-2.5 font-semibold hover:bg-mist"
        >
          <MonitorPlay size={14} aria-hidden /> Present
        </Link>
      )}
      {edits > 0 && <WriteAll saved={saved} count={edits} />}
      <HoldButton saved={saved} />
      <Button onClick={onPlace} disabled={!isAllowed} title={whyNot}>
        <Plus size={15} aria-hidden /> Place
      </Button>
      <Button
        kind="primary"
        disabled={!isAllowed || isTaking || behind.length === 0 || saved.hold !== null}
        title={
          whyNot ??
          (saved.hold
            ? 'The document is held: release it first'
            : behind.length === 0
              ? 'No object is behind its source'
              : undefined)
        }
        onClick={() => void takeAll()}
      >
        <RefreshCw size={14} aria-hidden /> Refresh{behind.length > 0 ? ` ${behind.length}` : ''}
      </Button>
    </section>
  );
}

/** Keeps everything in the document from being refreshed, or lets it go. */
function HoldButton({ saved }: { saved: DocumentDetail }) {
  const { isAllowed, whyNot } = useMayChange();
  const [hold, { isLoading }] = useHoldMutation();
  const isHeld = saved.hold !== null;
  return (
    <Button
      kind="quiet"
      aria-pressed={isHeld}
      disabled={!isAllowed || isLoading}
      title={
        whyNot ??
        (isHeld ? undefined : 'Nothing in this document is refreshed until it is released')
      }
      className={isHeld ? 'border-rope bg-rope/10' : ''}
      onClick={() => void hold({ id: saved.id, isHeld: !isHeld })}
    >
      <Pause size={14} aria-hidden /> {isHeld ? 'Release' : 'Hold'}
    </Button>
  );
}

/** Says that a document is held, by whom and since when. */
export function HoldNote({ saved }: { saved: DocumentDetail }) {
  if (!saved.hold) return null;
  return (
    <p role="status" className="border-b border-rope bg-rope/15 px-4 py-1.5">
      <span className="font-semibold">
        Held {saved.hold.by && `by ${saved.hold.by} `}
        since <Moment at={saved.hold.since} />.
      </span>{' '}
      Nothing in this document is refreshed, automatically or by hand, until it is released.
    </p>
  );
}

function saveWords(state: WritingState): string {
  switch (state) {
    case 'saved':
      return 'Saved';
    case 'writing':
      return 'Saving …';
    case 'away':
      return 'Not saved yet: the server cannot be reached. What you write is kept here and sent then.';
  }
}

/** Who else has the document open, each once. */
function WhoIsHere({ shared }: { shared: SharedDocument }) {
  const present = usePresent(shared);
  const { data: me } = useMeQuery();
  const people = [...new Map(present.map((each) => [each.personId, each])).values()].filter(
    ({ personId }) => personId !== me?.id,
  );
  if (people.length === 0) return null;
  return (
    <ul aria-label="Also here" className="flex shrink-0 gap-1">
      {people.map(({ personId, name, colour }) => (
        <li
          key={personId}
          title={`${name} has this document open`}
          className="rounded-box border-b-2 bg-mist px-1.5 text-[12px] leading-5"
          style={{ borderColor: colour }}
        >
          {name}
        </li>
      ))}
    </ul>
  );
}

function NameInput({ saved, isAllowed }: { saved: DocumentDetail; isAllowed: boolean }) {
  const [name, setName] = useState(saved.name);
  const [rename] = useChangeDocumentMutation();
  useEffect(() => setName(saved.name), [saved.name]);
  const save = () => {
    const wanted = name.trim();
    if (wanted === '') setName(saved.name);
    else if (wanted !== saved.name) void rename({ id: saved.id, name: wanted });
  };
  return (
    <h1 className="max-w-[340px] min-w-[80px] shrink">
      <input
        aria-label="Name of the document"
        className="field-sizing-content max-w-full min-w-[80px] truncate rounded-box border border-transparent bg-transparent px-1 font-heading text-[16px] font-semibold enabled:hover:border-hairline"
        value={name}
        disabled={!isAllowed}
        maxLength={200}
        onChange={(event) => setName(event.target.value)}
        onBlur={save}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      />
    </h1>
  );
}
