import type { Cut, FlowBlock, FlowNote, PageBreak } from '@tether/core';
import { FOOTNOTE_NODE, PAGE_BREAK_NODE } from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';
import type { EditorView } from '@tiptap/pm/view';
import type { TableBreak } from '../../placed/table/PlacedTable.tsx';
import { captionedId } from '../text/captions/caption-model.ts';

/** A table in the text: where it may be cut, from its upper side. */
export interface TableCuts {
  cuts: Cut[];
  places: TableBreak['place'][];
}

/** A note of the text: the place of its number, and its height at the foot of a page. */
interface MeasuredNote extends FlowNote {
  position: number;
}

/** A block of the text as it stands without breaks. */
export interface MeasuredBlock extends FlowBlock {
  position: number;
  node: TextNode;
  element: HTMLElement;
  /** Objects that stand in it. */
  tetherIds: string[];
  notes: MeasuredNote[];
  /** For each cut, where it is; found out when a page breaks there, since looking for a place takes long. */
  places: LazyPlace[];
}

/** Where a page begins in the text. */
export type Place =
  | { kind: 'before'; position: number }
  | { kind: 'line'; position: number }
  | { kind: 'table'; tetherId: string; row: TableBreak['place'] };

type LazyPlace = Place | (() => Place);

/** How much smaller the text is drawn than it is on paper. */
export function scaleOf(root: HTMLElement): number {
  // Not `offsetWidth`, which is rounded: over a hundred pages that adds up to several lines.
  const width = Number.parseFloat(getComputedStyle(root).width);
  return width > 0 ? root.getBoundingClientRect().width / width : 1;
}

/** The blocks of the text as they stand without breaks: read off as they stand with them, and what these add taken away. */
export function measure(view: EditorView, tables: ReadonlyMap<string, TableCuts>): MeasuredBlock[] {
  const root = view.dom as HTMLElement;
  const box = root.getBoundingClientRect();
  const scale = scaleOf(root);
  const blocks: Measured[] = [];
  let below = box.top;
  view.state.doc.forEach((node, position) => {
    const element = view.nodeDOM(position);
    if (!(element instanceof HTMLElement)) return;
    const { top, bottom } = element.getBoundingClientRect();
    const before = blocks.at(-1);
    // At the head of a page the room above a block has given way to that between the pages.
    const above = element.classList.contains('begins-page')
      ? Number.parseFloat(getComputedStyle(element).getPropertyValue('--above')) || 0
      : (top - below) / scale;
    below = bottom;
    const added = addedIn(element, scale);
    const height = (bottom - top) / scale - added.reduce((sum, each) => sum + each.height, 0);
    const start = (before?.bottom ?? 0) + above;
    blocks.push(
      new Measured(view, tables, scale, added, {
        position,
        node,
        element,
        top: start,
        bottom: start + height,
      }),
    );
  });
  return blocks;
}

/** Something that a break has put into a block: where it ends on the screen, and how high it is on paper. */
interface Added {
  until: number;
  height: number;
}

const ROOM = '.page-gap, .table-continued';

/** The rooms within a block, the lines that say that a table goes on, and the headers that are repeated there. */
function addedIn(element: HTMLElement, scale: number): Added[] {
  const added: Added[] = [];
  for (const each of element.querySelectorAll<HTMLElement>(`${ROOM}, [data-repeated]`)) {
    const { top, bottom } = each.getBoundingClientRect();
    const repeated = each.dataset.repeated;
    added.push(
      repeated === undefined
        ? { until: bottom, height: (bottom - top) / scale }
        : { until: top + Number(repeated) * scale, height: Number(repeated) },
    );
  }
  return added;
}

/** A block whose cuts are looked for only when it does not fit its page. */
class Measured implements MeasuredBlock {
  readonly position: number;
  readonly node: TextNode;
  readonly element: HTMLElement;
  readonly top: number;
  readonly bottom: number;
  readonly tetherIds: string[] = [];
  readonly #notes: number[] = [];
  #measured: MeasuredNote[] | null = null;
  #found: { cuts: Cut[]; places: LazyPlace[] } | null = null;
  #start: number | null = null;

  constructor(
    readonly view: EditorView,
    readonly tables: ReadonlyMap<string, TableCuts>,
    readonly scale: number,
    readonly added: readonly Added[],
    block: Pick<MeasuredBlock, 'position' | 'node' | 'element' | 'top' | 'bottom'>,
  ) {
    this.position = block.position;
    this.node = block.node;
    this.element = block.element;
    this.top = block.top;
    this.bottom = block.bottom;
    const look = (node: TextNode, position: number) => {
      const id = captionedId(node);
      if (id !== '') this.tetherIds.push(id);
      if (node.type.name === FOOTNOTE_NODE) this.#notes.push(position);
    };
    look(this.node, this.position);
    this.node.descendants((node, offset) => look(node, this.position + 1 + offset));
  }

  /** Where something in the block that stands at `y` on the screen stands in the flow without breaks. */
  readonly toFlow = (y: number): number => {
    this.#start ??= this.element.getBoundingClientRect().top;
    const room = this.added
      .filter(({ until }) => until <= y + 1)
      .reduce((sum, { height }) => sum + height, 0);
    return this.top + (y - this.#start) / this.scale - room;
  };

  get notes(): MeasuredNote[] {
    this.#measured ??= this.#notes.flatMap((position) => {
      const element = this.view.nodeDOM(position);
      if (!(element instanceof HTMLElement)) return [];
      const [number, words] = [...element.children].map((each) => each.getBoundingClientRect());
      if (!number || !words) return [];
      const at = this.toFlow((number.top + number.bottom) / 2);
      return [{ position, at, height: words.height / this.scale }];
    });
    return this.#measured;
  }

  get keepsWithNext(): boolean {
    return this.node.type.name === 'heading';
  }

  get endsPage(): boolean {
    return this.node.type.name === PAGE_BREAK_NODE;
  }

  get cuts(): Cut[] {
    return this.#look().cuts;
  }

  get places(): LazyPlace[] {
    return this.#look().places;
  }

  #look() {
    this.#found ??= this.#table() ?? this.#lines();
    return this.#found;
  }

  #table(): { cuts: Cut[]; places: LazyPlace[] } | null {
    const table = this.element.querySelector('[data-table]');
    if (!table) return null;
    const tetherId = this.tetherIds[0];
    const known = tetherId === undefined ? undefined : this.tables.get(tetherId);
    if (!known || tetherId === undefined) return { cuts: [], places: [] };
    const top = this.toFlow(table.getBoundingClientRect().top);
    return {
      cuts: known.cuts.map(({ at, repeat }) => ({ at: at + top, repeat })),
      places: known.places.map((row) => ({ kind: 'table', tetherId, row })),
    };
  }

  /** Between the lines of its text, never leaving one line alone. */
  #lines(): { cuts: Cut[]; places: LazyPlace[] } {
    const cuts: Cut[] = [];
    const places: LazyPlace[] = [];
    const visit = (node: TextNode, position: number, isFirstOfItem: boolean) => {
      if (node.type.name === 'tableRow') {
        const row = this.view.nodeDOM(position);
        const start = row instanceof HTMLElement ? this.toFlow(row.getBoundingClientRect().top) : 0;
        if (start > this.top + 1) {
          cuts.push({ at: start, repeat: 0 });
          places.push({ kind: 'before', position });
        }
        // No row is cut in two.
        return false;
      }
      if (!node.isTextblock || node.content.size === 0) return true;
      const element = this.view.nodeDOM(position);
      if (!(element instanceof HTMLElement)) return false;
      const start = this.toFlow(element.getBoundingClientRect().top);
      if (start > this.top + 1) {
        cuts.push({ at: start, repeat: 0 });
        // An item of a list takes its mark along.
        places.push({ kind: 'before', position: isFirstOfItem ? position - 1 : position });
      }
      const lines = linesOf(element, this);
      lines.forEach((at, index) => {
        // Two lines at least stay before the cut and go behind it; `lines` leaves out the first.
        if (index < 1 || index > lines.length - 2) return;
        cuts.push({ at, repeat: 0 });
        places.push(() => ({ kind: 'line', position: startOfLine(this, node, position, at) }));
      });
      return false;
    };
    if (visit(this.node, this.position, false)) {
      this.node.descendants((node, offset, parent, index) =>
        visit(node, this.position + 1 + offset, parent?.type.name === 'listItem' && index === 0),
      );
    }
    return { cuts, places };
  }
}

/** Where every line of a text but the first begins, in the flow without breaks. */
function linesOf(
  element: HTMLElement,
  { toFlow, scale }: Pick<Measured, 'toFlow' | 'scale'>,
): number[] {
  const range = document.createRange();
  range.selectNodeContents(element);
  const rooms = [...element.querySelectorAll(ROOM)].map((each) => each.getBoundingClientRect());
  const boxes = [...range.getClientRects()]
    .filter(({ height }) => height > 0)
    // The room of a break is no line.
    .filter(({ top, height }) => !rooms.some((room) => room.top === top && room.height === height))
    .map(({ top, bottom }) => {
      const start = toFlow(top);
      return { top: start, bottom: start + (bottom - top) / scale };
    });
  boxes.sort((a, b) => a.top + a.bottom - b.top - b.bottom);
  const starts: number[] = [];
  let bottom: number | null = null;
  for (const each of boxes) {
    const middle = (each.top + each.bottom) / 2;
    if (bottom !== null && middle > bottom) starts.push((bottom + each.top) / 2);
    if (bottom === null || middle > bottom) bottom = each.bottom;
    else bottom = Math.max(bottom, each.bottom);
  }
  return starts;
}

/** The first place in a text that stands on the line which begins at `y`. */
function startOfLine(block: Measured, node: TextNode, position: number, y: number): number {
  let [low, high] = [position + 1, position + 1 + node.content.size];
  while (low < high) {
    const middle = (low + high) >> 1;
    const { top, bottom } = block.view.coordsAtPos(middle, 1);
    if (block.toFlow(top) + (bottom - top) / 2 / block.scale > y) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Where a break is in the text. */
export function placeOf(blocks: readonly MeasuredBlock[], { block, cut }: PageBreak): Place {
  const found = blocks[block]!;
  if (cut === null) return { kind: 'before', position: found.position };
  const place = found.places[cut]!;
  return typeof place === 'function' ? place() : place;
}
