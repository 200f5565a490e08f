import {
  CAPTION_NODE,
  CAPTIONED_NODE,
  type DocumentDetail,
  type DocumentSettings,
  isPlacedNode,
  settingsOf,
} from '@tether/contract';
import { PIXELS_PER_MM, sheetSize, type TableFace } from '@tether/core';
import { Extension } from '@tiptap/core';
import { type EditorState, NodeSelection, Plugin, type Transaction } from '@tiptap/pm/state';
import { type Editor, EditorContent, useEditor, useEditorState } from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import { type CSSProperties, useEffect, useMemo, useRef, useState } from 'react';
import { type Incoming, readIncoming } from '../alongside/carried.ts';
import { useTethersQuery } from '../app/api.ts';
import { useAppDispatch } from '../app/store.ts';
import { useMayChange } from '../app/useMayChange.ts';
import { lettersRefused, objectSelected, textRead } from '../workbench/workbenchSlice.ts';
import { CaptionedNode, CaptionNode, ListNode, ReferenceNode } from './captions.ts';
import { copyingOut } from './copyOut.ts';
import { DocumentContext } from './DocumentContext.tsx';
import { FIXED_TABLE_NODES } from './fixedTable.ts';
import { leaveSelected, wholeSelected } from './objectCommands.ts';
import { objectsIn } from './objectsIn.ts';
import { PageFlow, SHEET_GAP } from './PageFlow.ts';
import { OWN_TETHER, PlacedInlineNode, PlacedObjectNode } from './placedObjectNode.ts';
import { ReportDocument, readSettings } from './ReportDocument.ts';
import { Sheets } from './Sheets.tsx';
import { TextRail } from './TextRail.tsx';
import { usePages } from './usePages.ts';
import { usePaperScale } from './usePaperScale.ts';
import { useShownObjects } from './useShownObjects.ts';
import { ZoomControl } from './ZoomControl.tsx';

interface Props {
  saved: DocumentDetail;
  onEditor: (editor: Editor | null) => void;
  /** Cells that are pasted, or dropped at a place of the text. */
  onCells: (editor: Editor, incoming: Incoming, at?: number) => void;
}

/** The object that is selected, or in whose caption the cursor stands. */
function selectedObject({ selection }: EditorState): string | null {
  if (selection instanceof NodeSelection) {
    const { node } = selection;
    const object = node.type.name === CAPTIONED_NODE ? node.firstChild : node;
    return object && isPlacedNode(object.type.name) ? String(object.attrs.tetherId) : null;
  }
  const { $from } = selection;
  if ($from.parent.type.name !== CAPTION_NODE || $from.depth < 1) return null;
  const object = $from.node($from.depth - 1).firstChild;
  return object && isPlacedNode(object.type.name) ? String(object.attrs.tetherId) : null;
}

/** The text of a report on paper, with the rail for forming it. */
export function ReportEditor({ saved, onEditor, onCells }: Props) {
  const { isAllowed } = useMayChange();
  const [editor, setEditor] = useState<Editor | null>(null);
  const pane = useRef<HTMLDivElement>(null);
  const { width: paper } = sheetSize(settingsOf(saved.content).paper);
  const scale = usePaperScale(pane, paper);
  return (
    <div className="relative flex min-h-0 min-w-0 flex-1">
      {isAllowed && editor && <TextRail editor={editor} />}
      <div className="relative flex min-w-0 flex-1">
        <div ref={pane} className="min-w-0 flex-1 overflow-auto px-6 py-6" data-scroll>
          <ReportPages
            saved={saved}
            isEditable={isAllowed}
            gap={SHEET_GAP}
            scale={scale}
            onCells={onCells}
            onEditor={(now) => {
              setEditor(now);
              onEditor(now);
            }}
          />
        </div>
        <ZoomControl scale={scale} />
      </div>
    </div>
  );
}

/** Whether a text has nothing but its title yet. */
function isBlank({ content = [] }: DocumentDetail['content']): boolean {
  const [first, ...rest] = content;
  const isTitle = first?.type === 'heading' || first?.type === 'paragraph';
  return isTitle && rest.every((node) => node.type === 'paragraph' && !node.content?.length);
}

interface PagesProps {
  saved: DocumentDetail;
  isEditable: boolean;
  /** Pixels between two sheets: none in print. */
  gap: number;
  /** How large the sheets are drawn; 1 as in print. */
  scale?: number;
  onEditor: (editor: Editor | null) => void;
  onCells?: Props['onCells'];
}

/** The text of a report on its sheets: the same on the screen and in print. */
export function ReportPages(props: PagesProps) {
  const { saved, isEditable, gap, scale = 1, onEditor } = props;
  const dispatch = useAppDispatch();
  const { data: tethers = [] } = useTethersQuery(saved.id);
  const known = useRef(new Set<string>());
  known.current = new Set(tethers.map(({ id }) => id));
  const onEditorNow = useRef(onEditor);
  onEditorNow.current = onEditor;
  const onCellsNow = useRef(props.onCells);
  onCellsNow.current = props.onCells;
  const editorNow = useRef<Editor | null>(null);
  const [flow] = useState(() => new PageFlow(sheetSize(settingsOf(saved.content).paper)));
  const [faces] = useState(() => new Map<string, TableFace>());
  const lookUp = useShownObjects(saved.id, faces, editorNow);

  const editor = useEditor(
    {
      extensions: [
        ReportDocument,
        StarterKit.configure({
          document: false,
          heading: { levels: [1, 2, 3] },
          code: false,
          codeBlock: false,
          link: false,
          strike: false,
          dropcursor: { color: '#b9772a', width: 2 },
        }),
        PlacedObjectNode.configure({ isOwn: (id) => known.current.has(id) }),
        PlacedInlineNode,
        CaptionedNode,
        CaptionNode,
        ReferenceNode,
        ListNode,
        ...FIXED_TABLE_NODES,
        Extension.create({ name: 'pages', addProseMirrorPlugins: () => [flow.plugin()] }),
        Extension.create({
          name: 'copyingOut',
          // Before what the editor's library does when text is copied.
          priority: 1000,
          addProseMirrorPlugins() {
            const view = () => editorNow.current?.view ?? null;
            return [new Plugin({ props: copyingOut(this.editor.schema, view, lookUp) })];
          },
        }),
      ],
      content: saved.content,
      editable: isEditable,
      // Whoever opens an empty report is about to write.
      autofocus: isEditable && isBlank(saved.content) ? 'end' : false,
      shouldRerenderOnTransaction: false,
      editorProps: {
        attributes: {
          class: 'paper-text',
          role: 'textbox',
          'aria-multiline': 'true',
          'aria-label': `Text of ${saved.name}`,
        },
        // An object is not written over: it says how it is changed instead.
        handleTextInput: (view) => {
          if (!wholeSelected(view.state)) return false;
          dispatch(lettersRefused());
          return true;
        },
        handleKeyDown: (view, event) => {
          // Enter goes on behind it, as behind any line.
          const { key, shiftKey, ctrlKey, metaKey, altKey } = event;
          if (key !== 'Enter' || shiftKey || ctrlKey || metaKey || altKey) return false;
          if (!view.editable || !wholeSelected(view.state)) return false;
          leaveSelected(view);
          return true;
        },
        handleDOMEvents: {
          // Letters that are put together from several keys cannot be refused any more: they go behind it.
          compositionstart: (view) => leaveSelected(view),
        },
        handlePaste: (view, event) => {
          leaveSelected(view);
          const incoming = event.clipboardData && readIncoming(event.clipboardData);
          if (!incoming || !editorNow.current || !onCellsNow.current) return false;
          onCellsNow.current(editorNow.current, incoming);
          return true;
        },
        handleDrop: (view, event) => {
          const incoming = event.dataTransfer && readIncoming(event.dataTransfer);
          if (incoming?.kind !== 'carried' || !editorNow.current || !onCellsNow.current)
            return false;
          const at = view.posAtCoords({ left: event.clientX, top: event.clientY })?.pos;
          onCellsNow.current(editorNow.current, incoming, at);
          event.preventDefault();
          return true;
        },
      },
    },
    [saved.id],
  );

  editorNow.current = editor;
  useEffect(() => editor?.setEditable(isEditable, false), [editor, isEditable]);

  useEffect(() => {
    if (!editor) return;
    const readText = () => dispatch(textRead(objectsIn(editor.state.doc).map(({ id }) => id)));
    const readSelection = (change?: { transaction: Transaction }) => {
      // The cursor stands behind what was just placed, while its panel is shown.
      const placed = change?.transaction.getMeta(OWN_TETHER) as string | undefined;
      dispatch(objectSelected(placed ?? selectedObject(editor.state)));
    };
    readText();
    editor.on('transaction', readText);
    editor.on('selectionUpdate', readSelection);
    onEditorNow.current(editor);
    return () => {
      editor.off('transaction', readText);
      editor.off('selectionUpdate', readSelection);
      onEditorNow.current(null);
    };
  }, [editor, dispatch]);

  if (!editor) return null;
  return (
    <OnSheets saved={saved} editor={editor} flow={flow} faces={faces} gap={gap} scale={scale} />
  );
}

function OnSheets(props: {
  saved: DocumentDetail;
  editor: Editor;
  flow: PageFlow;
  faces: Map<string, TableFace>;
  gap: number;
  scale: number;
}) {
  const { saved, editor, flow, faces, gap, scale } = props;
  const said = useEditorState({
    editor,
    selector: (now) => JSON.stringify(readSettings(now.editor)),
  });
  const settings = useMemo(() => JSON.parse(said) as DocumentSettings, [said]);
  const sheet = useMemo(() => sheetSize(settings.paper), [settings.paper]);
  const { margins } = settings.paper;
  const { count } = usePages(flow);
  useEffect(() => {
    flow.setSheet(sheet, (margins.top + margins.bottom) * PIXELS_PER_MM, gap);
  }, [flow, sheet, margins, gap]);
  const around = useMemo(
    () => ({ id: saved.id, settings, sheet, flow, faces }),
    [saved.id, settings, sheet, flow, faces],
  );
  const side = (millimetres: number) => millimetres * PIXELS_PER_MM;
  return (
    <DocumentContext.Provider value={around}>
      <div
        className="mx-auto"
        style={{
          width: sheet.width * scale,
          height: (count * (sheet.height + gap) - gap) * scale,
        }}
      >
        <div
          className="relative"
          style={{
            width: sheet.width,
            height: count * (sheet.height + gap) - gap,
            ...(scale === 1
              ? {}
              : {
                  transform: `scale(${scale})`,
                  transformOrigin: '0 0',
                  '--paper-scale': Math.min(1, scale),
                }),
          }}
        >
          <Sheets
            documentId={saved.id}
            name={saved.name}
            settings={settings}
            sheet={sheet}
            count={count}
            gap={gap}
          />
          <div
            className="relative"
            style={{
              paddingTop: side(margins.top),
              paddingLeft: side(margins.left),
              paddingRight: side(margins.right),
              ...({ '--page-head': `${side(margins.top)}px` } as CSSProperties),
            }}
          >
            <EditorContent editor={editor} />
          </div>
        </div>
      </div>
    </DocumentContext.Provider>
  );
}
