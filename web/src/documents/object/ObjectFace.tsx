import type { Tether } from '@tether/contract';
import type { ChangeSlip, DocumentLook, TableFace } from '@tether/core';
import type { Dressing, Placement } from '@tether/documents';
import {
  type ComponentProps,
  type ReactNode,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import { PlacedFace } from '../../placed/PlacedFace.tsx';
import { useCompareQuery, useSnapshotQuery } from '../../state/api.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { cellPicked } from '../../state/workbench-slice.ts';
import { CellEditor } from '../editing/CellEditor.tsx';
import { useEditMarks } from '../editing/useEditMarks.ts';
import { PartBar } from './part/PartBar.tsx';
import { ColumnHandles, CornerHandle, RowHandle } from './SizeHandles.tsx';

type PlacedFaceProps = ComponentProps<typeof PlacedFace>;

const NONE: NonNullable<Dressing['overrides']> = [];
const AS_SOURCE: NonNullable<Dressing['table']> = {};

interface Props extends Pick<Placement, 'form' | 'dressing'> {
  tether: Tether;
  /** The object's own, while the tether may still be that which it was copied from. */
  tetherId: string;
  /** What it is called where it goes on on another page. */
  name: string;
  /** Changes its dressing by hand; only while it is selected. */
  onDress: ((change: Dressing) => void) | undefined;
  /** Gives the document the focus, this object selected. */
  onLeft: () => void;
  /** How objects look that follow their document. */
  look: DocumentLook;
  /** Pixels that it may take at most. */
  room: PlacedFaceProps['room'];
  /** Where a table goes on on another page. */
  breaks?: PlacedFaceProps['breaks'];
  /** What stands there until its figures have come. */
  meanwhile: ReactNode;
  /** Whether charts and facsimiles have a corner of their own to be made larger by; where things have grips they need none. */
  hasCorner?: boolean;
  /** Gives the parts of a folded table places of their own. */
  slot?: PlacedFaceProps['slot'];
  /** A table was laid out anew, or is none any more. */
  onTable?: (face: TableFace | null) => void;
}

/** What a placed object shows, with the handles for dressing it by hand. */
export function ObjectFace(props: Props) {
  const { tether, tetherId, form, dressing, name, onDress, onLeft, look, room, breaks, onTable } =
    props;
  const { hasCorner = true } = props;
  const { data: snapshot } = useSnapshotQuery(tether.shown);
  const flash = useAppSelector(({ workbench }) =>
    workbench.flash?.tetherId === tetherId ? workbench.flash : null,
  );
  const picked = useAppSelector(({ workbench }) =>
    workbench.picked?.tetherId === tetherId ? workbench.picked : null,
  );
  const { data: fresh } = useCompareQuery(
    { from: tether.lookedAt ?? '', to: tether.base },
    { skip: tether.lookedAt === null },
  );
  const marks = useMemo(
    () => (fresh && tether.lookedAt !== null ? freshCells(fresh) : null),
    [fresh, tether.lookedAt],
  );
  const edits = useEditMarks(tether, onDress !== undefined, snapshot);
  const [face, setFace] = useState<TableFace | null>(null);
  const [drawn, setDrawn] = useState<HTMLElement | null>(null);
  const onFace = useCallback(
    (face: TableFace | null) => {
      setFace(face);
      onTable?.(face);
    },
    [onTable],
  );
  // What is picked is a place among these cells: in others it would be another row.
  const dispatch = useAppDispatch();
  const pickedIn = useRef(tether.base);
  useEffect(() => {
    if (pickedIn.current !== tether.base && picked) dispatch(cellPicked(null));
    pickedIn.current = tether.base;
  }, [tether.base, picked, dispatch]);
  if (!snapshot) return props.meanwhile;
  const shown = (
    <PlacedFace
      snapshot={snapshot}
      hash={tether.shown}
      meanwhile={props.meanwhile}
      form={form}
      dressing={dressing}
      look={look}
      room={room}
      label={tether.name}
      flash={flash}
      picked={picked}
      marks={marks}
      edits={edits}
      breaks={breaks}
      continued={`${name}, continued`}
      slot={props.slot}
      onFace={onFace}
    />
  );
  return (
    <div ref={setDrawn} className="relative w-fit max-w-full min-w-0">
      {shown}
      {form === 'table' && <CellEditor {...{ tether, snapshot, onLeft }} table={drawn} />}
      {onDress && form === 'table' && (
        <PartBar
          table={drawn}
          tetherId={tetherId}
          snapshot={snapshot}
          overrides={dressing.overrides ?? NONE}
          look={dressing.table ?? AS_SOURCE}
          document={look}
          onChange={(overrides) => onDress({ overrides })}
        />
      )}
      {onDress && form === 'table' && face && (
        <>
          <ColumnHandles
            face={face}
            snapshot={snapshot}
            overrides={dressing.overrides ?? NONE}
            onResize={(overrides) => onDress({ overrides })}
          />
          <RowHandle
            table={drawn}
            face={face}
            snapshot={snapshot}
            overrides={dressing.overrides ?? NONE}
            onResize={(overrides) => onDress({ overrides })}
          />
        </>
      )}
      {onDress && hasCorner && (form === 'chart' || form === 'facsimile') && (
        <CornerHandle isChart={form === 'chart'} onResize={onDress} />
      )}
    </div>
  );
}

/** Cells of the sheet that a slip changed and that are there, `row,column`. */
function freshCells(slip: ChangeSlip): Set<string> {
  return new Set(
    slip.rows.flatMap(({ after, cells }) =>
      after === null ? [] : cells.map(({ column }) => `${after},${column}`),
    ),
  );
}
