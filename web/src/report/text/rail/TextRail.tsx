import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { captionName } from '@tether/documents';
import { type Editor, useEditorState } from '@tiptap/react';
import {
  Bold,
  Heading1,
  Heading2,
  Heading3,
  ImagePlus,
  Italic,
  List,
  ListOrdered,
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

/** The narrow rail beside the paper: what kind of text this is, and undo. */
// biome-ignore lint/complexity/noExcessiveLinesPerFunction: not taken apart yet
export function TextRail(props: {
  editor: Editor;
  surface: Surface;
  onFind: () => void;
  onPictures: (files: File[]) => void;
}) {
  const { editor, surface, onFind, onPictures } = props;
  const files = useRef<HTMLInputElement>(null);
  const on = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      paragraph: now.isActive('paragraph') && !now.isActive('listItem'),
      h1: now.isActive('heading', { level: 1 }),
      h2: now.isActive('heading', { level: 2 }),
      h3: now.isActive('heading', { level: 3 }),
      bold: now.isActive('bold'),
      italic: now.isActive('italic'),
      bullets: now.isActive('bulletList'),
      numbers: now.isActive('orderedList'),
      quote: now.isActive('blockquote'),
      canUndo: now.can().undo(),
      canRedo: now.can().redo(),
    }),
  });
  const chain = () => editor.chain().focus();

  return (
    <Rail label="Text">
      <IconButton
        icon={Undo2}
        label="Undo"
        disabled={!on.canUndo}
        onClick={() => chain().undo().run()}
      />
      <IconButton
        icon={Redo2}
        label="Redo"
        disabled={!on.canRedo}
        onClick={() => chain().redo().run()}
      />
      <IconButton icon={Search} label="Find and replace" onClick={onFind} />
      <hr className="my-1 w-6 border-hairline" />
      <IconButton
        icon={Pilcrow}
        label="Paragraph"
        isOn={on.paragraph}
        onClick={() => chain().setParagraph().run()}
      />
      {([1, 2, 3] as const).map((level) => (
        <IconButton
          key={level}
          icon={[Heading1, Heading2, Heading3][level - 1]!}
          label={`Heading ${level}`}
          isOn={[on.h1, on.h2, on.h3][level - 1]!}
          onClick={() => chain().toggleHeading({ level }).run()}
        />
      ))}
      <hr className="my-1 w-6 border-hairline" />
      <IconButton
        icon={Bold}
        label="Bold"
        isOn={on.bold}
        onClick={() => chain().toggleBold().run()}
      />
      <IconButton
        icon={Italic}
        label="Italic"
        isOn={on.italic}
        onClick={() => chain().toggleItalic().run()}
      />
      <LettersMenu editor={editor} />
      <LinkField
        editor={editor}
        // However soon one follows another, each is undone by itself.
        asStep={(act) => asOneStep(editor.storage.sharedText.steps, act)}
      />
      <hr className="my-1 w-6 border-hairline" />
      <SideMenu editor={editor} />
      <IconButton
        icon={Quote}
        label="Quotation"
        isOn={on.quote}
        onClick={() => chain().toggleBlockquote().run()}
      />
      <IconButton
        icon={List}
        label="Bullets"
        isOn={on.bullets}
        onClick={() => chain().toggleBulletList().run()}
      />
      <IconButton
        icon={ListOrdered}
        label="Numbers"
        isOn={on.numbers}
        onClick={() => chain().toggleOrderedList().run()}
      />
      <hr className="my-1 w-6 border-hairline" />
      <TableMenu editor={editor} />
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
      <SignsMenu editor={editor} />
      <ReferenceMenu editor={editor} />
      <CommentButton surface={surface} />
      <BlocksMenu editor={editor} />
    </Rail>
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
