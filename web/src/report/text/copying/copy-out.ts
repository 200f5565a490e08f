import type { Tether } from '@tether/contract';
import {
  type CopiedCell,
  copiedTable,
  describeReach,
  type Snapshot,
  shownTexts,
  tabbed,
} from '@tether/core';
import {
  CAPTION_NODE,
  CAPTIONED_NODE,
  CONTENTS_NODE,
  captionName,
  type Dressing,
  FOOTNOTE_NODE,
  isPlacedNode,
  LIST_NODE,
  type Placement,
  placementSchema,
  REFERENCE_NODE,
} from '@tether/documents';
import {
  DOMSerializer,
  Fragment,
  type Schema,
  Slice,
  type Node as TextNode,
} from '@tiptap/pm/model';
import type { EditorView } from '@tiptap/pm/view';
import { pictureAddress } from '../../../documents/pictures/picture-address.ts';
import { drawEverything } from '../../../placed/nearness/nearness.ts';
import { valueText } from '../../../placed/value-text.ts';
import { type CaptionInText, captionedId, captionsIn } from '../captions/caption-model.ts';
import { headingsIn } from '../reading/headings.ts';
import { FOR_OTHERS } from '../shared/for-others.ts';

/** What an object shows at the moment when it is copied. */
export interface ShownObject {
  tether: Tether;
  /** As it is dressed here; undefined while its figures are on their way. */
  snapshot: Snapshot | undefined;
  /** Whether it is there as it will be seen: what nobody came near yet may not be. */
  isDrawn: boolean;
  /** Rows at the head of a table. */
  headRows: number;
  /** Of a chart that is drawn: a picture of it. */
  picture: string | null;
}

type LookUp = (attributes: Placement) => ShownObject | null;

/**
 * What leaves a text by copying or dragging: for our own texts the objects with their tethers, for other programs what these
 * show: native tables, values as text, captions with their numbers, charts as pictures.
 */
export function copyingOut(
  schema: Schema,
  view: () => EditorView | null,
  lookUp: LookUp,
  dressingOf: (tetherId: string) => Dressing,
) {
  const captions = (): CaptionInText[] => {
    const now = view();
    return now ? captionsIn(now.state.doc) : [];
  };
  const headings = () => {
    const now = view();
    return now ? headingsIn(now.state.doc) : [];
  };
  const waiting = new Waiting(lookUp);
  return {
    handleDOMEvents: {
      copy: (view: EditorView, event: Event) => waiting.holds(view, event),
      cut: (view: EditorView, event: Event) => waiting.holds(view, event),
    },
    transformCopied: ({ content, openStart, openEnd }: Slice) =>
      new Slice(dressed(content, dressingOf), openStart, openEnd),
    clipboardSerializer: new CopySerializer(schema, captions, headings, lookUp, (hash) =>
      drawnPicture(view()?.dom, hash),
    ),
    clipboardTextSerializer: (slice: Slice) =>
      plainText(slice.content, { captions: captions(), headings: headings() }, lookUp),
  };
}

/** The longest that copying waits for what was not drawn yet: a browser lets a page copy only shortly after a key press. */
const WAIT_MS = 3_000;

/** Copying waits until the objects that leave have been drawn: else they would leave without their figures. */
class Waiting {
  /** Whether it has waited: then it copies what there is. */
  private isOver = false;

  constructor(private readonly lookUp: LookUp) {}

  /** Whether copying has to wait; it is then done again when everything is there. */
  holds(view: EditorView, event: Event): boolean {
    if (this.isOver || this.areDrawn(view)) return false;
    event.preventDefault();
    drawEverything();
    const began = performance.now();
    const look = () => {
      if (view.isDestroyed) return;
      if (!this.areDrawn(view) && performance.now() - began < WAIT_MS) {
        requestAnimationFrame(look);
        return;
      }
      this.isOver = true;
      document.execCommand(event.type);
      this.isOver = false;
    };
    requestAnimationFrame(look);
    return true;
  }

  private areDrawn({ state }: EditorView): boolean {
    let areDrawn = true;
    state.selection.content().content.descendants(({ type, attrs }) => {
      if (!isPlacedNode(type.name)) return;
      const placed = placementSchema.safeParse(attrs);
      if (placed.success && this.lookUp(placed.data)?.isDrawn === false) areDrawn = false;
    });
    return areDrawn;
  }
}

/** The nodes with their objects' dressings in them: they lie beside the text, and go with its objects. */
function dressed(fragment: Fragment, dressingOf: (tetherId: string) => Dressing): Fragment {
  const nodes: TextNode[] = [];
  fragment.forEach((node) => {
    if (isPlacedNode(node.type.name)) {
      const dressing = dressingOf(String(node.attrs.tetherId));
      nodes.push(node.type.create({ ...node.attrs, dressing }, null, node.marks));
    } else if (node.isText) nodes.push(node);
    else nodes.push(node.copy(dressed(node.content, dressingOf)));
  });
  return Fragment.fromArray(nodes);
}

/** A picture of the text as it is drawn, in itself; null while it is on its way. */
function drawnPicture(text: HTMLElement | undefined, hash: string): string | null {
  const drawn = text?.querySelector<HTMLImageElement>(`img[src="${pictureAddress(hash)}"]`);
  if (!drawn?.complete || drawn.naturalWidth === 0) return null;
  const canvas = document.createElement('canvas');
  canvas.width = drawn.naturalWidth;
  canvas.height = drawn.naturalHeight;
  canvas.getContext('2d')?.drawImage(drawn, 0, 0);
  return canvas.toDataURL('image/png');
}

class CopySerializer extends DOMSerializer {
  constructor(
    schema: Schema,
    readonly captions: () => CaptionInText[],
    readonly headings: () => { words: string }[],
    readonly lookUp: LookUp,
    readonly pictureOf: (hash: string) => string | null,
  ) {
    super(DOMSerializer.nodesFromSchema(schema), DOMSerializer.marksFromSchema(schema));
  }

  override serializeFragment(
    fragment: Fragment,
    options?: { document?: Document },
    target?: HTMLElement | DocumentFragment,
  ): HTMLElement | DocumentFragment {
    const made = super.serializeFragment(fragment, options, target);
    if (target) return made;
    const captions = this.captions();
    for (const element of made.querySelectorAll<HTMLElement>('[data-tether]')) {
      this.fill(element);
    }
    for (const element of made.querySelectorAll<HTMLImageElement>('img[data-picture]')) {
      // Another program has no way to the server: the picture itself goes along.
      const inside = this.pictureOf(element.dataset.picture ?? '');
      if (inside) element.src = inside;
    }
    const notes = [...made.querySelectorAll<HTMLElement>('[data-footnote]')];
    notes.forEach((element, index) => {
      const mark = document.createElement('sup');
      mark.textContent = String(index + 1);
      element.append(mark);
      // For other programs the words follow the text.
      const words = paragraphOf(`${index + 1}. ${element.dataset.footnote ?? ''}`);
      words.setAttribute(FOR_OTHERS, '');
      made.appendChild(words);
    });
    for (const element of made.querySelectorAll('[data-reference]')) {
      element.textContent = nameOf(element.getAttribute('data-reference'), captions);
    }
    for (const element of made.querySelectorAll('nav[data-contents]')) {
      for (const { words } of this.headings()) element.append(paragraphOf(words));
    }
    for (const element of made.querySelectorAll('nav[data-list-of-objects]')) {
      for (const line of listLines(captions)) {
        element.append(paragraphOf(line));
      }
    }
    for (const figure of made.querySelectorAll('figure[data-captioned]')) {
      const caption = figure.querySelector(':scope > figcaption');
      if (!caption) continue;
      const mark = document.createElement('span');
      mark.setAttribute(FOR_OTHERS, '');
      mark.textContent = `${nameOf(figure.getAttribute('data-of'), captions)}. `;
      caption.prepend(mark);
      // Tables have their caption above them.
      if (figure.getAttribute('data-captioned') === 'table') figure.prepend(caption);
    }
    return made;
  }

  /** Puts what an object shows into the element that stands for it. */
  private fill(element: HTMLElement): void {
    const attributes = placementSchema.safeParse({
      tetherId: element.getAttribute('data-tether'),
      copyOf: element.getAttribute('data-copy-of') ?? null,
      form: JSON.parse(element.getAttribute('data-form') ?? 'null') ?? undefined,
      dressing: JSON.parse(element.getAttribute('data-dressing') ?? 'null') ?? undefined,
    });
    const shown = attributes.success ? this.lookUp(attributes.data) : null;
    if (!attributes.success || !shown) return;
    const { form } = attributes.data;
    const { snapshot, picture, tether } = shown;
    if (form === 'value' || form === 'tag' || !snapshot) {
      element.textContent = wordsOf(attributes.data, shown);
    } else if (form === 'chart' && picture) {
      const image = document.createElement('img');
      image.src = picture;
      image.alt = tether.name;
      element.append(image);
    } else element.append(tableOf(copiedTable(snapshot, shown.headRows)));
  }
}

function nameOf(tetherId: string | null, captions: readonly CaptionInText[]): string {
  const found = captions.find((each) => each.tetherId === tetherId);
  return found ? captionName(found) : '';
}

function listLines(captions: readonly CaptionInText[]): string[] {
  return captions.map((each) => `${captionName(each)}. ${each.words}`.trim());
}

function paragraphOf(words: string): HTMLElement {
  const element = document.createElement('p');
  element.textContent = words;
  return element;
}

/** What an object shows in a line of text. */
function wordsOf({ form, dressing }: Placement, { tether, snapshot }: ShownObject): string {
  if (form === 'tag') return `${tether.source.path} ${describeReach(tether.reach)}`;
  if (!snapshot) return `[${tether.name}: its figures were not there yet]`;
  return valueText(snapshot, dressing.value ?? {});
}

function tableOf(rows: readonly CopiedCell[][]): HTMLElement {
  const table = document.createElement('table');
  table.style.borderCollapse = 'collapse';
  const body = table.createTBody();
  for (const cells of rows) {
    const row = body.insertRow();
    for (const each of cells) {
      const cell = document.createElement(each.isHead ? 'th' : 'td');
      if (each.rows > 1) cell.rowSpan = each.rows;
      if (each.columns > 1) cell.colSpan = each.columns;
      cell.textContent = each.text;
      const { dress } = each;
      const colour = each.ink ?? dress?.letters.colour;
      Object.assign(cell.style, {
        textAlign: each.align,
        padding: '1px 6px',
        fontWeight: dress?.letters.bold || each.isHead ? 'bold' : 'normal',
        ...(dress?.letters.italic ? { fontStyle: 'italic' } : {}),
        ...(colour ? { color: colour } : {}),
        ...(dress?.fill ? { backgroundColor: dress.fill } : {}),
      });
      row.append(cell);
    }
  }
  return table;
}

/** Blocks one below the other; the cells of a table with tabs between. */
function plainText(
  content: Fragment,
  lists: { captions: readonly CaptionInText[]; headings: readonly { words: string }[] },
  lookUp: LookUp,
): string {
  const { captions } = lists;
  const notes: string[] = [];
  const signOf = (node: TextNode): string => {
    const { name } = node.type;
    if (node.isText) return node.text ?? '';
    if (name === FOOTNOTE_NODE) return `[${notes.push(node.textContent)}]`;
    if (name === 'hardBreak') return '\n';
    if (name === REFERENCE_NODE) return nameOf(String(node.attrs.to), captions);
    return isPlacedNode(name) ? block(node) : '';
  };
  const inLine = (node: TextNode): string => node.children.map(signOf).join('');
  const block = (node: TextNode): string => {
    const { name } = node.type;
    if (isPlacedNode(name)) {
      const attributes = placementSchema.safeParse(node.attrs);
      const shown = attributes.success ? lookUp(attributes.data) : null;
      if (!attributes.success || !shown) return '';
      return node.isInline || !shown.snapshot
        ? wordsOf(attributes.data, shown)
        : tabbed(shownTexts(shown.snapshot));
    }
    if (name === LIST_NODE) return listLines(captions).join('\n');
    if (name === CONTENTS_NODE) return lists.headings.map(({ words }) => words).join('\n');
    if (name === CAPTIONED_NODE) {
      const parts = blocks(node.content);
      const id = captionedId(node.firstChild);
      if (node.lastChild?.type.name === CAPTION_NODE) {
        parts.push(`${nameOf(id, captions)}. ${parts.pop() ?? ''}`.trim());
      }
      return (node.attrs.kind === 'table' ? parts.reverse() : parts).join('\n');
    }
    if (name === 'table') {
      const rows: string[][] = [];
      node.forEach((row) => {
        const cells: string[] = [];
        row.forEach((cell) => {
          cells.push(blocks(cell.content).join('\n'));
        });
        rows.push(cells);
      });
      return tabbed(rows);
    }
    if (node.isTextblock) return inLine(node);
    return blocks(node.content).join('\n');
  };
  const blocks = (fragment: Fragment): string[] => {
    const texts: string[] = [];
    let line = '';
    fragment.forEach((node) => {
      // A slice out of the middle of a line has no block around it.
      if (!node.isInline) texts.push(block(node));
      else line += signOf(node);
    });
    return line === '' ? texts : [line, ...texts];
  };
  const lines = blocks(content);
  return [...lines, ...notes.map((words, index) => `[${index + 1}] ${words}`)].join('\n');
}
