import {
  HEADING_LEVELS,
  isLead,
  PLACED_INLINE,
  type RichBlock,
  type RichInline,
  richOf,
  richSchema,
  type TextThing,
} from '@tether/documents';
import { Node } from '@tiptap/core';
import { TextSelection } from '@tiptap/pm/state';
import type { EditorView } from '@tiptap/pm/view';
import {
  type Editor,
  EditorContent,
  type NodeViewProps,
  NodeViewWrapper,
  ReactNodeViewRenderer,
  useEditor,
} from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import {
  type CSSProperties,
  createContext,
  type RefObject,
  useContext,
  useEffect,
  useLayoutEffect,
  useRef,
} from 'react';
import { ClickedPlace } from '../../documents/writing/clicked-place.ts';
import { Subscript, Superscript } from '../../documents/writing/letters.ts';
import { followsLink, LINKS } from '../../documents/writing/links.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import type { TextCaret } from '../surface/page-texts.ts';
import { InlineValue } from './InlineValue.tsx';
import { LettersBar } from './LettersBar.tsx';

interface Around {
  documentId: string;
  surface: PageSurface;
}
const PageAround = createContext<Around | null>(null);

/** A value in the line that is written in. */
const InlineNode = Node.create({
  name: PLACED_INLINE,
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  draggable: true,
  addAttributes: () => ({
    tetherId: {
      default: null,
      parseHTML: (element: HTMLElement) => element.getAttribute('data-value'),
      renderHTML: ({ tetherId }) => ({ 'data-value': tetherId as string }),
    },
  }),
  parseHTML: () => [{ tag: 'span[data-value]' }],
  renderHTML: ({ HTMLAttributes }) => ['span', HTMLAttributes],
  addNodeView: () => ReactNodeViewRenderer(InlineInLine, { as: 'span' }),
});

function InlineInLine({ node, selected }: NodeViewProps) {
  const around = useContext(PageAround);
  return (
    <NodeViewWrapper as="span" className={selected ? 'outline-2 outline-rope' : ''}>
      {around && <InlineValue {...around} tetherId={String(node.attrs.tetherId)} />}
    </NodeViewWrapper>
  );
}

const EXTENSIONS = [
  StarterKit.configure({
    heading: { levels: [...HEADING_LEVELS] },
    blockquote: false,
    code: false,
    codeBlock: false,
    horizontalRule: false,
    link: false,
    trailingNode: false,
    dropcursor: { color: '#b9772a', width: 2 },
  }),
  LINKS,
  ClickedPlace,
  Subscript,
  Superscript,
  InlineNode,
];

/** How long nobody types until what is written so far is kept. */
const PAUSE_MS = 1_000;

/** The blocks that are written, as they are kept; null for none that can be kept. */
function blocksIn(editor: Editor): RichBlock[] | null {
  const read = richSchema.safeParse(withoutRest(editor.getJSON().content ?? []));
  return read.success ? read.data : null;
}

interface Mark {
  type: string;
  attrs?: { href?: unknown };
}

/** A mark as it is kept. What leads nowhere, as an address within another site does, is words alone. */
function keptMark({ type, attrs }: Mark): Mark[] {
  if (type !== 'link') return [{ type }];
  const { href } = attrs ?? {};
  return typeof href === 'string' && href.length <= 2_000 && isLead(href)
    ? [{ type, attrs: { href } }]
    : [];
}

/** What an editor says of nodes beyond what is kept of them. */
function withoutRest(nodes: readonly unknown[]): unknown[] {
  return nodes.map((each) => {
    const { type, text, marks, attrs, content } = each as Record<string, unknown>;
    return {
      type,
      ...(text === undefined ? {} : { text }),
      ...(marks ? { marks: (marks as Mark[]).flatMap(keptMark) } : {}),
      ...(type === PLACED_INLINE || type === 'heading' ? { attrs } : {}),
      ...(content ? { content: withoutRest(content as unknown[]) } : {}),
    };
  });
}

/** A text of a page while it is written in: letters of other kinds, headings, lists, and values in the line. */
export function RichWriting(props: {
  documentId: string;
  surface: PageSurface;
  thing: TextThing;
  style: CSSProperties;
  /** Told when it is done. */
  onDone: () => void;
}) {
  const { documentId, surface, thing, style, onDone } = props;
  const first = useRef(thing);
  /** The text as it was kept last, and the name of this writing once anything of it was. */
  const kept = useRef({ as: thing, writing: null as string | null });
  const frame = useRef<HTMLDivElement>(null);
  const isDone = useRef(false);
  /** Whether an address is asked for: the box for it takes the keys and the focus meanwhile. */
  const isAsking = useRef(false);
  const doneNow = useRef<(isTaken: boolean, isLeft?: boolean) => void>(() => undefined);
  const editor = useWordsEditor(first.current, () => doneNow.current(true));
  /** `isLeft`: the page is what people go on with, not something that could go into the line. */
  const done = (isTaken: boolean, isLeft = false) => {
    if (isDone.current || !editor) return;
    isDone.current = true;
    const { as, writing } = kept.current;
    const blocks = isTaken ? blocksIn(editor) : null;
    // Who gives up gets back what was there.
    surface.texts.written(as, blocks ?? (writing ? richOf(first.current) : null), writing);
    if (blocks && !isLeft) surface.texts.setCaret(caretOf(editor, thing.id, blocks));
    onDone();
  };
  useKeeping(editor, surface, kept, isDone);
  // At once: what is typed in the next moment is meant for it, and would be taken for keys of the page.
  useLayoutEffect(() => {
    if (!editor) return;
    editor.view.dom.focus({ preventScroll: true });
    selectWords(editor.view);
  }, [editor]);
  doneNow.current = done;
  // Whoever leaves the page has written what is there.
  useEffect(() => () => doneNow.current(true, true), []);
  if (!editor) return null;
  return (
    <PageAround.Provider value={{ documentId, surface }}>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: keys and presses are those of the text within */}
      <div
        ref={frame}
        className="page-words relative size-full min-h-full bg-white outline-1 outline-rope"
        style={style}
        onPointerDown={(event) => event.stopPropagation()}
        onDoubleClick={(event) => event.stopPropagation()}
        onCopy={(event) => event.stopPropagation()}
        onCut={(event) => event.stopPropagation()}
        onPaste={(event) => event.stopPropagation()}
        onDrop={(event) => event.stopPropagation()}
        onBlur={({ relatedTarget, target }) => {
          if (isAsking.current || !frame.current?.contains(target)) return;
          // The buttons over the text are a part of writing.
          const to = relatedTarget as Element | null;
          if (!frame.current.contains(to)) done(true, Boolean(to?.closest('.page-paper')));
        }}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (isAsking.current) return;
          if (event.key === 'Escape') done(false);
        }}
      >
        <LettersBar
          editor={editor}
          onAsking={(now) => {
            isAsking.current = now;
          }}
        />
        <EditorContent editor={editor} className="size-full" />
      </div>
    </PageAround.Provider>
  );
}

/** An editor with the words of a text. `onEnter`: they are written. */
function useWordsEditor(thing: TextThing, onEnter: () => void): Editor | null {
  return useEditor({
    // One that is made while rendering is thrown away by the library when the page is not shown within a millisecond.
    immediatelyRender: false,
    extensions: EXTENSIONS,
    content: { type: 'doc', content: richOf(thing) },
    editorProps: {
      attributes: { 'aria-label': 'Words', role: 'textbox', 'aria-multiline': 'true' },
      // Ends writing, before the library takes it for the end of a line.
      handleKeyDown: (view, { key, ctrlKey, metaKey }) => {
        if (!ctrlKey && !metaKey) return false;
        if (key === 'Enter') onEnter();
        else if (key === 'a') selectWords(view);
        else return false;
        return true;
      },
      handleClick: (view, _at, event) => followsLink(view, event),
      // Words of other programs come as words: their sizes and colours are those of the text.
      transformPastedHTML: (html) => html.replace(/<(style|script)[\s\S]*?<\/\1>/gi, ''),
    },
  });
}

/** Keeps what is being written in each pause: it must not be lost with the window. */
function useKeeping(
  editor: Editor | null,
  surface: PageSurface,
  kept: RefObject<{ as: TextThing; writing: string | null }>,
  isDone: RefObject<boolean>,
): void {
  useEffect(() => {
    if (!editor) return;
    let pause: ReturnType<typeof setTimeout> | undefined;
    const keep = () => {
      const blocks = isDone.current ? null : blocksIn(editor);
      const { as } = kept.current;
      const writing = kept.current.writing ?? `writing ${crypto.randomUUID()}`;
      if (!blocks || !surface.texts.keepWriting(as, blocks, writing)) return;
      const now = surface.pages.thing(as.id);
      if (now?.kind === 'text') kept.current = { as: now, writing };
    };
    const changed = () => {
      clearTimeout(pause);
      pause = setTimeout(keep, PAUSE_MS);
    };
    editor.on('update', changed);
    window.addEventListener('pagehide', keep);
    return () => {
      clearTimeout(pause);
      editor.off('update', changed);
      window.removeEventListener('pagehide', keep);
    };
  }, [editor, surface, kept, isDone]);
}

/** Selects all words, not the whole text: what is typed over that would be no heading or list, whatever was chosen for it. */
function selectWords(view: EditorView): void {
  const { doc, tr } = view.state;
  view.dispatch(
    tr.setSelection(TextSelection.between(doc.resolve(0), doc.resolve(doc.content.size))),
  );
}

/** Where something can be put into the text afterwards: where the caret was. */
function caretOf(editor: Editor, of: string, blocks: RichBlock[]): TextCaret {
  const { state } = editor;
  return {
    of,
    blocks,
    with: (inline: RichInline) => {
      const node = state.schema.nodeFromJSON(inline);
      const next = state.apply(state.tr.replaceSelectionWith(node, false));
      const read = richSchema.safeParse(withoutRest(next.doc.toJSON().content));
      return read.success ? read.data : null;
    },
  };
}
