import { placementSchema } from '@tether/documents';
import { type NodeViewProps, NodeViewWrapper } from '@tiptap/react';
import { useDressing } from '../../../documents/object/dressings.ts';
import { TagFace, ValueFace } from '../../../documents/object/InlineFaces.tsx';
import { DrawnOrFault } from '../../../placed/DrawnOrFault.tsx';
import { useAppDispatch } from '../../../state/store.ts';
import { usePlacedTether } from '../../../state/usePlacedTether.ts';
import { objectSelected, panelShown } from '../../../state/workbench-slice.ts';
import { StandingGlyph } from '../../../ui/StandingGlyph.tsx';
import { standingWords } from '../../../ui/standing-words.ts';
import { useReportAround } from '../../ReportContext.tsx';
import { selectAt } from './object-commands.ts';

/** A placed object inside a line of text: a value, or a tag that names its source. */
export function PlacedInline({ node, selected, editor, getPos }: NodeViewProps) {
  const { id: documentId, dressings } = useReportAround();
  const attributes = placementSchema.safeParse(node.attrs);
  const { tetherId, copyOf } = node.attrs as { tetherId: string; copyOf: string | null };
  const dressing = useDressing(dressings, tetherId);
  const tether = usePlacedTether(documentId, { tetherId, copyOf });
  const dispatch = useAppDispatch();
  const select = () => {
    const position = getPos();
    if (position !== undefined) selectAt(editor, position);
    dispatch(objectSelected(tetherId));
    dispatch(panelShown(true));
  };
  const isTag = attributes.success && attributes.data.form === 'tag';
  return (
    <NodeViewWrapper
      as="span"
      data-tether-id={tetherId}
      className={`${isTag ? 'relative inline-block max-w-full' : ''} rounded-[2px] outline-offset-2 ${selected ? 'outline-2 outline-rope' : 'hover:outline-1 hover:outline-hairline'}`}
    >
      {tether ? (
        <>
          <span data-drag-handle data-object={tether.name}>
            <DrawnOrFault isInline resetKeys={[tether.shown, node.attrs, dressing]}>
              {isTag ? (
                <TagFace tether={tether} />
              ) : (
                <ValueFace tether={tether} dressing={dressing} />
              )}
            </DrawnOrFault>
          </span>
          <button
            type="button"
            contentEditable={false}
            onClick={select}
            aria-label={`${tether.name}: ${standingWords(tether)}. Show its panel`}
            // It takes no room: lines break on the screen where they break in print, which has no cleats. It stands above
            // the letters, in the room between two lines: on none of them, neither of its own nor of the next word.
            // That of a tag is as large as a finger needs it beside a link.
            className={`cleat leading-none ${isTag ? 'absolute -top-[15px] left-full grid size-6 place-items-end justify-start' : 'relative -top-1.5 -ml-2 inline-block w-2 align-super'}`}
          >
            <StandingGlyph standing={tether.standing} size={isTag ? 8 : 7} />
          </button>
        </>
      ) : (
        <span className="text-muted">…</span>
      )}
    </NodeViewWrapper>
  );
}
