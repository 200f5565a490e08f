import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { captionName } from '@tether/documents';
import { type ChainedCommands, type Editor, useEditorState } from '@tiptap/react';
import {
  Bold,
  Heading1,
  Heading2,
  Heading3,
  ImagePlus,
  Italic,
  List,
  ListOrdered,
  type LucideIcon,
  Pilcrow,
  Quote,
  Redo2,
  Search,
  TextQuote,
  Undo2,
} from 'lucide-react';
import { useRef } from 'react';
import { CommentButton } from '../../../documents/comments/CommentButton.tsx';
import { PICTURE_KINDS } from '../../../documents/pictures/usePictures.ts';
import type { Surface } from '../../../documents/surface.ts';
import { LinkField } from '../../../documents/writing/LinkField.tsx';
import { IconButton } from '../../../ui/IconButton.tsx';
import { Rail } from '../../../ui/Rail.tsx';
import { TableMenu } from '../blocks/TableMenu.tsx';
import { captionsIn } from '../captions/caption-model.ts';
import { insertReference } from '../objects/object-commands.ts';
import { asOneStep } from '../shared/shared-text.ts';
import { BlocksMenu, LettersMenu, SideMenu, SignsMenu } from './RailMenus.tsx';

/** A button of the rail: what it does to the text, and whether the text at the cursor is so. */
interface Act {
  icon: LucideIcon;
  label: string;
  act: (chain: ChainedCommands) => ChainedCommands;
  isOn?: (editor: Editor) => boolean;
  isPossible?: (editor: Editor) => boolean;
}

const STEPS: Act[] = [
  { icon: Undo2, label: 'Undo', act: (to) => to.undo(), isPossible: (now) => now.can().undo() },
  { icon: Redo2, label: 'Redo', act: (to) => to.redo(), isPossible: (now) => now.can().redo() },
];
const KINDS: Act[] = [
  {
    icon: Pilcrow,
    label: 'Paragraph',
    act: (to) => to.setParagraph(),
    isOn: (now) => now.isActive('paragraph') && !now.isActive('listItem'),
  },
  ...([1, 2, 3] as const).map(
    (level): Act => ({
      icon: [Heading1, Heading2, Heading3][level - 1]!,
      label: `Heading ${level}`,
      act: (to) => to.toggleHeading({ level }),
      isOn: (now) => now.isActive('heading', { level }),
    }),
  ),
];
const LETTERS: Act[] = [
  {
    icon: Bold,
    label: 'Bold',
    act: (to) => to.toggleBold(),
    isOn: (now) => now.isActive('bold'),
  },
  {
    icon: Italic,
    label: 'Italic',
    act: (to) => to.toggleItalic(),
    isOn: (now) => now.isActive('italic'),
  },
];
const BLOCKS: Act[] = [
  {
    icon: Quote,
    label: 'Quotation',
    act: (to) => to.toggleBlockquote(),
    isOn: (now) => now.isActive('blockquote'),
  },
  {
    icon: List,
    label: 'Bullets',
    act: (to) => to.toggleBulletList(),
    isOn: (now) => now.isActive('bulletList'),
  },
  {
    icon: ListOrdered,
    label: 'Numbers',
    act: (to) => to.toggleOrderedList(),
    isOn: (now) => now.isActive('orderedList'),
  },
];

/** The narrow rail beside the paper: what kind of text this is, and undo. */
export function TextRail(props: {
  editor: Editor;
  surface: Surface;
  onFind: () => void;
  onPictures: (files: File[]) => void;
}) {
  const { editor, surface, onFind, onPictures } = props;
  return (
    <Rail label="Text">
      <Acts editor={editor} acts={STEPS} />
      <IconButton icon={Search} label="Find and replace" onClick={onFind} />
      <hr className="my-1 w-6 border-hairline" />
      <Acts editor={editor} acts={KINDS} />
      <hr className="my-1 w-6 border-hairline" />
      <Acts editor={editor} acts={LETTERS} />
      <LettersMenu editor={editor} />
      <LinkField
        editor={editor}
        // However soon one follows another, each is undone by itself.
        asStep={(act) => asOneStep(editor.storage.sharedText.steps, act)}
      />
      <hr className="my-1 w-6 border-hairline" />
      <SideMenu editor={editor} />
      <Acts editor={editor} acts={BLOCKS} />
      <hr className="my-1 w-6 border-hairline" />
      <TableMenu editor={editor} />
      <PictureButton onPictures={onPictures} />
      <SignsMenu editor={editor} />
      <ReferenceMenu editor={editor} />
      <CommentButton surface={surface} />
      <BlocksMenu editor={editor} />
    </Rail>
  );
}

function Acts({ editor, acts }: { editor: Editor; acts: readonly Act[] }) {
  const states = useEditorState({
    editor,
    selector: ({ editor: now }) =>
      acts.map(({ isOn, isPossible }) => ({
        isOn: isOn?.(now),
        isPossible: isPossible?.(now) ?? true,
      })),
  });
  return acts.map(({ icon, label, act }, at) => (
    <IconButton
      key={label}
      icon={icon}
      label={label}
      isOn={states[at]!.isOn}
      disabled={!states[at]!.isPossible}
      onClick={() => act(editor.chain().focus()).run()}
    />
  ));
}

function PictureButton({ onPictures }: { onPictures: (files: File[]) => void }) {
  const files = useRef<HTMLInputElement>(null);
  return (
    <>
      <IconButton
        icon={ImagePlus}
        label="Picture: PNG, JPEG, WebP or SVG"
        onClick={() => files.current?.click()}
      />
      <input
        ref={files}
        type="file"
        accept={PICTURE_KINDS}
        multiple
        hidden
        aria-label="Pictures to take in"
        onChange={({ target }) => {
          onPictures([...(target.files ?? [])]);
          // The same file can be chosen again.
          target.value = '';
        }}
      />
    </>
  );
}

/** Puts a reference to one of the captioned objects into the line. */
function ReferenceMenu({ editor }: { editor: Editor }) {
  const captions = useEditorState({
    editor,
    selector: ({ editor: now }) =>
      captionsIn(now.state.doc).map((each) => ({
        tetherId: each.tetherId,
        name: captionName(each),
        words: each.words,
      })),
  });
  return (
    <Menu>
      <MenuButton
        as={IconButton}
        icon={TextQuote}
        label={
          captions.length === 0
            ? 'Reference: no table or figure has a caption yet'
            : 'Reference to a table or figure'
        }
        disabled={captions.length === 0}
      />
      <MenuItems
        anchor="right start"
        className="z-30 max-h-80 w-72 overflow-auto rounded-box border border-hairline bg-white py-1 shadow-paper"
      >
        {captions.map(({ tetherId, name, words }) => (
          <MenuItem key={tetherId}>
            <button
              type="button"
              className="block w-full truncate px-3 py-1 text-left data-focus:bg-mist"
              onClick={() => insertReference(editor, tetherId)}
            >
              <span className="font-semibold">{name}</span>
              {words && ` ${words}`}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
