import { cutsOf, type TableFace } from '@tether/core';
import { CAPTIONED_NODE, placementSchema } from '@tether/documents';
import { type NodeViewProps, NodeViewWrapper } from '@tiptap/react';
import { type ComponentProps, type DragEvent, useCallback, useMemo, useRef, useState } from 'react';
import { CommentMark } from '../../../documents/comments/CommentMark.tsx';
import { Cleat } from '../../../documents/object/Cleat.tsx';
import { useDressing } from '../../../documents/object/dressings.ts';
import { ObjectFace } from '../../../documents/object/ObjectFace.tsx';
import { useCellClicks } from '../../../documents/object/useCellClicks.ts';
import { canKeepRoom, KeptRoom } from '../../../placed/KeptRoom.tsx';
import { useDrawn } from '../../../placed/nearness/nearness.ts';
import { CONTINUED_HEIGHT } from '../../../placed/table/continued.ts';
import type { FaceSize } from '../../../placed/table/face-size.worker.ts';
import { useAppDispatch, useAppSelector } from '../../../state/store.ts';
import { usePlacedTether } from '../../../state/usePlacedTether.ts';
import { objectSelected, panelShown } from '../../../state/workbench-slice.ts';
import { sheetsOf } from '../../pages/orientation.ts';
import { useTableBreaks, useTurned } from '../../pages/usePages.ts';
import { useReportAround } from '../../ReportContext.tsx';
import { captionTextOf } from '../captions/captions.ts';
import { dragCaptioned, dressObject, selectAt } from './object-commands.ts';

/** A placed object in the text: what it shows, and its cleat with its standing. */
export function PlacedObject({ node, selected, editor, getPos }: NodeViewProps) {
  const { id: documentId, dressings } = useReportAround();
  const { tetherId, copyOf } = node.attrs as { tetherId: string; copyOf: string | null };
  const read = placementSchema.safeParse(node.attrs);
  const form = read.success ? read.data.form : 'table';
  const dressing = useDressing(dressings, tetherId);
  const tether = usePlacedTether(documentId, { tetherId, copyOf });
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
  const { pick, open } = useCellClicks(documentId, { tetherId, form }, () => editor.isEditable);
  const dragWhole = (event: DragEvent<HTMLElement>) => {
    const place = getPos();
    if (place !== undefined) dragCaptioned(editor, place, event.nativeEvent);
  };
  const isWide = form === 'chart' && dressing.width === undefined;
  const box = useRef<HTMLDivElement>(null);
  const [isSized, setSized] = useState(false);
  const isDrawn = useDrawn(box, isSized) || !canKeepRoom(dressing);
  const position = getPos();
  const isCaptioned =
    position !== undefined &&
    editor.state.doc.resolve(position).parent.type.name === CAPTIONED_NODE;

  return (
    <NodeViewWrapper
      ref={box}
      data-tether-id={tetherId}
      className={`relative ${isWide || dressing.table?.widths === 'document' ? 'w-full' : 'w-fit'} max-w-full rounded-[2px] outline-offset-4 ${selected ? 'outline-2 outline-rope' : 'hover:outline-1 hover:outline-hairline'}`}
    >
      {tether && !isDrawn && (
        <RoomOnPages {...{ tether, tetherId, form, dressing, onSized: setSized }} />
      )}
      {tether && isDrawn && (
        <>
          {/* biome-ignore lint/a11y/noStaticElementInteractions: the panel picks cells with the keyboard */}
          {/* biome-ignore lint/a11y/useKeyWithClickEvents: the panel picks cells with the keyboard */}
          <div
            // Captioned it is dragged with its caption, by hand: what the library drags is this node alone.
            {...(isCaptioned
              ? { draggable: editor.isEditable, onDragStart: dragWhole }
              : { 'data-drag-handle': '' })}
            onClick={pick}
            onDoubleClick={open}
          >
            <FaceOnPages
              tether={tether}
              tetherId={tetherId}
              form={form}
              dressing={dressing}
              name={captionTextOf(editor.state, tetherId) ?? tether.name}
              // By the editor, which puts its selection where it was: the browser alone would put the caret elsewhere.
              onLeft={() => editor.view.focus()}
              onDress={
                isChosen && editor.isEditable
                  ? (change) => dressObject(editor, dressings, tetherId, change)
                  : undefined
              }
            />
          </div>
          <Cleat tether={tether} onClick={select} />
          <CommentMark tetherId={tetherId} />
        </>
      )}
      {!tether && (
        <p className="rounded-box border border-dashed border-hairline p-4 font-sans text-base text-muted">
          This object gets its figures when the document is saved.
        </p>
      )}
    </NodeViewWrapper>
  );
}

type FaceProps = ComponentProps<typeof ObjectFace>;

/** Where pages break within an object, how much room it has there, and whom to tell where it may be cut. */
function useOnPages(tetherId: string) {
  const { settings, sheet: own, flow, faces } = useReportAround();
  const breaks = useTableBreaks(flow, tetherId);
  const turned = useTurned(flow, tetherId);
  const sheet = useMemo(
    () => (turned === null ? own : sheetsOf(settings.paper)[turned]),
    [turned, own, settings.paper],
  );
  const room = useMemo(
    () => ({ width: sheet.textWidth, height: sheet.textHeight }),
    [sheet.textWidth, sheet.textHeight],
  );
  return { look: settings.look, flow, faces, breaks, room };
}

/** The room of an object that is far from the screen. */
function RoomOnPages(
  props: Pick<FaceProps, 'tether' | 'tetherId' | 'form' | 'dressing'> & {
    onSized?: (isSized: boolean) => void;
  },
) {
  const { tether, tetherId, form, dressing, onSized } = props;
  const { look, flow, breaks, room } = useOnPages(tetherId);
  const onSize = useCallback(
    (size: FaceSize | null) => {
      if (size && form === 'table') flow?.setTable(tetherId, size);
      onSized?.(true);
    },
    [flow, tetherId, form, onSized],
  );
  return <KeptRoom hash={tether.shown} {...{ form, dressing, look, room, breaks, onSize }} />;
}

/** What an object shows, broken where pages end. A new break draws this alone, not what stands around it. */
function FaceOnPages(props: Omit<FaceProps, 'look' | 'room' | 'breaks' | 'onTable' | 'meanwhile'>) {
  const { tetherId } = props;
  const { look, flow, faces, breaks, room } = useOnPages(tetherId);
  const onTable = useCallback(
    (face: TableFace | null) => {
      flow?.setTable(tetherId, face && cutsOf(face.layout, face.strips, 0, CONTINUED_HEIGHT));
      if (face) faces?.set(tetherId, face);
      else faces?.delete(tetherId);
    },
    [flow, faces, tetherId],
  );
  const meanwhile = <RoomOnPages {...props} />;
  return <ObjectFace {...props} {...{ look, room, breaks, onTable, meanwhile }} />;
}
