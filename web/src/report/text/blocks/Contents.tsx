import { type NodeViewProps, NodeViewWrapper, useEditorState } from '@tiptap/react';
import { usePages } from '../../pages/usePages.ts';
import { useReportAround } from '../../ReportContext.tsx';
import { goToHeading, headingsIn } from '../reading/headings.ts';

/** The headings of the text with the pages they stand on. */
export function Contents({ editor, selected }: NodeViewProps) {
  const { flow } = useReportAround();
  const { headings: pages } = usePages(flow);
  const headings = useEditorState({ editor, selector: (now) => headingsIn(now.editor.state.doc) });
  return (
    <NodeViewWrapper
      className={`list-of-objects ${selected ? 'outline-2 outline-offset-4 outline-rope' : ''}`}
      contentEditable={false}
      aria-label="Contents"
      role="navigation"
    >
      {headings.length === 0 && <p className="text-muted italic">Headings are listed here.</p>}
      <ol>
        {headings.map(({ level, words }, index) => (
          <li key={`${index} ${words}`} style={{ paddingLeft: (level - 1) * 18 }}>
            <button
              type="button"
              className="cursor-pointer text-left hover:underline"
              onClick={() => goToHeading(editor, index)}
            >
              {words || 'A heading without words'}
            </button>
            <span className="leader" aria-hidden />
            <span>{pages[index] ?? ''}</span>
          </li>
        ))}
      </ol>
    </NodeViewWrapper>
  );
}
