import type { DocumentDetail, Tether } from '@tether/contract';
import {
  describeMode,
  describeReach,
  type Fault,
  type Mode,
  modeOf,
  REACH_WORDS,
  summariseSlip,
  USUAL_MODE,
} from '@tether/core';
import { ArrowDown, ArrowUp, Copy, Trash2 } from 'lucide-react';
import { Suspense, useEffect, useState } from 'react';
import { CommentsSection } from '../documents/comments/CommentsSection.tsx';
import { useThreads } from '../documents/comments/comments.ts';
import { useRefreshObjects } from '../documents/object/useRefreshObjects.ts';
import { PanelFold } from '../documents/PanelFold.tsx';
import type { Surface } from '../documents/surface.ts';
import { KIND_SCREENS } from '../kinds/kinds.tsx';
import { ModeFields } from '../modes/ModeFields.tsx';
import { RelinkBox } from '../sources/relink/RelinkBox.tsx';
import {
  faultOf,
  useChangeDocumentMutation,
  useChangeTetherMutation,
  useCompareQuery,
  useLookedAtMutation,
  useSetMooredMutation,
  useSourcesQuery,
} from '../state/api.ts';
import { useAppDispatch } from '../state/store.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { stripOpened } from '../state/workbench-slice.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { NumberField } from '../ui/fields/NumberField.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import { Moment } from '../ui/Moment.tsx';
import { StandingGlyph } from '../ui/StandingGlyph.tsx';
import { hasChanges, standingWords } from '../ui/standing-words.ts';
import { Warnings } from '../ui/Warnings.tsx';
import { ChartFolds, FormSection, TableFolds } from './FormSection.tsx';
import { Freezing, LetGo } from './Freezing.tsx';
import { HistorySection } from './HistorySection.tsx';
import { Places } from './Places.tsx';
import { StandingNotes } from './StandingNotes.tsx';
import { VersionsSection } from './VersionsSection.tsx';
import { WritingBack } from './WritingBack.tsx';

interface Props {
  saved: DocumentDetail;
  surface: Surface | null;
  /** The selected object, or null: then all of the document are listed. */
  selected: Tether | null;
  /** Objects in the text, in reading order. */
  objects: Tether[];
  onChangeReach: (tether: Tether) => void;
}

/** The panel at the right: the selected object, or all of them. */
export function Panel({ saved, surface, selected, objects, onChangeReach }: Props) {
  return (
    <aside
      // Of another object it is read from its beginning, wherever the last one was read to.
      key={selected?.id ?? 'all'}
      aria-label={selected ? `Object ${selected.name}` : 'Objects'}
      className="flex w-[300px] shrink-0 flex-col overflow-auto border-l border-hairline bg-white"
    >
      {selected ? (
        <ObjectPanel
          saved={saved}
          surface={surface}
          tether={selected}
          onChangeReach={() => onChangeReach(selected)}
        />
      ) : (
        <ObjectList saved={saved} surface={surface} objects={objects} />
      )}
    </aside>
  );
}

function ObjectList(props: { saved: DocumentDetail; surface: Surface | null; objects: Tether[] }) {
  const { saved, surface, objects } = props;
  const { Settings, Chosen, emptyWords } = KIND_SCREENS[saved.kind];
  const { isAllowed } = useMayChange();
  return (
    <>
      {surface && Chosen && (
        <Suspense>
          <Chosen surface={surface} objects={objects} isAllowed={isAllowed} />
        </Suspense>
      )}
      <div className="p-4">
        <h2 className="text-[15px] font-semibold">Objects in this document</h2>
        {objects.length === 0 && <p className="mt-2 text-muted">{emptyWords}</p>}
        <ul className="mt-2 flex flex-col divide-y divide-hairline border-y border-hairline empty:hidden">
          {objects.map((tether) => (
            <li key={tether.id}>
              <button
                type="button"
                className="flex w-full flex-col py-2 text-left hover:bg-mist"
                onClick={() => surface?.select(tether.id)}
              >
                <span className="flex items-center gap-1.5 font-semibold">
                  <StandingGlyph standing={tether.standing} />
                  {tether.name}
                </span>
                <span className="pl-[18px] text-muted">
                  {standingWords(tether)}
                  {tether.summary && `: ${tether.summary}`}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {objects.length > 0 && (
          <p className="mt-3 text-muted">Select an object to see where it comes from.</p>
        )}
        {surface && <LetGo saved={saved} surface={surface} />}
        <section className="mt-4 border-t border-hairline pt-3">
          <h3 className="mb-1.5 text-sm font-semibold text-muted">When its objects refresh</h3>
          <DocumentModes saved={saved} isAllowed={isAllowed} />
        </section>
        {surface && (
          <section className="mt-4 border-t border-hairline pt-3">
            <h3 className="mb-1.5 text-sm font-semibold text-muted">Comments</h3>
            <CommentsSection
              surface={surface}
              tetherId={null}
              nameOf={(id) => objects.find((each) => each.id === id)?.name ?? null}
            />
          </section>
        )}
        {surface && <VersionsSection saved={saved} surface={surface} />}
        {surface && (
          <div className="-mx-4 mt-4 border-t border-hairline">
            <Suspense>
              <Settings surface={surface} objects={objects} isAllowed={isAllowed} />
            </Suspense>
          </div>
        )}
      </div>
    </>
  );
}

function DocumentModes({ saved, isAllowed }: { saved: DocumentDetail; isAllowed: boolean }) {
  const [change] = useChangeDocumentMutation();
  return (
    <div className="flex flex-col gap-2">
      <ModeFields
        own={saved.mode ?? USUAL_MODE}
        disabled={!isAllowed}
        onChange={(mode) => void change({ id: saved.id, mode })}
      />
      <NumberField
        label="Waits above"
        value={saved.share}
        unit="%"
        min={1}
        max={100}
        disabled={!isAllowed}
        onChange={(share) =>
          share !== null && void change({ id: saved.id, share: Math.round(share) })
        }
      />
      <p className="text-sm text-muted">
        An automatic refresh that changes more of an object’s cells than that, empties it, loses a
        header or brings errors waits until somebody looks.
      </p>
    </div>
  );
}

interface ObjectProps {
  saved: DocumentDetail;
  tether: Tether;
}

const HELD = 'The document is held: release it first.';

function ObjectPanel(props: ObjectProps & { surface: Surface | null; onChangeReach: () => void }) {
  const { saved, surface, tether, onChangeReach } = props;
  const { isAllowed } = useMayChange();
  const { ObjectPlace } = KIND_SCREENS[saved.kind];
  const open = useThreads().filter(
    ({ about, resolved }) =>
      resolved === null && about.kind === 'object' && about.tetherId === tether.id,
  ).length;
  return (
    <>
      <ObjectHead saved={saved} surface={surface} tether={tether} />
      <Origin tether={tether} onChangeReach={onChangeReach} />
      {surface && ObjectPlace && (
        <Suspense>
          <ObjectPlace
            documentId={saved.id}
            surface={surface}
            tetherId={tether.id}
            isAllowed={isAllowed}
          />
        </Suspense>
      )}
      {surface && (
        <PanelFold title="How it looks">
          <FormSection
            surface={surface}
            tetherId={tether.id}
            base={tether.base}
            isAllowed={isAllowed}
          />
        </PanelFold>
      )}
      {surface && (
        <>
          <TableFolds
            surface={surface}
            tetherId={tether.id}
            base={tether.base}
            isAllowed={isAllowed}
          />
          <ChartFolds
            surface={surface}
            tetherId={tether.id}
            base={tether.base}
            isAllowed={isAllowed}
          />
        </>
      )}
      <Refreshing saved={saved} tether={tether} />
      <PanelFold
        title="Writing back"
        note={tether.editCount > 0 ? `${tether.editCount} here` : null}
      >
        <WritingBack saved={saved} tether={tether} />
      </PanelFold>
      {surface && (
        <PanelFold title="Comments" note={open === 0 ? null : `${open} open`}>
          <CommentsSection surface={surface} tetherId={tether.id} nameOf={() => tether.name} />
        </PanelFold>
      )}
      <PanelFold title="What it showed before">
        <HistorySection tether={tether} />
      </PanelFold>
    </>
  );
}

/** What it is called, how it stands, and what is done to it. */
function ObjectHead({ saved, surface, tether }: ObjectProps & { surface: Surface | null }) {
  const dispatch = useAppDispatch();
  const { isAllowed, whyNot } = useMayChange();
  const { take, isTaking, refused } = useRefreshObjects();
  const whyHeld = saved.hold ? HELD : undefined;
  return (
    <section className="border-b border-hairline p-4">
      <h2 className="mb-1.5 text-sm font-semibold text-muted">Placed {tether.form}</h2>
      <NameField tether={tether} isAllowed={isAllowed} />
      <p className="mt-2 flex items-center gap-1.5 text-[15px] font-semibold" role="status">
        <StandingGlyph standing={tether.standing} size={14} />
        {tether.standing}
        <span className="text-base font-normal text-muted">
          since <Moment at={tether.standingSince} />
        </span>
      </p>
      {tether.summary && <p className="mt-1">{tether.summary} in the source.</p>}
      {tether.reason && <FaultNote fault={tether.reason} className="mt-2" />}
      {tether.reason && (
        <p className="mt-2 text-muted">The last good figures stay in the document.</p>
      )}
      <Places tether={tether} isHeld={saved.hold !== null} />
      <StandingNotes tether={tether} />
      <FreshNote tether={tether} />
      {hasChanges(tether) && (
        <div className="mt-2 flex flex-wrap gap-2">
          <Button
            kind="primary"
            disabled={!isAllowed || isTaking || saved.hold !== null}
            title={whyNot ?? whyHeld}
            onClick={() => void take([tether])}
          >
            Refresh
          </Button>
          <Button onClick={() => dispatch(stripOpened({ reason: 'asked', only: tether.id }))}>
            See the changes
          </Button>
        </div>
      )}
      {refused.map(({ id, fault }) => (
        <FaultNote key={id} fault={fault} className="mt-2" />
      ))}
      {tether.standing !== 'reshaped' && <Warnings warnings={tether.warnings} />}
      <ObjectActs saved={saved} surface={surface} tether={tether} />
    </section>
  );
}

function ObjectActs({ saved, surface, tether }: ObjectProps & { surface: Surface | null }) {
  const { isAllowed, whyNot } = useMayChange();
  const whyHeld = saved.hold ? HELD : undefined;
  const why = isAllowed ? whyHeld : (whyNot ?? 'You may not change this document.');
  return (
    <>
      <div className="mt-2 -mr-2 -ml-2 flex items-center">
        <Freezing saved={saved} surface={surface} tether={tether} whyNot={why} />
        <span aria-hidden className="mx-1 h-5 w-px shrink-0 bg-hairline" />
        <IconButton
          icon={ArrowUp}
          label={surface?.moveWords[0] ?? 'Move up'}
          disabled={!isAllowed || !surface?.mayMove(tether.form)}
          onClick={() => surface?.move(tether.id, -1)}
        />
        <IconButton
          icon={ArrowDown}
          label={surface?.moveWords[1] ?? 'Move down'}
          disabled={!isAllowed || !surface?.mayMove(tether.form)}
          onClick={() => surface?.move(tether.id, 1)}
        />
        <IconButton
          icon={Copy}
          label="Place a copy"
          disabled={!isAllowed}
          onClick={() => surface?.copy(tether.id)}
        />
        <IconButton
          icon={Trash2}
          label="Remove from the document"
          disabled={!isAllowed}
          onClick={() => surface?.remove(tether.id)}
        />
      </div>
    </>
  );
}

/** Which part of which source it takes. */
function Origin({ tether, onChangeReach }: { tether: Tether; onChangeReach: () => void }) {
  const { isAllowed, whyNot } = useMayChange();
  const { data: folders = [] } = useSourcesQuery();
  const source = folders
    .flatMap(({ sources }) => sources)
    .find(({ id }) => id === tether.source.id);
  const [isRelinking, setRelinking] = useState(false);
  return (
    <PanelFold title="Where it comes from" note={tether.source.path.split('/').at(-1)}>
      <p className="font-semibold break-words">{tether.source.path}</p>
      <p className="text-muted">in the source folder {tether.source.folder}</p>
      <p className="mt-1 font-mono text-[12px] break-words">{describeReach(tether.reach)}</p>
      <p className="text-muted">
        <span className="font-semibold">{REACH_WORDS[tether.reach.kind].name}.</span>{' '}
        {REACH_WORDS[tether.reach.kind].sentence}
      </p>
      <Button className="mt-2" disabled={!isAllowed} title={whyNot} onClick={onChangeReach}>
        Change what it takes
      </Button>
      {source && (
        <Button
          className="mt-2"
          disabled={!isAllowed}
          title={whyNot}
          onClick={() => setRelinking(true)}
        >
          Tie it to another file …
        </Button>
      )}
      {tether.reach.kind === 'block' && <Mooring tether={tether} />}
      {source && isRelinking && (
        <RelinkBox
          source={source}
          only={{ ids: [tether.id], name: tether.name }}
          onClose={() => setRelinking(false)}
        />
      )}
    </PanelFold>
  );
}

/** Whether the workbook itself keeps the cells of an object in step. */
function Mooring({ tether }: { tether: Tether }) {
  const { isAllowed, whyNot } = useMayChange();
  const [setMoored, { isLoading, error }] = useSetMooredMutation();
  const { reach } = tether;
  const isGone = tether.warnings.some(({ code }) => code === 'mooring gone');
  const isMoored = reach.kind === 'block' && reach.mooring !== undefined && !isGone;
  const isWorkbook = /\.(xlsx|xlsm)$/i.test(tether.source.path);
  if (!isMoored && !isWorkbook) return null;
  return (
    <div className="mt-3 border-t border-hairline pt-2">
      <p className="text-muted">
        {isMoored
          ? 'Moored: a hidden name in the workbook keeps these cells, whichever program moves them.'
          : 'A hidden name in the workbook can keep these cells, whichever program moves them. It is written into the file.'}
      </p>
      <Button
        className="mt-2"
        disabled={!isAllowed || isLoading || tether.frozen !== null}
        title={whyNot}
        onClick={() => void setMoored({ id: tether.id, isMoored: !isMoored })}
      >
        {isMoored ? 'Take the mooring out' : 'Moor it in the workbook'}
      </Button>
      {error && <FaultNote fault={faultOf(error)} className="mt-2" />}
    </div>
  );
}

function Refreshing({ saved, tether }: ObjectProps) {
  const [changeTether] = useChangeTetherMutation();
  const { data: folders = [] } = useSourcesQuery();
  const source = folders
    .flatMap(({ sources }) => sources)
    .find(({ id }) => id === tether.source.id);
  const { isAllowed } = useMayChange();
  return (
    <PanelFold title="When it refreshes" note={describeMode(tether.mode)}>
      <ModeFields
        own={tether.modeFrom === 'object' ? tether.mode : null}
        inherited={inheritedMode(tether, saved, source)}
        disabled={!isAllowed}
        onChange={(mode) => void changeTether({ id: tether.id, documentId: saved.id, mode })}
      />
      {tether.nextDue && (
        <p className="mt-1 text-muted">
          Next on {new Date(tether.nextDue).toLocaleString('en-GB', NEXT_FORMAT)}
        </p>
      )}
      <p className="mt-1 text-muted">
        Last taken <Moment at={tether.refreshedAt} />
        {tether.refreshedBy ? ` by ${tether.refreshedBy}` : ` ${tether.refreshedHow}`}
      </p>
    </PanelFold>
  );
}

const NEXT_FORMAT = { dateStyle: 'medium', timeStyle: 'short' } as const;

/** What holds for an object where it says nothing itself. */
function inheritedMode(
  tether: Tether,
  saved: DocumentDetail,
  source: { mode: Mode | null } | undefined,
): { mode: Mode; from: string } {
  const { mode, from } = modeOf({
    object: null,
    source: source?.mode ?? null,
    document: saved.mode,
  });
  return { mode, from: from === 'source' ? `the source ${tether.source.path}` : 'the document' };
}

/** What changed since this person last looked, until they say that they have. */
function FreshNote({ tether }: { tether: Tether }) {
  const { lookedAt, base, id, documentId } = tether;
  const { data: slip } = useCompareQuery(
    { from: lookedAt ?? '', to: base },
    { skip: lookedAt === null },
  );
  const [tell] = useLookedAtMutation();
  if (lookedAt === null || !slip) return null;
  return (
    <div className="mt-2 border-l-2 border-rope pl-2">
      <p>
        Since you last looked: {summariseSlip(slip)}. The cells are marked in the text; taken{' '}
        <Moment at={tether.refreshedAt} />
        {tether.refreshedBy ? ` by ${tether.refreshedBy}` : ` ${tether.refreshedHow}`}.
      </p>
      <Button className="mt-1" onClick={() => void tell({ documentId, tethers: [{ id, base }] })}>
        I have looked
      </Button>
    </div>
  );
}

/** The object's name, saved on leaving the field or with Enter. */
function NameField({ tether, isAllowed }: { tether: Tether; isAllowed: boolean }) {
  const [name, setName] = useState(tether.name);
  const [rename] = useChangeTetherMutation();
  const [fault, setFault] = useState<Fault | null>(null);
  useEffect(() => setName(tether.name), [tether.name]);
  const save = async () => {
    const wanted = name.trim();
    if (wanted === '' || wanted === tether.name) return setName(tether.name);
    const result = await rename({ id: tether.id, documentId: tether.documentId, name: wanted });
    setFault(result.error && 'code' in result.error ? (result.error as Fault) : null);
  };
  return (
    <TextField
      label="Name"
      value={name}
      maxLength={120}
      disabled={!isAllowed}
      onChange={setName}
      onBlur={() => void save()}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      fault={fault}
    />
  );
}
