import type { DocumentDetail, Tether } from '@tether/contract';
import type { Choice } from '@tether/core';
import { X } from 'lucide-react';
import { type ReactNode, Suspense, useState } from 'react';
import { useRefreshObjects } from '../documents/object/useRefreshObjects.ts';
import type { Surface } from '../documents/surface.ts';
import { KIND_SCREENS } from '../kinds/kinds.tsx';
import { SlipTable } from '../slip/SlipTable.tsx';
import { choiceWithout, keysOf } from '../slip/slip-choice.ts';
import { tethersApi, useSlipQuery } from '../state/api.ts';
import { useAppDispatch, useAppSelector } from '../state/store.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { cellFlashed, stripClosed } from '../state/workbench-slice.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import { StandingGlyph } from '../ui/StandingGlyph.tsx';
import { hasChanges } from '../ui/standing-words.ts';
import { StandingNotes } from './StandingNotes.tsx';

/** Whether opening a document asks about this object. */
export function asksOnOpening(tether: Tether): boolean {
  const { mode, left, pinnedTo, waits } = tether;
  if (!hasChanges(tether) || left || pinnedTo) return false;
  return (mode.kind === 'on opening' && mode.how === 'ask') || waits !== null;
}

/** The changes of one object that are left, by the names of `slipChoice`; `all` for the object as a whole. */
type Left = Record<string, ReadonlySet<string>>;
const NOTHING: ReadonlySet<string> = new Set();

/**
 * The strip at the bottom: what a refresh would change, object by object. On opening a document it is the question what
 * to do: take all, choose, or leave.
 */
export function ChangeStrip(props: {
  saved: DocumentDetail;
  behind: Tether[];
  surface: Surface | null;
  onShow: (tetherId: string) => void;
}) {
  const strip = useAppSelector(({ workbench }) => workbench.strip);
  const dispatch = useAppDispatch();
  const { isAllowed } = useMayChange();
  const { take, leave, isTaking, refused } = useRefreshObjects();
  const [left, setLeft] = useState<Left | null>(null);
  if (!strip) return null;

  const { id: documentId, kind, hold } = props.saved;
  const { AlsoChanged } = KIND_SCREENS[kind];
  const shown = strip.only
    ? props.behind.filter(({ id }) => id === strip.only)
    : strip.reason === 'opening'
      ? props.behind.filter(asksOnOpening)
      : props.behind;
  const chosen = shown.filter(({ id }) => !left?.[id]?.has('all'));
  const close = () => {
    setLeft(null);
    dispatch(stripClosed());
  };
  const takeChosen = async () => {
    await take(chosen, await choicesOf(dispatch, chosen, left));
    setLeft(null);
  };
  const leaveAll = async () => {
    // What could not be left stays on the screen, with the reason.
    if ((await leave(shown)).length === 0) close();
  };
  return (
    <section
      aria-label="Change slip"
      className="flex max-h-[42%] shrink-0 flex-col border-t-2 border-rope bg-white"
    >
      <div className="flex items-center gap-2 border-b border-hairline px-4 py-1.5">
        <h2 className="text-[15px] font-semibold">{titleOf(shown, strip.reason === 'opening')}</h2>
        <span className="ml-auto" />
        {shown.length > 0 && (
          <StripButtons
            {...{ shown, chosen, left, isTaking }}
            isHeld={hold !== null}
            onTake={() => void takeChosen()}
            onLeft={setLeft}
            onLeave={() => void leaveAll()}
          />
        )}
        <IconButton icon={X} label="Close the change slip" onClick={close} />
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-4 py-2">
        {refused.map(({ id, fault }) => (
          <FaultNote key={id} fault={fault} className="mb-2" />
        ))}
        {shown.map((tether) => (
          <ObjectSlip
            key={tether.id}
            tether={tether}
            left={left ? (left[tether.id] ?? NOTHING) : null}
            onLeft={(keys) => setLeft({ ...left, [tether.id]: keys })}
            onCell={({ row, column }) => {
              props.onShow(tether.id);
              dispatch(cellFlashed({ tetherId: tether.id, row, column, at: Date.now() }));
            }}
          >
            {props.surface && AlsoChanged && (
              <Suspense>
                <AlsoChanged surface={props.surface} {...{ documentId, tether, isAllowed }} />
              </Suspense>
            )}
          </ObjectSlip>
        ))}
        {shown.length === 0 && (
          <p className="text-muted">All objects show what their sources hold.</p>
        )}
      </div>
    </section>
  );
}

function titleOf(shown: readonly Tether[], isOpening: boolean): string {
  const count = shown.length;
  if (count === 0) return 'Nothing is behind';
  return isOpening
    ? `${count} ${count === 1 ? 'object has' : 'objects have'} changed in the source since the last refresh`
    : `Changes waiting in ${count} ${count === 1 ? 'object' : 'objects'}`;
}

/** What is taken of the objects of which only a part is. */
async function choicesOf(
  dispatch: ReturnType<typeof useAppDispatch>,
  chosen: readonly Tether[],
  left: Left | null,
): Promise<Map<string, Choice>> {
  const choices = new Map<string, Choice>();
  for (const { id, base, pending } of chosen) {
    const without = left?.[id];
    if (!without || without.size === 0) continue;
    const asked = { id, base, pending: pending ?? '' };
    const slip = await dispatch(tethersApi.endpoints.slip.initiate(asked, { subscribe: false }));
    if (slip.data) choices.set(id, choiceWithout(slip.data, without));
  }
  return choices;
}

/** What can be done with the changes: take them, choose among them, leave them. */
function StripButtons(props: {
  shown: readonly Tether[];
  chosen: readonly Tether[];
  left: Left | null;
  isHeld: boolean;
  isTaking: boolean;
  onTake: () => void;
  onLeft: (left: Left | null) => void;
  onLeave: () => void;
}) {
  const { shown, chosen, left, isHeld, isTaking, onTake, onLeft, onLeave } = props;
  const { isAllowed, whyNot } = useMayChange();
  const cannot = whyNot ?? (isHeld ? 'The document is held: release it first.' : undefined);
  const isPart = Object.values(left ?? {}).some((keys) => keys.size > 0 && !keys.has('all'));
  const words = left
    ? isPart
      ? 'Take what is ticked'
      : `Take ${chosen.length} of ${shown.length}`
    : shown.length > 1
      ? 'Take all'
      : 'Take';
  return (
    <>
      <Button
        kind="primary"
        disabled={!isAllowed || isHeld || isTaking || chosen.length === 0}
        title={cannot}
        onClick={onTake}
      >
        {words}
      </Button>
      {left ? (
        <Button onClick={() => onLeft(null)}>Stop choosing</Button>
      ) : (
        <Button onClick={() => onLeft({})} disabled={!isAllowed || isHeld} title={cannot}>
          Choose
        </Button>
      )}
      <Button
        onClick={onLeave}
        disabled={!isAllowed || isTaking}
        title={whyNot ?? 'Nobody is asked again until the source changes'}
      >
        Leave
      </Button>
    </>
  );
}

function ObjectSlip(props: {
  tether: Tether;
  /** What of it is left; null while nothing is chosen. */
  left: ReadonlySet<string> | null;
  onLeft: (keys: ReadonlySet<string>) => void;
  onCell: (cell: { row: number; column: number }) => void;
  /** What else of the document its refresh concerns. */
  children: ReactNode;
}) {
  const { tether, left, onLeft, onCell, children } = props;
  const { id, base, pending } = tether;
  const { data: slip } = useSlipQuery(
    { id, base, pending: pending ?? '' },
    { skip: pending === null },
  );
  const name = (
    <span className="font-semibold">
      {tether.name} <span className="font-normal text-muted">{tether.summary}</span>
    </span>
  );
  const set = (key: string, isOn: boolean) => {
    const keys = new Set(left);
    if (keys.delete('all')) for (const each of slip ? keysOf(slip) : []) keys.add(each);
    if (isOn) keys.delete(key);
    else keys.add(key);
    // With every change left, the object is left as a whole.
    const isNothing = slip !== undefined && keysOf(slip).every((each) => keys.has(each));
    onLeft(isNothing ? new Set(['all']) : keys);
  };
  return (
    <div className="mb-4">
      <div className="flex items-center gap-2">
        <StandingGlyph standing={tether.standing} />
        {left ? (
          <Tick
            isOn={!left.has('all')}
            onChange={(isOn) => onLeft(isOn ? NOTHING : new Set(['all']))}
          >
            {name}
          </Tick>
        ) : (
          name
        )}
        <span className="ml-auto font-mono text-[11px] text-muted">
          {tether.source.folder}/{tether.source.path}
        </span>
      </div>
      <StandingNotes tether={tether} />
      {slip && (
        <SlipTable
          slip={slip}
          label={`Changes in ${tether.name}`}
          onCell={onCell}
          ticks={left ? { isOn: (key) => !left.has(key) && !left.has('all'), set } : undefined}
        />
      )}
      {children}
    </div>
  );
}
