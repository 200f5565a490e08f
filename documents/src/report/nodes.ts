import { PLACED_INLINE } from '../object/placement.ts';
import { RICH_MARKS } from '../page/rich.ts';

/** Every kind of node that a text can have; a text with another one is refused, since no editor could show it whole. */
export const NODE_KINDS = [
  'paragraph',
  'heading',
  'bulletList',
  'orderedList',
  'listItem',
  'blockquote',
  'horizontalRule',
  'hardBreak',
  'text',
  'table',
  'tableRow',
  'tableHeader',
  'tableCell',
  'placedObject',
  'placedInline',
  'captioned',
  'caption',
  'reference',
  'listOfObjects',
  'contents',
  'pageBreak',
  'picture',
  'footnote',
] as const;
/** Every kind of mark that a piece of text can have. */
export const MARK_KINDS = [...RICH_MARKS, 'link'] as const;

/** Name of the node that stands for a placed object between paragraphs; its attributes are a `Placement`. */
export const PLACED_NODE = 'placedObject';

/** Name of the node that holds a placed object and its caption. */
export const CAPTIONED_NODE = 'captioned';
/** Name of the node with a caption's words. */
export const CAPTION_NODE = 'caption';
/** Name of the node inside a line that names a captioned object by its number. */
export const REFERENCE_NODE = 'reference';
/** Name of the node that lists the captioned objects. */
export const LIST_NODE = 'listOfObjects';

/** Name of the node that lists the headings with their pages. */
export const CONTENTS_NODE = 'contents';
/** Name of the node behind which a page begins; its `paper` says how the sheets from there on are turned. */
export const PAGE_BREAK_NODE = 'pageBreak';

/** Name of the node of a note: it stands for its number in a line, and holds the words at the foot of the page. */
export const FOOTNOTE_NODE = 'footnote';

/** Name of the node of a picture; its attributes are a `PictureAttributes`. */
export const PICTURE_NODE = 'picture';

/** A picture in a text. */
export interface PictureAttributes {
  /** By which its caption is named; null for one that never had a caption. */
  id: string | null;
  /** Of its bytes, by which the server has it. */
  hash: string;
  /** What it shows, for those who do not see it; empty where nobody said so. */
  alt: string;
  /** Pixels that it has. */
  pixelWidth: number;
  pixelHeight: number;
  /** Millimetres that it is wide in the document; null for as large as its pixels are. */
  width: number | null;
}

/** Whether a node stands for a placed object. */
export function isPlacedNode(type: string): boolean {
  return type === PLACED_NODE || type === PLACED_INLINE;
}
