import {
  type Dressing,
  placedAttributesSchema,
  type TableLook,
  type Tether,
} from '@tether/contract';
import { columnWidths } from '@tether/core';
import { type NodeViewProps, NodeViewWrapper } from '@tiptap/react';
import { useSnapshotQuery, useTethersQuery } from '../app/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { PlacedChart } from '../placed/PlacedChart.tsx';
import { PlacedTable } from '../placed/PlacedTable.tsx';
import { TEXT_WIDTH } from '../placed/page.ts';
import { StandingGlyph } from '../ui/StandingGlyph.tsx';
import { objectSelected } from '../workbench/workbenchSlice.ts';
import { useDocumentId } from './DocumentContext.tsx';
import { selectAt } from './objectCommands.ts';

/** A placed object in the text: what it shows, and its cleat with its standing. */
export function PlacedObject({ node, selected, editor, getPos }: NodeViewProps) {
  const documentId = useDocumentId();
  const { tetherId, copyOf } = node.attrs as { tetherId: string; copyOf: string | null };
  const attributes = placedAttributesSchema.safeParse(node.attrs);
  const dressing: Dressing = attributes.success ? attributes.data.dressing : {};
  const isChart = attributes.success && attributes.data.form === 'chart';
  const { tether } = useTethersQuery(documentId, {
    selectFromResult: ({ data }) => ({
      // Until a copy is saved it shows what it was copied from.
      tether: data?.find(({ id }) => id === tetherId) ?? data?.find(({ id }) => id === copyOf),
    }),
  });
  const flash = useAppSelector(({ workbench }) =>
    workbench.flash?.tetherId === tetherId ? workbench.flash : null,
  );
  const dispatch = useAppDispatch();

  const select = () => {
    const position = getPos();
    if (position !== undefined) {
      selectAt(editor, position);
    }
    dispatch(objectSelected(tetherId));
  };

  return (
    <NodeViewWrapper
      data-tether-id={tetherId}
      className={`relative ${isChart || dressing.table?.widths === 'document' ? 'w-full' : 'w-fit'} max-w-full rounded-[2px] outline-offset-4 ${selected ? 'outline-2 outline-rope' : 'hover:outline-1 hover:outline-hairline'}`}
    >
      {tether ? (
        <>
          <div data-drag-handle>
            {isChart ? (
              <ChartFace tether={tether} dressing={dressing} />
            ) : (
              <ObjectFace tether={tether} flash={flash} look={dressing.table} />
            )}
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

function ObjectFace({
  tether,
  flash,
  look,
}: {
  tether: Tether;
  look: TableLook | undefined;
  flash: { row: number; column: number; at: number } | null;
}) {
  const { data: snapshot } = useSnapshotQuery(tether.base);
  if (!snapshot) return <div className="h-24 w-80 animate-pulse bg-mist" aria-hidden />;
  const table = (
    <PlacedTable
      snapshot={snapshot}
      label={tether.name}
      flash={flash}
      {...(look ? { look } : {})}
    />
  );
  if (look?.widths === 'document') return table;
  if (columnWidths(snapshot).reduce((sum, width) => sum + width, 0) <= TEXT_WIDTH) return table;
  return (
    <section
      aria-label={`${tether.name}, wider than the page`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable with the keyboard
      tabIndex={0}
      className="max-w-full overflow-x-auto"
    >
      {table}
    </section>
  );
}

function ChartFace({ tether, dressing }: { tether: Tether; dressing: Dressing }) {
  const { data: snapshot } = useSnapshotQuery(tether.base);
  if (!snapshot) return <div className="h-[300px] animate-pulse bg-mist" aria-hidden />;
  return <PlacedChart snapshot={snapshot} making={dressing.chart} label={tether.name} />;
}

/** The mark at an object's corner, beside it so that it covers nothing: carries its standing and opens its panel. */
function Cleat({ tether, onClick }: { tether: Tether; onClick: () => void }) {
  return (
    <button
      type="button"
      contentEditable={false}
      onClick={onClick}
      aria-label={`${tether.name}: ${tether.standing}. Show its panel`}
      className="absolute top-0 left-full ml-2 flex h-6 w-max items-center gap-1 rounded-box border border-hairline bg-white px-1.5 font-sans text-[12px] leading-4 whitespace-nowrap text-ink hover:border-deep"
    >
      <StandingGlyph standing={tether.standing} />
      {tether.standing}
    </button>
  );
}
