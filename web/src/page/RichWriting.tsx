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
import {
  type Editor,
  EditorContent,
  type NodeViewProps,
  NodeViewWrapper,
  ReactNodeViewRenderer,
  useEditor,
  useEditorState,
} from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import {
  Bold,
  Heading1,
  Heading2,
  Heading3,
  Italic,
  List,
  ListOrdered,
  Strikethrough,
  Subscript as SubscriptIcon,
  Superscript as SuperscriptIcon,
  Underline,
} from 'lucide-react';
import {
  type CSSProperties,
  createContext,
  useContext,
  useEffect,
  useLayoutEffect,
  useRef,
} from 'react';
import { ClickedPlace } from '../documents/writing/clicked-place.ts';
import { LinkField } from '../documents/writing/LinkField.tsx';
import { Subscript, Superscript } from '../documents/writing/letters.ts';
import { followsLink, LINKS } from '../documents/writing/links.ts';
import { IconButton } from '../ui/IconButton.tsx';
import { InlineValue } from './InlineValue.tsx';
import type { PageSurface } from './page-surface.ts';
import type { TextCaret } from './page-texts.ts';

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
  const editor = useEditor({
    // One that is made while rendering is thrown away by the library when the page is not shown within a millisecond.
    immediatelyRender: false,
    extensions: EXTENSIONS,
    content: { type: 'doc', content: richOf(first.current) },
    editorProps: {
      attributes: { 'aria-label': 'Words', role: 'textbox', 'aria-multiline': 'true' },
      // Ends writing, before the library takes it for the end of a line.
      handleKeyDown: (_view, event) => {
        const isEnd = event.key === 'Enter' && (event.ctrlKey || event.metaKey);
        if (isEnd) doneNow.current(true);
        return isEnd;
      },
      handleClick: (view, _at, event) => followsLink(view, event),
      // Words of other programs come as words: their sizes and colours are those of the text.
      transformPastedHTML: (html) => html.replace(/<(style|script)[\s\S]*?<\/\1>/gi, ''),
    },
  });
  /** `isLeft`: the page is what people go on with, not something that could go into the line. */
  const done = (isTaken: boolean, isLeft = false) => {
    if (isDone.current || !editor) return;
    isDone.current = true;
    const { as, writing } = kept.current;
    const blocks = isTaken ? blocksIn(editor) : null;
    // Who gives up gets back what was there.
    surface.written(as, blocks ?? (writing ? richOf(first.current) : null), writing);
    if (blocks && !isLeft) surface.setCaret(caretOf(editor, thing.id, blocks));
    onDone();
  };
  // What is being written is kept in each pause: it must not be lost with the window.
  useEffect(() => {
    if (!editor) return;
    let pause: ReturnType<typeof setTimeout> | undefined;
    const keep = () => {
      const blocks = isDone.current ? null : blocksIn(editor);
      const writing = kept.current.writing ?? `writing ${crypto.randomUUID()}`;
      if (!blocks || !surface.keepWriting(kept.current.as, blocks, writing)) return;
      const now = surface.pages.thing(thing.id);
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
  }, [editor, surface, thing.id]);
  // At once: what is typed in the next moment is meant for it, and would be taken for keys of the page.
  useLayoutEffect(() => {
    if (!editor) return;
    editor.view.dom.focus({ preventScroll: true });
    // All words, not the whole text: what is typed over that would be no heading or list, whatever was chosen for it.
    editor.commands.setTextSelection({ from: 0, to: editor.state.doc.content.size });
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

/** Between the buttons and the edge of what is seen of the page, pixels. */
const EDGE = 6;

/**
 * Keeps the buttons in what is seen of the page: moved in from its right edge, or under the text. Over a text that is turned they
 * stay where they are.
 */
function keepInView(bar: HTMLElement | null): (() => void) | undefined {
  const pane = bar?.closest('[data-scroll]');
  if (!bar || !pane) return undefined;
  const place = () => {
    bar.style.setProperty('--in-view', 'translate(0)');
    const [at, seen] = [bar.getBoundingClientRect(), pane.getBoundingClientRect()];
    const scale = at.width / bar.offsetWidth;
    if (Math.abs(at.height / bar.offsetHeight - scale) > 0.1) return;
    const right = Math.min(0, seen.left + pane.clientWidth - EDGE - at.right);
    // Where there is no room for all of them, the first are seen.
    const across = Math.max(right, seen.left + EDGE - at.left);
    // Under the text where there is no room over it; over its first lines only where there is neither.
    const lacking = Math.max(0, seen.top + EDGE - at.top);
    const under = bar.parentElement!.getBoundingClientRect().bottom + EDGE;
    const isUnder = lacking > 0 && under + at.height < seen.bottom;
    const down = isUnder ? under - at.top : lacking;
    bar.style.setProperty('--in-view', `translate(${across / scale}px, ${down / scale}px)`);
  };
  place();
  const size = new ResizeObserver(place);
  size.observe(pane);
  pane.addEventListener('scroll', place);
  return () => {
    size.disconnect();
    pane.removeEventListener('scroll', place);
  };
}

/** The letters, headings and lists of the text that is written in. */
function LettersBar(props: { editor: Editor; onAsking: (isAsking: boolean) => void }) {
  const { editor, onAsking } = props;
  const on = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      bold: now.isActive('bold'),
      italic: now.isActive('italic'),
      underline: now.isActive('underline'),
      strike: now.isActive('strike'),
      subscript: now.isActive('subscript'),
      superscript: now.isActive('superscript'),
      heading: HEADING_LEVELS.find((level) => now.isActive('heading', { level })),
      bullets: now.isActive('bulletList'),
      numbers: now.isActive('orderedList'),
    }),
  });
  const chain = () => editor.chain().focus();
  const buttons = [
    { icon: Bold, label: 'Bold', isOn: on.bold, act: () => chain().toggleBold().run() },
    { icon: Italic, label: 'Italic', isOn: on.italic, act: () => chain().toggleItalic().run() },
    {
      icon: Underline,
      label: 'Underlined',
      isOn: on.underline,
      act: () => chain().toggleUnderline().run(),
    },
    {
      icon: Strikethrough,
      label: 'Struck',
      isOn: on.strike,
      act: () => chain().toggleStrike().run(),
    },
    {
      icon: SubscriptIcon,
      label: 'Lowered',
      isOn: on.subscript,
      act: () => chain().toggleMark('subscript').run(),
    },
    {
      icon: SuperscriptIcon,
      label: 'Raised',
      isOn: on.superscript,
      act: () => chain().toggleMark('superscript').run(),
    },
    ...HEADING_LEVELS.map((level) => ({
      icon: [Heading1, Heading2, Heading3][level - 1]!,
      label: `Heading ${level}`,
      isOn: on.heading === level,
      act: () => chain().toggleHeading({ level }).run(),
    })),
    { icon: List, label: 'Bullets', isOn: on.bullets, act: () => chain().toggleBulletList().run() },
    {
      icon: ListOrdered,
      label: 'Numbers',
      isOn: on.numbers,
      act: () => chain().toggleOrderedList().run(),
    },
  ];
  return (
    <div
      ref={keepInView}
      role="toolbar"
      aria-label="Letters"
      className="letters-bar not-printed absolute bottom-full left-0 z-20 mb-1 flex rounded-box border border-hairline bg-white p-0.5 shadow-paper"
      // A press on a button leaves the caret where it is.
      onMouseDown={(event) => event.preventDefault()}
    >
      {buttons.map(({ icon, label, isOn, act }) => (
        <IconButton
          key={label}
          icon={icon}
          label={label}
          isOn={isOn}
          className="size-7"
          onClick={act}
        />
      ))}
      <LinkField editor={editor} className="size-7" onAsking={onAsking} />
    </div>
  );
}
