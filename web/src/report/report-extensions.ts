import { Extension, type Extensions } from '@tiptap/core';
import { Plugin } from '@tiptap/pm/state';
import type { EditorView } from '@tiptap/pm/view';
import StarterKit from '@tiptap/starter-kit';
import type { Comments } from '../documents/comments/comments.ts';
import type { Dressings } from '../documents/object/dressings.ts';
import { ClickedPlace } from '../documents/writing/clicked-place.ts';
import { Subscript, Superscript } from '../documents/writing/letters.ts';
import { LINKS } from '../documents/writing/links.ts';
import type { SharedWith } from '../documents/writing/shared-document.ts';
import type { PageFlow } from './pages/page-flow.ts';
import { FIXED_TABLE_NODES } from './text/blocks/fixed-table.ts';
import { FootnoteNode } from './text/blocks/footnotes.ts';
import { ContentsNode, PageBreakNode } from './text/blocks/page-nodes.ts';
import { Aligned } from './text/blocks/writing-marks.ts';
import { CaptionedNode, CaptionNode, ListNode, ReferenceNode } from './text/captions/captions.ts';
import { commentsPlugin } from './text/comments/comment-places.ts';
import { copyingOut } from './text/copying/copy-out.ts';
import { findingPlugin } from './text/finding/finding.ts';
import { PictureNode } from './text/objects/picture-node.ts';
import { PlacedInlineNode, PlacedObjectNode } from './text/objects/placed-object-node.ts';
import { lostWords } from './text/shared/lost-words.ts';
import { quickCommit } from './text/shared/quick-commit.ts';
import { ReportDocument } from './text/shared/report-document.ts';
import { SharedText } from './text/shared/shared-text.ts';

/** What the text of a report is made of: its blocks, marks and objects, and what is done while it is written. */
export function reportExtensions(around: {
  shared: SharedWith;
  flow: PageFlow;
  dressings: Dressings;
  comments: Comments | null;
  /** Whether a tether is one of this document. */
  isOwn: (tetherId: string) => boolean;
  /** How objects come out, for what is copied out of the text. */
  lookUp: Parameters<typeof copyingOut>[2];
  view: () => EditorView | null;
  onThread: (thread: string) => void;
  /** Told of words that one wrote and somebody else took out at the same time. */
  onLost: (words: string) => void;
}): Extensions {
  const { shared, flow, dressings, comments, isOwn, lookUp, view, onThread, onLost } = around;
  const { doc, provider } = shared;
  return [
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
    PlacedObjectNode.configure({ isOwn, dressings }),
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
        ...(comments ? [commentsPlugin(comments, onThread)] : []),
      ],
    }),
    Extension.create({
      name: 'lostWords',
      addProseMirrorPlugins: () => [
        lostWords({
          doc,
          isUnsent: () => provider?.hasUnsyncedChanges ?? false,
          onLost,
        }),
      ],
    }),
    Extension.create({
      name: 'copyingOut',
      // Before what the editor's library does when text is copied.
      priority: 1000,
      addProseMirrorPlugins() {
        return [
          new Plugin({
            props: copyingOut(this.editor.schema, view, lookUp, (id) => dressings.of(id)),
          }),
        ];
      },
    }),
  ];
}
