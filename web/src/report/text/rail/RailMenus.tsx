import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { CONTENTS_NODE, LIST_NODE, PAGE_BREAK_NODE } from '@tether/documents';
import { type Editor, useEditorState } from '@tiptap/react';
import {
  Check,
  type LucideIcon,
  Omega,
  TableOfContents,
  TextAlignCenter,
  TextAlignEnd,
  TextAlignJustify,
  TextAlignStart,
  Underline,
} from 'lucide-react';
import type { ReactNode } from 'react';
import { IconButton } from '../../../ui/IconButton.tsx';
import type { Orientation } from '../../pages/orientation.ts';
import { insertFootnote, mayHaveNote } from '../blocks/footnotes.ts';
import { insertBlock } from '../blocks/page-nodes.ts';
import { type Alignment, SIGNS } from '../blocks/writing-marks.ts';

const MENU =
  'z-30 max-h-96 w-64 overflow-auto rounded-box border border-hairline bg-white py-1 shadow-paper';
const ITEM = 'flex w-full items-baseline gap-2 px-3 py-1 text-left data-focus:bg-mist';

/** A row of a menu that can be on. */
function Row(props: { isOn: boolean; onClick: () => void; children: ReactNode }) {
  return (
    <MenuItem>
      <button
        type="button"
        className={`${ITEM} ${props.isOn ? 'font-semibold' : ''}`}
        onClick={props.onClick}
      >
        <span className="w-3">{props.isOn && <Check size={12} aria-hidden />}</span>
        <span>
          {props.children}
          {props.isOn && <span className="sr-only">, on</span>}
        </span>
      </button>
    </MenuItem>
  );
}

const LETTERS = [
  { mark: 'underline', words: <u>Underlined</u> },
  { mark: 'strike', words: <s>Struck out</s> },
  {
    mark: 'subscript',
    words: (
      <>
        Below the line, as in CO<sub>2</sub>
      </>
    ),
  },
  {
    mark: 'superscript',
    words: (
      <>
        Above the line, as in m<sup>2</sup>
      </>
    ),
  },
] as const;

/** What else letters can be. */
export function LettersMenu({ editor }: { editor: Editor }) {
  const on = useEditorState({
    editor,
    selector: ({ editor: now }) => LETTERS.map(({ mark }) => now.isActive(mark)),
  });
  return (
    <Menu>
      <MenuButton as={IconButton} icon={Underline} label="Underlined, struck out, small letters" />
      <MenuItems anchor="right start" className={MENU}>
        {LETTERS.map(({ mark, words }, index) => (
          <Row
            key={mark}
            isOn={on[index]!}
            onClick={() => editor.chain().focus().toggleMark(mark).run()}
          >
            {words}
          </Row>
        ))}
      </MenuItems>
    </Menu>
  );
}

const SIDES: { align: Alignment; words: string; icon: LucideIcon }[] = [
  { align: null, words: 'At the left', icon: TextAlignStart },
  { align: 'center', words: 'In the middle', icon: TextAlignCenter },
  { align: 'right', words: 'At the right', icon: TextAlignEnd },
  { align: 'justify', words: 'At both sides', icon: TextAlignJustify },
];

/** To which side lines keep. */
export function SideMenu({ editor }: { editor: Editor }) {
  const align = useEditorState({
    editor,
    selector: ({ editor: now }) => {
      const { align: own = null } = now.state.selection.$from.parent.attrs;
      return own as Alignment;
    },
  });
  const now = SIDES.find((side) => side.align === align) ?? SIDES[0]!;
  return (
    <Menu>
      <MenuButton as={IconButton} icon={now.icon} label="Side of the lines" />
      <MenuItems anchor="right start" className={MENU}>
        {SIDES.map((side) => (
          <Row
            key={side.words}
            isOn={side === now}
            onClick={() =>
              editor
                .chain()
                .focus()
                .updateAttributes('paragraph', { align: side.align })
                .updateAttributes('heading', { align: side.align })
                .run()
            }
          >
            {side.words}
          </Row>
        ))}
      </MenuItems>
    </Menu>
  );
}

/** Signs that few keyboards have. */
export function SignsMenu({ editor }: { editor: Editor }) {
  return (
    <Menu>
      <MenuButton as={IconButton} icon={Omega} label="Signs: dashes, spaces, units" />
      <MenuItems anchor="right start" className={MENU}>
        {SIGNS.map(([sign, name]) => (
          <MenuItem key={sign}>
            <button
              type="button"
              className={ITEM}
              onClick={() =>
                editor.chain().focus().insertContent({ type: 'text', text: sign }).run()
              }
            >
              <span className="w-5 text-center font-semibold">
                {sign.trim() === '' ? '␣' : sign}
              </span>
              <span>{name}</span>
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}

const BLOCKS: { node: string; words: string; attributes?: { paper: Orientation } }[] = [
  { node: CONTENTS_NODE, words: 'Contents: the headings with their pages' },
  { node: LIST_NODE, words: 'List of tables and figures' },
  { node: PAGE_BREAK_NODE, words: 'Begin a page' },
  { node: PAGE_BREAK_NODE, words: 'Begin landscape pages', attributes: { paper: 'landscape' } },
  { node: PAGE_BREAK_NODE, words: 'Begin portrait pages', attributes: { paper: 'portrait' } },
];

/** What is made out of the text itself, and where its pages begin. */
export function BlocksMenu({ editor }: { editor: Editor }) {
  const canNote = useEditorState({ editor, selector: ({ editor: now }) => mayHaveNote(now) });
  return (
    <Menu>
      <MenuButton as={IconButton} icon={TableOfContents} label="Contents, footnote, page" />
      <MenuItems anchor="right end" className={MENU}>
        <MenuItem disabled={!canNote}>
          <button
            type="button"
            className={`${ITEM} data-disabled:opacity-50`}
            onClick={() => requestAnimationFrame(() => insertFootnote(editor))}
          >
            <span className="w-3" />
            Footnote
          </button>
        </MenuItem>
        {BLOCKS.map(({ node, words, attributes }) => (
          <Row
            key={words}
            isOn={false} // Once the menu is closed, which gives the focus back to its button.
            onClick={() => requestAnimationFrame(() => insertBlock(editor, node, attributes))}
          >
            {words}
          </Row>
        ))}
      </MenuItems>
    </Menu>
  );
}
