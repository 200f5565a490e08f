import type { DocumentDetail } from '@tether/contract';
import { PIXELS_PER_MM, sheetSize, type TableFace } from '@tether/core';
import {
  CAPTION_NODE,
  CAPTIONED_NODE,
  isPlacedNode,
  PICTURE_NODE,
  type ReportSettings,
  reportSettings,
  sharedSettings,
  sharedText,
} from '@tether/documents';
import { Extension } from '@tiptap/core';
import {
  type EditorState,
  NodeSelection,
  Plugin,
  TextSelection,
  type Transaction,
} from '@tiptap/pm/state';
import { type Editor, EditorContent, useEditor, useEditorState } from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import { type CSSProperties, useContext, useEffect, useMemo, useRef, useState } from 'react';
import * as Y from 'yjs';
import { CommentsAround } from '../documents/comments/comments.ts';
import { cellKey, cellToType, filledDown } from '../documents/editing/cell-to-type.ts';
import { Dressings } from '../documents/object/dressings.ts';
import { type PastedPage, readPage } from '../documents/pictures/pasted-page.ts';
import { picturesAmong, usePictures } from '../documents/pictures/usePictures.ts';
import type { Anchor } from '../documents/surface.ts';
import { ClickedPlace } from '../documents/writing/clicked-place.ts';
import { Subscript, Superscript } from '../documents/writing/letters.ts';
import { followsLink, LINKS } from '../documents/writing/links.ts';
import type { SharedWith } from '../documents/writing/shared-document.ts';
import { type Incoming, readIncoming } from '../sources/carried.ts';
import { useTethersQuery } from '../state/api.ts';
import { useAppDispatch, useAppStore } from '../state/store.ts';
import { useMayChange } from '../state/useMayChange.ts';
import {
  cellOpened,
  cellPicked,
  lettersRefused,
  objectSelected,
  textRead,
  threadShown,
} from '../state/workbench-slice.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { sheetsOf, widest } from './pages/orientation.ts';
import { PageFlow, SHEET_GAP } from './pages/page-flow.ts';
import { placesOf, Sheets } from './pages/Sheets.tsx';
import { usePages } from './pages/usePages.ts';
import { usePaperScale } from './pages/usePaperScale.ts';
import { ZoomControl } from './pages/ZoomControl.tsx';
import { ReportContext } from './ReportContext.tsx';
import { ReportSurface } from './report-surface.ts';
import { FIXED_TABLE_NODES } from './text/blocks/fixed-table.ts';
import { FootnoteNode } from './text/blocks/footnotes.ts';
import { ContentsNode, PageBreakNode } from './text/blocks/page-nodes.ts';
import { pressOnPaper } from './text/blocks/press-on-paper.ts';
import { Aligned } from './text/blocks/writing-marks.ts';
import { CaptionedNode, CaptionNode, ListNode, ReferenceNode } from './text/captions/captions.ts';
import { commentsPlugin } from './text/comments/comment-places.ts';
import { copyingOut } from './text/copying/copy-out.ts';
import { useShownObjects } from './text/copying/useShownObjects.ts';
import { FindBar } from './text/finding/FindBar.tsx';
import { findingPlugin } from './text/finding/finding.ts';
import { leaveSelected, wholeSelected } from './text/objects/object-commands.ts';
import { insertPicture, PictureNode } from './text/objects/picture-node.ts';
import { PlacedInlineNode, PlacedObjectNode } from './text/objects/placed-object-node.ts';
import { TextRail } from './text/rail/TextRail.tsx';
import { lostWords } from './text/shared/lost-words.ts';
import { quickCommit } from './text/shared/quick-commit.ts';
import { ReportDocument, readSettings } from './text/shared/report-document.ts';
import { SharedText } from './text/shared/shared-text.ts';
import { OWN_TETHER } from './text/shared/transaction-marks.ts';

interface Props {
  saved: DocumentDetail;
  shared: SharedWith;
  onSurface: (surface: ReportSurface | null) => void;
  /** Cells that are pasted, or dropped at a place of the text. */
  onCells: (incoming: Incoming, at?: Anchor) => void;
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

/** A report, open: its text on paper, with the rail for forming it. */
export function ReportScreen({ saved, shared, onSurface, onCells }: Props) {
  const { isAllowed } = useMayChange();
  const [surface, setSurface] = useState<ReportSurface | null>(null);
  const [lost, setLost] = useState<string[]>([]);
  const [isFinding, setFinding] = useState(false);
  const pane = useRef<HTMLDivElement>(null);
  const pictures = usePictures(saved.id, (picture) => {
    if (surface) insertPicture(surface.editor, picture);
  });
  const [paper, setPaper] = useState(() => sheetSize(settingsOf(shared.doc).paper).width);
  const scale = usePaperScale(pane, paper);
  return (
    <div className="relative flex min-h-0 min-w-0 flex-1">
      {isAllowed && surface && (
        <TextRail
          editor={surface.editor}
          surface={surface}
          onFind={() => setFinding(!isFinding)}
          onPictures={(files) => void pictures.takeIn(files)}
        />
      )}
      <div className="relative flex min-w-0 flex-1 flex-col">
        {isAllowed && surface && isFinding && (
          <FindBar
            editor={surface.editor}
            onClose={() => {
              setFinding(false);
              surface.focus();
            }}
          />
        )}
        <div ref={pane} className="min-h-0 min-w-0 flex-1 overflow-auto px-6 py-6" data-scroll>
          <ReportPages
            saved={saved}
            shared={shared}
            isEditable={isAllowed}
            gap={SHEET_GAP}
            scale={scale}
            onWidth={setPaper}
            onCells={onCells}
            onPictures={(files) => void pictures.takeIn(files)}
            onPage={pictures.takePage}
            onLost={(words) => setLost((all) => [...all, words])}
            onSurface={(now) => {
              setSurface(now);
              onSurface(now);
            }}
          />
        </div>
        <ZoomControl scale={scale} />
        {pictures.coming > 0 && (
          <p
            role="status"
            className="absolute bottom-4 left-4 z-10 rounded-box border border-hairline bg-white px-4 py-2 shadow-lg"
          >
            {pictures.coming === 1
              ? 'Taking in the picture …'
              : `Taking in ${pictures.coming} pictures …`}
          </p>
        )}
        {pictures.problem && (
          <div className="absolute inset-x-4 bottom-4 z-10 flex items-start gap-3 bg-white shadow-lg">
            <FaultNote fault={pictures.problem} className="min-w-0 flex-1" />
            <Button onClick={pictures.forget}>Close</Button>
          </div>
        )}
        {surface && lost[0] !== undefined && (
          <LostWords
            words={lost[0]}
            onPutBack={() => surface.addWords(lost[0]!)}
            onDone={() => setLost((all) => all.slice(1))}
          />
        )}
      </div>
    </div>
  );
}

/** Tells that somebody else took out what one was writing in, and gives it back. */
function LostWords(props: { words: string; onPutBack: () => void; onDone: () => void }) {
  const { words, onPutBack, onDone } = props;
  return (
    <div
      role="alert"
      className="absolute inset-x-4 bottom-4 z-10 flex items-center gap-3 rounded-box border border-adrift/40 bg-white px-4 py-2 shadow-lg"
    >
      <p className="min-w-0 flex-1">
        <b className="text-adrift">Somebody took out the paragraph that you were writing in.</b> It
        said: <span className="line-clamp-2">“{words}”</span>
      </p>
      <Button
        kind="primary"
        onClick={() => {
          onPutBack();
          onDone();
        }}
      >
        Put it back at the cursor
      </Button>
      <Button onClick={onDone}>Let it go</Button>
    </div>
  );
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
function settingsOf(doc: Y.Doc): ReportSettings {
  return reportSettings({ attrs: sharedSettings(doc).toJSON() });
}

interface PagesProps {
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
  onCells?: Props['onCells'];
  /** Pictures that are pasted or dropped: they go where the cursor stands. */
  onPictures?: (files: File[]) => void;
  /** A page that is pasted with pictures in it: gives it with those that the server took. */
  onPage?: (page: PastedPage) => Promise<string>;
  /** Told of words that one wrote and somebody else took out at the same time. */
  onLost?: (words: string) => void;
}

/** The text of a report on its sheets: the same on the screen and in print. */
export function ReportPages(props: PagesProps) {
  const { saved, shared, isEditable, gap, scale = 1, onSurface } = props;
  const { doc, provider } = shared;
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const { data: tethers = [] } = useTethersQuery(saved.id);
  const known = useRef(new Set<string>());
  known.current = new Set(tethers.map(({ id }) => id));
  const onSurfaceNow = useRef(onSurface);
  onSurfaceNow.current = onSurface;
  const onCellsNow = useRef(props.onCells);
  onCellsNow.current = props.onCells;
  const onPicturesNow = useRef(props.onPictures);
  onPicturesNow.current = props.onPictures;
  const onPageNow = useRef(props.onPage);
  onPageNow.current = props.onPage;
  const onLostNow = useRef(props.onLost);
  onLostNow.current = props.onLost;
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
      extensions: [
        ReportDocument,
        StarterKit.configure({
          document: false,
          heading: { levels: [1, 2, 3] },
          code: false,
          codeBlock: false,
          link: false,
          // These come with the shared text: of what others write there is no undo here, and no line put in.
          undoRedo: false,
          trailingNode: false,
          dropcursor: { color: '#b9772a', width: 2 },
        }),
        Aligned,
        LINKS,
        ClickedPlace,
        Subscript,
        Superscript,
        Extension.create({
          name: 'finding',
          addProseMirrorPlugins: () => [findingPlugin()],
        }),
        SharedText.configure({ doc, provider }),
        PlacedObjectNode.configure({ isOwn: (id) => known.current.has(id), dressings }),
        PlacedInlineNode,
        CaptionedNode,
        CaptionNode,
        ReferenceNode,
        ListNode,
        ContentsNode,
        PageBreakNode,
        PictureNode,
        FootnoteNode,
        ...FIXED_TABLE_NODES,
        Extension.create({
          name: 'pages',
          addProseMirrorPlugins: () => [
            flow.plugin(),
            flow.insets(),
            quickCommit(),
            ...(comments
              ? [commentsPlugin(comments, (thread) => dispatch(threadShown(thread)))]
              : []),
          ],
        }),
        Extension.create({
          name: 'lostWords',
          addProseMirrorPlugins: () => [
            lostWords({
              doc,
              isUnsent: () => provider?.hasUnsyncedChanges ?? false,
              onLost: (words) => onLostNow.current?.(words),
            }),
          ],
        }),
        Extension.create({
          name: 'copyingOut',
          // Before what the editor's library does when text is copied.
          priority: 1000,
          addProseMirrorPlugins() {
            const view = () => editorNow.current?.view ?? null;
            return [
              new Plugin({
                props: copyingOut(this.editor.schema, view, lookUp, (id) => dressings.of(id)),
              }),
            ];
          },
        }),
      ],
      editable: isEditable,
      // Whoever opens an empty report is about to write.
      autofocus: isEditable && isBlank(doc) ? 'end' : false,
      shouldRerenderOnTransaction: false,
      editorProps: {
        attributes: {
          class: 'paper-text',
          role: 'textbox',
          'aria-multiline': 'true',
          'aria-label': `Text of ${saved.name}`,
        },
        // An object is not written over: it says how it is changed instead.
        handleTextInput: (view, _from, _to, letters) => {
          const whole = wholeSelected(view.state);
          if (!whole) return false;
          // A picture is not written in: who writes goes on behind it.
          if (whole.node.type.name === PICTURE_NODE) {
            leaveSelected(view);
            view.dispatch(view.state.tr.insertText(letters));
            return true;
          }
          // Into a cell that was unlocked they are typed; over an object nothing is.
          const open = cellToType(store.getState(), saved.id);
          dispatch(open ? cellOpened({ ...open, letters }) : lettersRefused());
          return true;
        },
        handleKeyDown: (view, event) => {
          // Enter goes on behind it, as behind any line.
          const { key, shiftKey, ctrlKey, metaKey, altKey } = event;
          if (!view.editable || !wholeSelected(view.state) || shiftKey || altKey) return false;
          if (ctrlKey || metaKey) {
            const filled = key === 'd' ? filledDown(store.getState(), saved.id) : null;
            if (filled) dispatch(cellOpened(filled));
            return filled !== null;
          }
          // A cell that was unlocked is gone through and opened as in any grid.
          const act = cellKey(store.getState(), saved.id, key);
          if (act) {
            dispatch('pick' in act ? cellPicked(act.pick) : cellOpened(act.open));
            return true;
          }
          if (key !== 'Enter') return false;
          leaveSelected(view);
          return true;
        },
        handleClick: (view, _position, event) => followsLink(view, event),
        handleDOMEvents: {
          // Letters that are put together from several keys cannot be refused any more: they go behind it.
          compositionstart: (view) => leaveSelected(view),
        },
        handlePaste: (view, event) => {
          leaveSelected(view);
          const pictures = picturesAmong(event.clipboardData);
          if (pictures.length > 0 && view.editable && onPicturesNow.current) {
            onPicturesNow.current(pictures);
            return true;
          }
          const incoming = event.clipboardData && readIncoming(event.clipboardData);
          if (incoming && onCellsNow.current) {
            onCellsNow.current(incoming);
            return true;
          }
          const page = readPage(event.clipboardData?.getData('text/html') ?? '');
          if (!page || !view.editable || !onPageNow.current) return false;
          // Without pictures there is nothing to wait for.
          if (page.pictures.length + page.elsewhere === 0) view.pasteHTML(page.html);
          else
            void onPageNow.current(page).then((html) => view.isDestroyed || view.pasteHTML(html));
          return true;
        },
        handleDrop: (view, event) => {
          const pictures = picturesAmong(event.dataTransfer);
          if (pictures.length > 0 && view.editable && onPicturesNow.current) {
            const place = view.posAtCoords({ left: event.clientX, top: event.clientY })?.pos;
            if (place !== undefined) {
              const { tr } = view.state;
              view.dispatch(tr.setSelection(TextSelection.near(tr.doc.resolve(place))));
            }
            onPicturesNow.current(pictures);
            event.preventDefault();
            return true;
          }
          const incoming = event.dataTransfer && readIncoming(event.dataTransfer);
          if (incoming?.kind !== 'carried' || !onCellsNow.current) return false;
          const at = view.posAtCoords({ left: event.clientX, top: event.clientY })?.pos;
          onCellsNow.current(incoming, at);
          event.preventDefault();
          return true;
        },
      },
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
    onSurfaceNow.current(surface);
    return () => {
      editor.off('transaction', readText);
      editor.off('selectionUpdate', readSelection);
      surface.close();
      onSurfaceNow.current(null);
    };
  }, [editor, doc, dressings, dispatch, store]);

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

function OnSheets(props: {
  saved: PagesProps['saved'];
  dressings: Dressings;
  editor: Editor;
  flow: PageFlow;
  faces: Map<string, TableFace>;
  gap: number;
  scale: number;
  onWidth: ((width: number) => void) | undefined;
}) {
  const { saved, editor, flow, faces, dressings, gap, scale, onWidth } = props;
  const said = useEditorState({
    editor,
    selector: (now) => JSON.stringify(readSettings(now.editor)),
  });
  const settings = useMemo(() => JSON.parse(said) as ReportSettings, [said]);
  const sheet = useMemo(() => sheetSize(settings.paper), [settings.paper]);
  const { margins } = settings.paper;
  const { sheets: turned } = usePages(flow);
  const sheets = useMemo(() => sheetsOf(settings.paper), [settings.paper]);
  const places = placesOf(sheets, turned, gap);
  const width = widest(sheets, turned);
  const lowest = places.at(-1)!;
  const height = lowest.top + lowest.height;
  useEffect(() => {
    flow.setPaper(settings.paper, gap);
  }, [flow, settings.paper, gap]);
  const onWidthNow = useRef(onWidth);
  onWidthNow.current = onWidth;
  useEffect(() => onWidthNow.current?.(width), [width]);
  const around = useMemo(
    () => ({ id: saved.id, settings, sheet, flow, faces, dressings }),
    [saved.id, settings, sheet, flow, faces, dressings],
  );
  const side = (millimetres: number) => millimetres * PIXELS_PER_MM;
  return (
    <ReportContext.Provider value={around}>
      <div
        className="mx-auto"
        style={{
          width: width * scale,
          height: height * scale,
        }}
      >
        {/* biome-ignore lint/a11y/noStaticElementInteractions: the text itself has the keys; this is for the mouse alone */}
        <div
          className="relative"
          onMouseDown={({ nativeEvent }) => pressOnPaper(editor.view, nativeEvent)}
          style={{
            width,
            height,
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
            sheets={sheets}
            turned={turned}
            gap={gap}
          />
          <div
            className="relative"
            data-paper
            style={{
              paddingTop: side(margins.top),
              paddingLeft: side(margins.left),
              paddingRight: side(margins.right),
              ...({ '--page-head': `${side(margins.top)}px` } as CSSProperties),
            }}
          >
            <div lang={settings.language}>
              <EditorContent editor={editor} spellCheck />
            </div>
          </div>
        </div>
      </div>
    </ReportContext.Provider>
  );
}
