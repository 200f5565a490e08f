import {
  CAPTIONED_NODE,
  type Dressing,
  type PlacedAttributes,
  placedAttributesSchema,
  type Tether,
} from '@tether/contract';
import { type ChangeSlip, cutsOf, type TableFace } from '@tether/core';
import { type NodeViewProps, NodeViewWrapper } from '@tiptap/react';
import { type MouseEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useCompareQuery, useSnapshotQuery, useTethersQuery } from '../app/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { PlacedFace } from '../placed/PlacedFace.tsx';
import { CONTINUED_HEIGHT } from '../placed/PlacedTable.tsx';
import { StandingGlyph } from '../ui/StandingGlyph.tsx';
import { standingWords } from '../ui/standingWords.ts';
import { PartBar } from '../workbench/part/PartBar.tsx';
import { cellPicked, objectSelected, panelShown } from '../workbench/workbenchSlice.ts';
import { captionTextOf } from './captions.ts';
import { useDocumentAround } from './DocumentContext.tsx';
import { dressObject, selectAt } from './objectCommands.ts';
import { ColumnHandles, CornerHandle } from './SizeHandles.tsx';
import { useTableBreaks } from './usePages.ts';

const NONE: NonNullable<Dressing['overrides']> = [];
const AS_SOURCE: NonNullable<Dressing['table']> = {};
const UNKNOWN: Pick<PlacedAttributes, 'form' | 'dressing'> = { form: 'table', dressing: {} };

/** A placed object in the text: what it shows, and its cleat with its standing. */
export function PlacedObject({ node, selected, editor, getPos }: NodeViewProps) {
  const { id: documentId } = useDocumentAround();
  const { tetherId, copyOf } = node.attrs as { tetherId: string; copyOf: string | null };
  const { form, dressing } = useMemo(() => {
    const read = placedAttributesSchema.safeParse(node.attrs);
    return read.success ? read.data : UNKNOWN;
  }, [node.attrs]);
  const { tether } = useTethersQuery(documentId, {
    selectFromResult: ({ data }) => ({
      // Until a copy is saved it shows what it was copied from.
      tether: data?.find(({ id }) => id === tetherId) ?? data?.find(({ id }) => id === copyOf),
    }),
  });
  const dispatch = useAppDispatch();
  // Also while the cursor stands in its caption, which is one thing with it.
  const isChosen = useAppSelector(({ workbench }) => workbench.selected === tetherId);

  const select = () => {
    const position = getPos();
    if (position !== undefined) {
      selectAt(editor, position);
    }
    dispatch(objectSelected(tetherId));
    dispatch(panelShown(true));
  };
  const pick = (event: MouseEvent) => {
    const at = (event.target as Element).closest('[data-cell]')?.getAttribute('data-cell');
    if (!at || !editor.isEditable) return;
    const [row, column] = at.split(',').map(Number);
    dispatch(cellPicked({ tetherId, row: row!, column: column! }));
  };
  const isWide = form === 'chart' && dressing.width === undefined;
  const position = getPos();
  const isCaptioned =
    position !== undefined &&
    editor.state.doc.resolve(position).parent.type.name === CAPTIONED_NODE;

  return (
    <NodeViewWrapper
      data-tether-id={tetherId}
      className={`relative ${isWide || dressing.table?.widths === 'document' ? 'w-full' : 'w-fit'} max-w-full rounded-[2px] outline-offset-4 ${selected ? 'outline-2 outline-rope' : 'hover:outline-1 hover:outline-hairline'}`}
    >
      {tether ? (
        <>
          {/* biome-ignore lint/a11y/noStaticElementInteractions: the panel picks cells with the keyboard */}
          {/* biome-ignore lint/a11y/useKeyWithClickEvents: the panel picks cells with the keyboard */}
          <div {...(isCaptioned ? {} : { 'data-drag-handle': '' })} onClick={pick}>
            <ObjectFace
              tether={tether}
              tetherId={tetherId}
              form={form}
              dressing={dressing}
              name={captionTextOf(editor.state, tetherId) ?? tether.name}
              onDress={
                isChosen && editor.isEditable
                  ? (change) => dressObject(editor, tetherId, change)
                  : undefined
              }
            />
          </div>
          <Cleat tether={tether} onClick={select} />
        </>
      ) : (
        <p className="rounded-box border border-dashed border-hairline p-4 font-sans text-base text-muted">
          This object gets its figures when the document is saved.
        </p>
      )}
    </NodeViewWrapper>
  );
}

interface FaceProps extends Pick<PlacedAttributes, 'form' | 'dressing'> {
  tether: Tether;
  /** The object's own, while the tether may still be that which it was copied from. */
  tetherId: string;
  /** What it is called where it goes on on another page. */
  name: string;
  /** Changes its dressing by hand; only while it is selected. */
  onDress: ((change: Dressing) => void) | undefined;
}

function ObjectFace({ tether, tetherId, form, dressing, name, onDress }: FaceProps) {
  const { data: snapshot } = useSnapshotQuery(tether.base);
  const { settings, sheet, flow, faces } = useDocumentAround();
  const breaks = useTableBreaks(flow, tetherId);
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
  const [face, setFace] = useState<TableFace | null>(null);
  const [drawn, setDrawn] = useState<HTMLElement | null>(null);
  const onFace = useCallback(
    (face: TableFace | null) => {
      setFace(face);
      const cuts = face && cutsOf(face.layout, face.strips, 0, CONTINUED_HEIGHT);
      flow?.setTable(tetherId, cuts);
      if (face) faces?.set(tetherId, face);
      else faces?.delete(tetherId);
    },
    [flow, faces, tetherId],
  );
  const room = useMemo(
    () => ({ width: sheet.textWidth, height: sheet.textHeight }),
    [sheet.textWidth, sheet.textHeight],
  );
  // What is picked is a place among these cells: in others it would be another row.
  const dispatch = useAppDispatch();
  const pickedIn = useRef(tether.base);
  useEffect(() => {
    if (pickedIn.current !== tether.base && picked) dispatch(cellPicked(null));
    pickedIn.current = tether.base;
  }, [tether.base, picked, dispatch]);
  if (!snapshot) return <div className="h-24 w-80 animate-pulse bg-mist" aria-hidden />;
  const shown = (
    <PlacedFace
      snapshot={snapshot}
      form={form}
      dressing={dressing}
      look={settings.look}
      room={room}
      label={tether.name}
      flash={flash}
      picked={picked}
      marks={marks}
      breaks={breaks}
      continued={`${name}, continued`}
      onFace={onFace}
    />
  );
  return (
    <div ref={setDrawn} className="relative w-fit max-w-full min-w-0">
      {shown}
      {onDress && form === 'table' && (
        <PartBar
          table={drawn}
          tetherId={tetherId}
          snapshot={snapshot}
          overrides={dressing.overrides ?? NONE}
          look={dressing.table ?? AS_SOURCE}
          document={settings.look}
          onChange={(overrides) => onDress({ overrides })}
        />
      )}
      {onDress && form === 'table' && face && (
        <ColumnHandles
          face={face}
          snapshot={snapshot}
          overrides={dressing.overrides ?? NONE}
          onResize={(overrides) => onDress({ overrides })}
        />
      )}
      {onDress && (form === 'chart' || form === 'facsimile') && (
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

/** The mark at an object's corner, beside it so that it covers nothing: carries its standing and opens its panel. */
function Cleat({ tether, onClick }: { tether: Tether; onClick: () => void }) {
  return (
    <button
      type="button"
      contentEditable={false}
      onClick={onClick}
      aria-label={`${tether.name}: ${standingWords(tether)}. Show its panel`}
      className="cleat absolute top-0 left-full ml-2 flex h-6 w-max items-center gap-1 rounded-box border border-hairline bg-white px-1.5 font-sans text-[12px] leading-4 whitespace-nowrap text-ink hover:border-deep"
    >
      <StandingGlyph standing={tether.standing} />
      {standingWords(tether)}
    </button>
  );
}
