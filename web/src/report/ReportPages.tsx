import type { DocumentDetail } from '@tether/contract';
import type { TableFace } from '@tether/core';
import {
  CAPTION_NODE,
  CAPTIONED_NODE,
  isPlacedNode,
  kindOf,
  type ReportSettings,
  reportSettings,
  sharedText,
} from '@tether/documents';
import { type EditorState, NodeSelection, type Transaction } from '@tiptap/pm/state';
import { type Editor, useEditor } from '@tiptap/react';
import { useContext, useEffect, useRef, useState } from 'react';
import * as Y from 'yjs';
import { CommentsAround } from '../documents/comments/comments.ts';
import { Dressings } from '../documents/object/dressings.ts';
import type { SharedWith } from '../documents/writing/shared-document.ts';
import { useTethersQuery } from '../state/api.ts';
import { useAppDispatch, useAppStore } from '../state/store.ts';
import { objectSelected, textRead, threadShown } from '../state/workbench-slice.ts';
import { useLatest } from '../ui/useLatest.ts';
import { type ComingIn, editorProperties } from './editor-properties.ts';
import { OnSheets } from './OnSheets.tsx';
import { PageFlow } from './pages/page-flow.ts';
import { reportExtensions } from './report-extensions.ts';
import { ReportSurface } from './report-surface.ts';
import { useShownObjects } from './text/copying/useShownObjects.ts';
import { OWN_TETHER } from './text/shared/transaction-marks.ts';

interface PagesProps extends ComingIn {
  saved: Pick<DocumentDetail, 'id' | 'name'>;
  shared: SharedWith;
  isEditable: boolean;
  /** Pixels between two sheets: none in print. */
  gap: number;
  /** How large the sheets are drawn; 1 as in print. */
  scale?: number;
  onSurface: (surface: ReportSurface | null) => void;
  /** Told how wide the widest sheet is. */
  onWidth?: (width: number) => void;
  /** Told of words that one wrote and somebody else took out at the same time. */
  onLost?: (words: string) => void;
}

/** The text of a report on its sheets: the same on the screen and in print. */
export function ReportPages(props: PagesProps) {
  const { saved, shared, isEditable, gap, scale = 1 } = props;
  const { doc } = shared;
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const { data: tethers = [] } = useTethersQuery(saved.id);
  const known = useLatest(new Set(tethers.map(({ id }) => id)));
  const told = useLatest(props);
  const editorNow = useRef<Editor | null>(null);
  const [flow] = useState(() => new PageFlow(settingsOf(doc).paper));
  const [faces] = useState(() => new Map<string, TableFace>());
  const [dressings] = useState(() => new Dressings(doc));
  const comments = useContext(CommentsAround);
  const lookUp = useShownObjects(saved.id, faces, editorNow);

  const editor = useEditor(
    {
      // One that is made while rendering is thrown away by the library when the page is not shown within a millisecond.
      immediatelyRender: false,
      extensions: reportExtensions({
        ...{ shared, flow, dressings, comments, lookUp },
        isOwn: (id) => known.current.has(id),
        view: () => editorNow.current?.view ?? null,
        onThread: (thread) => dispatch(threadShown(thread)),
        onLost: (words) => told.current.onLost?.(words),
      }),
      editable: isEditable,
      // Whoever opens an empty report is about to write.
      autofocus: isEditable && isBlank(doc) ? 'end' : false,
      shouldRerenderOnTransaction: false,
      editorProps: editorProperties(saved, store, () => told.current),
    },
    [doc],
  );

  editorNow.current = editor;
  useEffect(() => editor?.setEditable(isEditable, false), [editor, isEditable]);

  useEffect(() => {
    // One that belonged to another text is gone by now; the next rendering brings its own.
    if (!editor || editor.isDestroyed) return;
    const surface = new ReportSurface(editor, doc, dressings);
    // This runs at every letter and every move of the cursor: told is only what is new.
    const readText = () => {
      const ids = surface.objects();
      if (ids.join() !== store.getState().workbench.inText.join()) dispatch(textRead(ids));
    };
    const readSelection = (change?: { transaction: Transaction }) => {
      // The cursor stands behind what was just placed, while its panel is shown.
      const placed = change?.transaction.getMeta(OWN_TETHER) as string | undefined;
      const next = placed ?? selectedObject(editor.state);
      const { selected, hasRefusedLetters } = store.getState().workbench;
      if (next !== selected || hasRefusedLetters) dispatch(objectSelected(next));
    };
    readText();
    editor.on('transaction', readText);
    editor.on('selectionUpdate', readSelection);
    told.current.onSurface(surface);
    return () => {
      editor.off('transaction', readText);
      editor.off('selectionUpdate', readSelection);
      surface.close();
      told.current.onSurface(null);
    };
  }, [editor, doc, dressings, dispatch, store, told]);

  if (!editor) return null;
  return (
    <OnSheets
      saved={saved}
      editor={editor}
      flow={flow}
      faces={faces}
      dressings={dressings}
      gap={gap}
      scale={scale}
      onWidth={props.onWidth}
    />
  );
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

/** Whether a text has nothing but its title yet. */
function isBlank(doc: Y.Doc): boolean {
  const [first, ...rest] = sharedText(doc).toArray() as Y.XmlElement[];
  const isTitle = first?.nodeName === 'heading' || first?.nodeName === 'paragraph';
  // An empty line may have its text already, which is empty.
  const isEmptyLine = (each: Y.XmlElement) =>
    each.nodeName === 'paragraph' &&
    each.toArray().every((inner) => inner instanceof Y.XmlText && inner.length === 0);
  return isTitle && rest.every(isEmptyLine);
}

/** What is settled for a report as it is opened. */
export function settingsOf(doc: Y.Doc): ReportSettings {
  return reportSettings({ attrs: kindOf('report').shared.settings(doc) });
}
