import type { DocumentDetail, EditSeen, EditsSeen, Tether } from '@tether/contract';
import { can, isUnlocked, whyNotWritable } from '@tether/contract';
import type { Face } from '@tether/core';
import { formatArea } from '@tether/core';
import { pickedArea } from '../documents/editing/picked-area.ts';
import { writingWay } from '../placed/writing-way.ts';
import {
  faultOf,
  useDecideEditMutation,
  useEditCellsMutation,
  useEditsQuery,
  useMeQuery,
  useSetWritesAtOnceMutation,
  useSnapshotQuery,
  useUnlockMutation,
  useWriteBackMutation,
} from '../state/api.ts';
import { useAppDispatch, useAppSelector } from '../state/store.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { cellFlashed, cellOpened } from '../state/workbench-slice.ts';
import { Button } from '../ui/Button.tsx';
import { counted } from '../ui/counted.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { Moment } from '../ui/Moment.tsx';

/** Which cells of an object can be corrected in the document, what was corrected, and sending it home. */
export function WritingBack({ saved, tether }: { saved: DocumentDetail; tether: Tether }) {
  const why = whyNotWritable(tether);
  if (why) return <p className="text-muted">Nothing can be corrected here: {why}.</p>;
  return (
    <div className="flex flex-col gap-3">
      <Locks tether={tether} />
      {tether.editCount > 0 && <Edits saved={saved} tether={tether} />}
    </div>
  );
}

function Locks({ tether }: { tether: Tether }) {
  const { unlocked } = tether;
  const { isAllowed, whyNot } = useMayChange();
  const [unlock, { isLoading, error }] = useUnlockMutation();
  const dispatch = useAppDispatch();
  const picked = useAppSelector(({ workbench }) =>
    workbench.picked?.tetherId === tether.id ? workbench.picked : null,
  );
  const { data: snapshot } = useSnapshotQuery(tether.base);
  const area =
    picked && snapshot && (picked.row !== null || picked.column !== null)
      ? pickedArea(snapshot.area, picked)
      : null;
  const set = (next: Tether['unlocked']) => void unlock({ id: tether.id, unlocked: next });
  const isOpen = area && isUnlocked(unlocked, { row: area.top, column: area.left });
  const isCell = picked?.row != null && picked.column !== null;
  const locked = { disabled: !isAllowed || isLoading, title: whyNot };
  return (
    <div className="flex flex-col gap-2">
      <p>
        {unlocked === null
          ? 'Its cells are locked: the source alone says what stands here.'
          : unlocked === 'all'
            ? 'All its cells can be corrected here: pick one and type.'
            : `${unlocked.map(formatArea).join(', ')} can be corrected here: pick a cell and type.`}
      </p>
      <div className="flex flex-wrap gap-2">
        {unlocked !== 'all' && (
          <Button {...locked} onClick={() => set('all')}>
            Unlock all cells
          </Button>
        )}
        {area && unlocked !== 'all' && !isOpen && (
          <Button {...locked} onClick={() => set([...(unlocked ?? []), area])}>
            Unlock {formatArea(area)}
          </Button>
        )}
        {unlocked !== null && (
          <Button {...locked} onClick={() => set(null)}>
            Lock them again
          </Button>
        )}
        {isCell && isOpen && (
          <Button
            {...locked}
            onClick={() =>
              dispatch(
                cellOpened({
                  tetherId: tether.id,
                  row: picked.row!,
                  column: picked.column!,
                  letters: null,
                }),
              )
            }
          >
            Correct {formatArea(area)}
          </Button>
        )}
      </div>
      {unlocked !== null && <AtOnce tether={tether} />}
      {error && <FaultNote fault={faultOf(error)} />}
    </div>
  );
}

/** Whether corrections are written at once: its owner says so. */
function AtOnce({ tether: { id, writesAtOnce } }: { tether: Tether }) {
  const { data: me } = useMeQuery();
  const { isAllowed } = useMayChange();
  const [set, { isLoading, error }] = useSetWritesAtOnceMutation();
  const isOwner = isAllowed && me !== undefined && can(me, 'change', { kind: 'source folder' });
  // Who cannot change it is told only where it holds.
  if (!isOwner) {
    return writesAtOnce ? <p>What is corrected is written into the source at once.</p> : null;
  }
  return (
    <>
      <Tick
        isOn={writesAtOnce}
        isDisabled={isLoading}
        onChange={(isOn) => void set({ id, writesAtOnce: isOn })}
      >
        Write corrections into the source at once
      </Tick>
      {error && <FaultNote fault={faultOf(error)} />}
    </>
  );
}

const said = (face: Face | null) => (face === null || face.text === '' ? 'nothing' : face.text);

function Edits({ saved, tether }: { saved: DocumentDetail; tether: Tether }) {
  const key = `${tether.shown} ${tether.pending ?? ''} ${tether.standing}`;
  const { data: seen } = useEditsQuery({ id: tether.id, key });
  if (!seen) return <p className="text-muted">Checking what writing would change …</p>;
  return (
    <>
      <ul className="flex flex-col divide-y divide-hairline border-y border-hairline">
        {seen.edits.map((edit) => (
          <li key={edit.id} className="py-2">
            <EditLine tether={tether} edit={edit} />
          </li>
        ))}
      </ul>
      <Plan saved={saved} tether={tether} seen={seen} />
    </>
  );
}

const KINDS: Partial<Record<EditSeen['kind'], string>> = {
  contested: 'The source changed it too',
  gone: 'Its row or column is gone from the source',
  same: 'The source says the same now',
};

function EditLine({ tether, edit }: { tether: Tether; edit: EditSeen }) {
  const { isAllowed, whyNot } = useMayChange();
  const [decide, deciding] = useDecideEditMutation();
  const [change, changing] = useEditCellsMutation();
  const dispatch = useAppDispatch();
  const { place, kind, agreed, theirs, yours } = edit;
  const isOpen = kind === 'contested' || kind === 'gone';
  const off = { disabled: !isAllowed || deciding.isLoading || changing.isLoading, title: whyNot };
  const { row, column } = edit;
  const letGo = () =>
    kind === 'gone'
      ? void decide({ id: tether.id, edit: edit.id, decision: 'theirs' })
      : void change({
          id: tether.id,
          request: {
            base: tether.base,
            cells: [{ row, column, typed: null }],
            writing: writingWay(),
          },
        });
  const failed = deciding.error ?? changing.error;
  return (
    <>
      <button
        type="button"
        className="text-left font-mono text-[12px] font-semibold hover:underline"
        onClick={() => dispatch(cellFlashed({ tetherId: tether.id, row, column, at: Date.now() }))}
      >
        {place}
      </button>
      {isOpen ? (
        <>
          <p className="font-semibold text-contested">{KINDS[kind]}</p>
          <dl className="mt-1 grid grid-cols-3 gap-2 tabular-nums">
            <Said term="Agreed" face={agreed} />
            <Said term="Theirs" face={theirs} />
            <Said term="Yours" face={yours} />
          </dl>
        </>
      ) : (
        <p className="tabular-nums">
          {said(agreed)} → <b>{said(yours)}</b>
          {KINDS[kind] && <span className="text-muted"> · {KINDS[kind]}</span>}
        </p>
      )}
      <p className="text-sm text-muted">
        {edit.by ?? 'Somebody'}, <Moment at={edit.at} />
      </p>
      <div className="mt-1 flex flex-wrap gap-2">
        {kind === 'contested' && (
          <>
            <Button
              {...off}
              onClick={() => void decide({ id: tether.id, edit: edit.id, decision: 'theirs' })}
            >
              Take theirs
            </Button>
            <Button
              {...off}
              onClick={() => void decide({ id: tether.id, edit: edit.id, decision: 'yours' })}
            >
              Keep yours
            </Button>
          </>
        )}
        {kind !== 'contested' && (
          <Button {...off} kind="quiet" className="-ml-3" onClick={letGo}>
            Let it go
          </Button>
        )}
      </div>
      {failed && <FaultNote fault={faultOf(failed)} className="mt-1" />}
    </>
  );
}

function Said({ term, face }: { term: string; face: Face | null }) {
  return (
    <div>
      <dt className="text-sm text-muted">{term}</dt>
      <dd className="font-semibold">{said(face)}</dd>
    </div>
  );
}

function Plan(props: { saved: DocumentDetail; tether: Tether; seen: EditsSeen }) {
  const { saved, tether, seen } = props;
  const { plan, fault } = seen;
  const [write, { isLoading, error }] = useWriteBackMutation();
  const { data: me } = useMeQuery();
  const { isAllowed, whyNot } = useMayChange();
  const mayWrite = me !== undefined && can(me, 'change', { kind: 'source file' });
  const isOpen = seen.edits.some(({ kind }) => kind === 'contested' || kind === 'gone');
  const isHeld = saved.hold !== null;
  const why = isHeld
    ? 'The document is held: release it first.'
    : isOpen
      ? 'Decide first what the source changed too.'
      : whyNot;
  return (
    <div className="flex flex-col gap-2">
      {plan && (
        <p>
          Writes {counted(plan.written.length, 'cell')} into {plan.path}
          {plan.recalculated.length > 0 &&
            `; ${counted(plan.recalculated.length, 'figure')} there ${plan.recalculated.length === 1 ? 'follows' : 'follow'}`}
          .
        </p>
      )}
      {plan && plan.recalculated.length > 0 && tether.pending !== null && (
        <p className="border-l-2 border-behind pl-2">
          The figures underlined here do not follow yet: the source holds something else. Refresh
          the object to see them follow.
        </p>
      )}
      {plan && plan.recalculated.length > 0 && (
        <details>
          <summary className="cursor-pointer text-muted">What follows</summary>
          <ul className="mt-1 tabular-nums">
            {plan.recalculated.slice(0, 40).map(({ sheet, ref, before, after }) => (
              <li key={`${sheet}!${ref}`}>
                <span className="font-mono text-[12px]">
                  {sheet}!{ref}
                </span>{' '}
                {before} → {after}
              </li>
            ))}
          </ul>
          {plan.recalculated.length > 40 && (
            <p className="text-muted">and {plan.recalculated.length - 40} more</p>
          )}
        </details>
      )}
      {plan && plan.notFinal.length > 0 && (
        <div className="border-l-2 border-behind pl-2">
          <p className="font-semibold">
            {counted(plan.notFinal.length, 'figure')} of the source{' '}
            {plan.notFinal.length === 1 ? 'is' : 'are'} not final
          </p>
          <p className="text-muted">
            {plan.notFinal[0]!.sheet}!{plan.notFinal[0]!.ref}: {plan.notFinal[0]!.why}. The workbook
            is marked: the next program that opens it computes them.
          </p>
        </div>
      )}
      {plan?.losesSignature && (
        <p className="border-l-2 border-behind pl-2">
          The file is signed. Its signature does not hold any more once it is written.
        </p>
      )}
      {tether.writesAtOnce && !isOpen && plan && (
        <p className="border-l-2 border-behind pl-2">
          It could not be written at once, and waits. Write back says why.
        </p>
      )}
      {fault && fault.code !== 'nothing-to-write' && <FaultNote fault={fault} />}
      <div>
        <Button
          kind="primary"
          disabled={!plan || isLoading || isOpen || !isAllowed || !mayWrite || isHeld}
          title={why}
          onClick={() => plan && void write({ id: tether.id, token: plan.token })}
        >
          {isLoading ? 'Writing …' : 'Write back'}
        </Button>
      </div>
      {error && <FaultNote fault={faultOf(error)} />}
    </div>
  );
}
