import { type Paper, type SheetSize, sheetSize } from '@tether/core';
import { PAGE_BREAK_NODE } from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';
import { Plugin, PluginKey } from '@tiptap/pm/state';
import { Decoration, DecorationSet, type EditorView } from '@tiptap/pm/view';

/** How a sheet is turned. */
export type Orientation = 'portrait' | 'landscape';
/** The sheets of a document, turned either way. */
export type Sheets = Record<Orientation, SheetSize>;

/** How the paper of a document is turned where nothing else is said. */
export function asTurned({ isLandscape }: Paper): Orientation {
  return isLandscape ? 'landscape' : 'portrait';
}

/** The paper of a document, turned either way. */
export function sheetsOf(paper: Paper): Sheets {
  return {
    portrait: sheetSize({ ...paper, isLandscape: false }),
    landscape: sheetSize({ ...paper, isLandscape: true }),
  };
}

/** How the section is turned that begins behind a block; null where none begins. */
function beginsBehind({ type, attrs }: TextNode): Orientation | null {
  if (type.name !== PAGE_BREAK_NODE) return null;
  return attrs.paper === 'portrait' || attrs.paper === 'landscape' ? attrs.paper : null;
}

/** How the sheets are turned that each block of a text stands on; null in a text without sections. */
export function orientationsIn(text: TextNode, own: Orientation): Orientation[] | null {
  let now = own;
  let hasSections = false;
  const orientations = text.children.map((node) => {
    const here = now;
    const next = beginsBehind(node);
    if (next) {
      now = next;
      hasSections = true;
    }
    return here;
  });
  return hasSections ? orientations : null;
}

/** Whether a text has sections of their own paper. */
export function hasSections(text: TextNode): boolean {
  return orientationsIn(text, 'portrait') !== null;
}

/** The sections of measured blocks: which block each begins with, and how its sheets are turned. */
export function runsIn(
  blocks: readonly TextNode[],
  orientations: readonly Orientation[] | null,
  own: Orientation,
): { from: number; turned: Orientation }[] {
  const runs = [{ from: 0, turned: own }];
  if (!orientations) return runs;
  blocks.forEach((node, index) => {
    const next = beginsBehind(node);
    // A break behind which nothing stands begins no page.
    if (next && index + 1 < blocks.length) runs.push({ from: index + 1, turned: next });
  });
  return runs;
}

/** The objects that stand on sheets turned otherwise than the document's own, by tether. */
export function objectsTurned(
  text: TextNode,
  orientations: readonly Orientation[] | null,
  own: Orientation,
): Map<string, Orientation> {
  const turned = new Map<string, Orientation>();
  orientations?.forEach((orientation, index) => {
    if (orientation === own) return;
    const note = ({ attrs }: TextNode) => {
      if (attrs.tetherId) turned.set(String(attrs.tetherId), orientation);
    };
    note(text.child(index));
    text.child(index).descendants(note);
  });
  return turned;
}

/** How wide the widest sheet is. */
export function widest(sheets: Sheets, turned: readonly Orientation[]): number {
  return Math.max(...turned.map((each) => sheets[each].width));
}

interface Inset {
  paper: Paper;
  /** Whether narrow sheets lie in the middle of the wide ones, instead of at their left. */
  isCentred: boolean;
}

const key = new PluginKey<DecorationSet>('insets');

/** Keeps every block within the text of its sheet where sheets of both orientations are in one document. */
export class Insets {
  #now: Inset | null = null;

  /** The paper is now this. */
  set(view: EditorView, paper: Paper, isCentred: boolean): void {
    const isSame =
      this.#now?.isCentred === isCentred &&
      JSON.stringify(this.#now.paper) === JSON.stringify(paper);
    if (isSame) return;
    this.#now = { paper, isCentred };
    view.dispatch(view.state.tr.setMeta(key, true).setMeta('addToHistory', false));
  }

  plugin(paperAtFirst: () => Paper): Plugin {
    const decorate = (text: TextNode) =>
      insetsOf(text, this.#now ?? { paper: paperAtFirst(), isCentred: true });
    return new Plugin<DecorationSet>({
      key,
      state: {
        init: (_, { doc }) => decorate(doc),
        apply: (transaction, before) =>
          transaction.docChanged || transaction.getMeta(key) ? decorate(transaction.doc) : before,
      },
      props: { decorations: (state) => key.getState(state) },
    });
  }
}

function insetsOf(text: TextNode, { paper, isCentred }: Inset): DecorationSet {
  const orientations = orientationsIn(text, asTurned(paper));
  if (!orientations) return DecorationSet.empty;
  const sheets = sheetsOf(paper);
  const whole = widest(sheets, orientations);
  const decorations: Decoration[] = [];
  text.forEach((node, position, index) => {
    const left = whole - sheets[orientations[index]!].width;
    if (left <= 0) return;
    const [before, behind] = isCentred ? [left / 2, left / 2] : [0, left];
    const style = `--inset-left: ${before}px; --inset-right: ${behind}px`;
    decorations.push(
      Decoration.node(position, position + node.nodeSize, { class: 'inset', style }),
    );
  });
  return DecorationSet.create(text, decorations);
}
