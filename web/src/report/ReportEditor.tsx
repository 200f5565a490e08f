import type { DocumentDetail } from '@tether/contract';
import { isPlacedNode } from '@tether/contract';
import { NodeSelection } from '@tiptap/pm/state';
import { type Editor, EditorContent, useEditor } from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import { useEffect, useRef } from 'react';
import { useTethersQuery } from '../app/api.ts';
import { useAppDispatch } from '../app/store.ts';
import { useMayChange } from '../app/useMayChange.ts';
import { objectSelected, textRead } from '../workbench/workbenchSlice.ts';
import { DocumentContext } from './DocumentContext.tsx';
import { objectsIn, PlacedInlineNode, PlacedObjectNode } from './placedObjectNode.ts';
import { TextRail } from './TextRail.tsx';

interface Props {
  saved: DocumentDetail;
  onEditor: (editor: Editor | null) => void;
}

/** The text of a report on paper, with the rail for forming it. */
export function ReportEditor({ saved, onEditor }: Props) {
  const dispatch = useAppDispatch();
  const { isAllowed } = useMayChange();
  const { data: tethers = [] } = useTethersQuery(saved.id);
  const known = useRef(new Set<string>());
  known.current = new Set(tethers.map(({ id }) => id));

  const editor = useEditor(
    {
      extensions: [
        StarterKit.configure({
          heading: { levels: [1, 2, 3] },
          code: false,
          codeBlock: false,
          link: false,
          strike: false,
          dropcursor: { color: '#b9772a', width: 2 },
        }),
        PlacedObjectNode.configure({ isOwn: (id) => known.current.has(id) }),
        PlacedInlineNode,
      ],
      content: saved.content,
      shouldRerenderOnTransaction: false,
      editorProps: {
        attributes: {
          class: 'paper-text min-h-[200mm]',
          role: 'textbox',
          'aria-multiline': 'true',
          'aria-label': `Text of ${saved.name}`,
        },
      },
    },
    [saved.id],
  );

  useEffect(() => editor?.setEditable(isAllowed, false), [editor, isAllowed]);

  useEffect(() => {
    if (!editor) return;
    const readText = () => dispatch(textRead(objectsIn(editor.state.doc).map(({ id }) => id)));
    const readSelection = () => {
      const { selection } = editor.state;
      const node = selection instanceof NodeSelection ? selection.node : null;
      dispatch(
        objectSelected(node && isPlacedNode(node.type.name) ? String(node.attrs.tetherId) : null),
      );
    };
    readText();
    editor.on('transaction', readText);
    editor.on('selectionUpdate', readSelection);
    onEditor(editor);
    return () => {
      editor.off('transaction', readText);
      editor.off('selectionUpdate', readSelection);
      onEditor(null);
    };
  }, [editor, dispatch, onEditor]);

  if (!editor) return null;
  return (
    <DocumentContext.Provider value={saved.id}>
      <div className="flex min-h-0 flex-1">
        {isAllowed && <TextRail editor={editor} />}
        <div className="min-w-0 flex-1 overflow-auto px-6 py-6" data-scroll>
          <div className="mx-auto w-[794px] max-w-full border border-hairline bg-white px-[94px] py-[84px] shadow-paper">
            <EditorContent editor={editor} />
          </div>
        </div>
      </div>
    </DocumentContext.Provider>
  );
}
