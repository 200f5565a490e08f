import { PICTURE_NODE, type PictureAttributes } from '@tether/documents';
import { Node } from '@tiptap/core';
import { NodeSelection } from '@tiptap/pm/state';
import { type Editor, ReactNodeViewRenderer } from '@tiptap/react';
import { pictureAddress } from '../../../documents/pictures/picture-address.ts';
import type { TakenPicture } from '../../../documents/pictures/usePictures.ts';
import { placeForBlock } from '../reading/places.ts';
import { asOneStep } from '../shared/shared-text.ts';
import { Picture } from './Picture.tsx';

const number = (element: HTMLElement, name: string): number | null => {
  const value = Number(element.getAttribute(name));
  return value > 0 ? value : null;
};

/** A picture between paragraphs: the server has it, the text says which, how wide, and what it shows. */
export const PictureNode = Node.create({
  name: PICTURE_NODE,
  group: 'block',
  atom: true,
  draggable: true,
  selectable: true,
  addAttributes: () => ({
    id: { default: null, parseHTML: (element) => element.getAttribute('data-picture-id') },
    hash: { default: '', parseHTML: (element) => element.getAttribute('data-picture') },
    alt: { default: '', parseHTML: (element) => element.getAttribute('alt') ?? '' },
    pixelWidth: { default: 1, parseHTML: (element) => number(element, 'data-pixel-width') ?? 1 },
    pixelHeight: { default: 1, parseHTML: (element) => number(element, 'data-pixel-height') ?? 1 },
    width: { default: null, parseHTML: (element) => number(element, 'data-millimetres') },
  }),
  parseHTML: () => [{ tag: 'img[data-picture]' }],
  renderHTML: ({ node }) => {
    const { id, hash, alt, pixelWidth, pixelHeight, width } = node.attrs as PictureAttributes;
    return [
      'img',
      {
        src: pictureAddress(hash),
        alt,
        'data-picture': hash,
        'data-pixel-width': pixelWidth,
        'data-pixel-height': pixelHeight,
        ...(id === null ? {} : { 'data-picture-id': id }),
        ...(width === null ? {} : { 'data-millimetres': width }),
      },
    ];
  },
  addNodeView: () => ReactNodeViewRenderer(Picture),
});

/** Puts a picture behind the block at the cursor and selects it, so that it is asked what it shows. */
export function insertPicture(editor: Editor, { hash, width, height }: TakenPicture): void {
  const { tr, schema, selection } = editor.state;
  const at = placeForBlock(selection.$to);
  const attributes: PictureAttributes = {
    id: null,
    hash,
    alt: '',
    pixelWidth: width,
    pixelHeight: height,
    width: null,
  };
  const node = schema.nodes[PICTURE_NODE]!.create(attributes);
  tr.insert(at, node);
  const behind = at + node.nodeSize;
  // There is always a line behind it to go on in.
  if (behind >= tr.doc.content.size) tr.insert(behind, schema.nodes.paragraph!.create());
  tr.setSelection(NodeSelection.create(tr.doc, at));
  asOneStep(editor.storage.sharedText.steps, () => editor.view.dispatch(tr.scrollIntoView()));
}
