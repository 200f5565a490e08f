import { captionName, type Placement } from '@tether/documents';
import { type NodeViewProps, NodeViewWrapper, useEditorState } from '@tiptap/react';
import { useDressing } from '../../../documents/object/dressings.ts';
import { valueText } from '../../../placed/value-text.ts';
import { useSnapshotQuery } from '../../../state/api.ts';
import { usePlacedTether } from '../../../state/usePlacedTether.ts';
import { usePages } from '../../pages/usePages.ts';
import { useReportAround } from '../../ReportContext.tsx';
import { captionsIn } from './caption-model.ts';

/** The captioned tables and figures with the pages they stand on. */
export function ListOfObjects({ editor, selected }: NodeViewProps) {
  const { flow } = useReportAround();
  const { pageOf } = usePages(flow);
  const captions = useEditorState({ editor, selector: (now) => captionsIn(now.editor.state.doc) });
  const kinds = [
    { kind: 'table', title: 'Tables' },
    { kind: 'figure', title: 'Figures' },
  ] as const;
  return (
    <NodeViewWrapper
      className={`list-of-objects ${selected ? 'outline-2 outline-offset-4 outline-rope' : ''}`}
      contentEditable={false}
      aria-label="List of tables and figures"
      role="navigation"
    >
      {captions.length === 0 && (
        <p className="text-muted italic">Tables and figures that have a caption are listed here.</p>
      )}
      {kinds.map(({ kind, title }) => {
        const own = captions.filter((each) => each.kind === kind);
        if (own.length === 0) return null;
        return (
          <section key={kind} aria-label={title}>
            <p className="font-semibold">{title}</p>
            <ol>
              {own.map((each) => (
                <li key={each.position}>
                  <span>
                    {captionName(each)}
                    {each.parts.length > 0 && '. '}
                    {each.parts.map((part, index) =>
                      typeof part === 'string' ? (
                        part
                      ) : (
                        <HeldValue key={`${index} ${part.tetherId}`} value={part} />
                      ),
                    )}
                  </span>
                  <span className="leader" aria-hidden />
                  <span>{pageOf.get(each.tetherId) ?? ''}</span>
                </li>
              ))}
            </ol>
          </section>
        );
      })}
    </NodeViewWrapper>
  );
}

/** A value that a caption holds. */
function HeldValue({ value }: { value: Placement }) {
  const { id, dressings } = useReportAround();
  const dressing = useDressing(dressings, value.tetherId);
  const shown = usePlacedTether(id, value)?.shown;
  const { data: snapshot } = useSnapshotQuery(shown ?? '', { skip: shown === undefined });
  return snapshot ? valueText(snapshot, dressing.value ?? {}) : '…';
}
