import { cutsOf, type TableFace } from '@tether/core';
import { CAPTIONED_NODE, placementSchema } from '@tether/documents';
import { type NodeViewProps, NodeViewWrapper } from '@tiptap/react';
import { type ComponentProps, type MouseEvent, useCallback, useMemo } from 'react';
import { Cleat } from '../../documents/object/Cleat.tsx';
import { ObjectFace } from '../../documents/object/ObjectFace.tsx';
import { CONTINUED_HEIGHT } from '../../placed/PlacedTable.tsx';
import { useTethersQuery } from '../../state/api.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { cellPicked, objectSelected, panelShown } from '../../state/workbench-slice.ts';
import { useTableBreaks } from '../pages/usePages.ts';
import { useReportAround } from '../ReportContext.tsx';
import { captionTextOf } from './captions.ts';
import { useDressing } from './dressings.ts';
import { dressObject, selectAt } from './object-commands.ts';

/** A placed object in the text: what it shows, and its cleat with its standing. */
export function PlacedObject({ node, selected, editor, getPos }: NodeViewProps) {
  const { id: documentId, dressings } = useReportAround();
  const { tetherId, copyOf } = node.attrs as { tetherId: string; copyOf: string | null };
  const read = placementSchema.safeParse(node.attrs);
  const form = read.success ? read.data.form : 'table';
  const dressing = useDressing(dressings, tetherId);
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
            <FaceOnPages
              tether={tether}
              tetherId={tetherId}
              form={form}
              dressing={dressing}
              name={captionTextOf(editor.state, tetherId) ?? tether.name}
              onDress={
                isChosen && editor.isEditable
                  ? (change) => dressObject(editor, dressings, tetherId, change)
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

type FaceProps = ComponentProps<typeof ObjectFace>;

/** What an object shows, broken where pages end. A new break draws this alone, not what stands around it. */
function FaceOnPages(props: Omit<FaceProps, 'look' | 'room' | 'breaks' | 'onTable'>) {
  const { settings, sheet, flow, faces } = useReportAround();
  const { tetherId } = props;
  const breaks = useTableBreaks(flow, tetherId);
  const onTable = useCallback(
    (face: TableFace | null) => {
      flow?.setTable(tetherId, face && cutsOf(face.layout, face.strips, 0, CONTINUED_HEIGHT));
      if (face) faces?.set(tetherId, face);
      else faces?.delete(tetherId);
    },
    [flow, faces, tetherId],
  );
  const room = useMemo(
    () => ({ width: sheet.textWidth, height: sheet.textHeight }),
    [sheet.textWidth, sheet.textHeight],
  );
  return (
    <ObjectFace {...props} look={settings.look} room={room} breaks={breaks} onTable={onTable} />
  );
}
