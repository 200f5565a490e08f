import { HEADING_LEVELS } from '@tether/documents';
import { type Editor, useEditorState } from '@tiptap/react';
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
import { LinkField } from '../../documents/writing/LinkField.tsx';
import { IconButton } from '../../ui/IconButton.tsx';

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
export function LettersBar(props: { editor: Editor; onAsking: (isAsking: boolean) => void }) {
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
