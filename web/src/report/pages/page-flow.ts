import {
  brokenHeight,
  type Cut,
  type FlowBlock,
  type PageBreak,
  paginate,
  roomAt,
  type SheetSize,
} from '@tether/core';
import { PAGE_BREAK_NODE } from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';
import { type EditorState, Plugin, PluginKey } from '@tiptap/pm/state';
import { Decoration, DecorationSet, type EditorView } from '@tiptap/pm/view';
import type { TableBreak } from '../../placed/PlacedTable.tsx';
import { placesThrough } from '../text/shared-text.ts';

/** A table in the text: where it may be cut, from its upper side. */
export interface TableCuts {
  cuts: Cut[];
  places: TableBreak['place'][];
}

/** What is known of the pages now. */
export interface PageState {
  count: number;
  /** The breaks within each object, by tether. */
  breaks: ReadonlyMap<string, TableBreak[]>;
  /** The page on which each object begins, from 1. */
  pageOf: ReadonlyMap<string, number>;
  /** The pages on which the headings of the text begin, in their order. */
  headings: readonly number[];
}

const NO_BREAKS: TableBreak[] = [];
const key = new PluginKey<DecorationSet>('pages');

/** How far apart sheets lie on the screen; in print they follow at once. */
export const SHEET_GAP = 20;

/**
 * Breaks the text of a report into pages: measures its blocks, leaving out what breaks have added, lets the core decide,
 * and puts room between the pages. Long tables say themselves where they can be cut, since they are not all drawn.
 */
export class PageFlow {
  #state: PageState = { count: 1, breaks: new Map(), pageOf: new Map(), headings: [] };
  readonly #tables = new Map<string, TableCuts>();
  readonly #listeners = new Set<() => void>();
  #view: EditorView | null = null;
  #sheet: SheetSize;
  #margins = 0;
  #gap = SHEET_GAP;
  #frame: number | null = null;
  /** Whether all has to be measured. */
  #isWhole = true;
  /** Blocks of the text, by index, in which something was written since they were measured. */
  readonly #written = new Set<number>();
  /** What was measured last. */
  #blocks: { element: HTMLElement; height: number; isBroken: boolean; beginsPage: boolean }[] = [];
  #signature = '';
  /** How high the text is with its breaks carried out; another height means that something in it changed. */
  #height = Number.NaN;

  constructor(sheet: SheetSize) {
    this.#sheet = sheet;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  readonly read = (): PageState => this.#state;
  readonly breaksOf = (tetherId: string): TableBreak[] =>
    this.#state.breaks.get(tetherId) ?? NO_BREAKS;

  /** The paper changed, or how far apart its sheets are drawn. */
  setSheet(sheet: SheetSize, margins: number, gap: number): void {
    this.#sheet = sheet;
    this.#margins = margins;
    this.#gap = gap;
    this.schedule();
  }

  /** Where a table may be cut; null when it is gone or cannot be cut. */
  setTable(tetherId: string, cuts: TableCuts | null): void {
    const known = this.#tables.get(tetherId);
    if (cuts) this.#tables.set(tetherId, cuts);
    else this.#tables.delete(tetherId);
    // Drawn as it was announced is nothing new.
    if (!known || !cuts || JSON.stringify(known.cuts) !== JSON.stringify(cuts.cuts))
      this.schedule();
  }

  /** Measures and breaks before the next frame is drawn. */
  schedule(): void {
    this.#isWhole = true;
    this.#inFrame();
  }

  /** The text changed: all is measured only if that may have changed where pages break. */
  #scheduleFor(before: TextNode, now: TextNode): void {
    const written = before.childCount === now.childCount ? writtenIn(before, now) : null;
    if (written) for (const index of written) this.#written.add(index);
    else this.#isWhole = true;
    this.#inFrame();
  }

  #inFrame(): void {
    if (this.#frame !== null || !this.#view) return;
    this.#frame = requestAnimationFrame(() => {
      this.#frame = null;
      if (!this.#isWhole) this.#isWhole = !this.#isAsHigh();
      this.#written.clear();
      if (this.#isWhole) this.breakNow();
    });
  }

  /** Whether all blocks that were written in are as high as before, and no page ends within one of them. */
  #isAsHigh(): boolean {
    const view = this.#view;
    if (!view || view.isDestroyed) return true;
    const scale = scaleOf(view.dom as HTMLElement);
    for (const index of this.#written) {
      const known = this.#blocks[index];
      if (!known || known.isBroken) return false;
      const element = view.nodeDOM(positionOf(view.state.doc, index));
      if (!(element instanceof HTMLElement) || element !== known.element) return false;
      const height = element.getBoundingClientRect().height / scale;
      if (Math.abs(height - known.height) > SAME_PX) return false;
      if (known.beginsPage && !element.classList.contains('begins-page')) return false;
    }
    return true;
  }

  /** The plugin that puts the room between pages into the text. */
  plugin(): Plugin {
    return new Plugin<DecorationSet>({
      key,
      state: {
        init: () => DecorationSet.empty,
        apply: (transaction, decorations, before: EditorState) => {
          const fresh = transaction.getMeta(key) as DecorationSet | undefined;
          if (fresh) return fresh;
          return decorations.map(placesThrough(transaction, before), transaction.doc);
        },
      },
      props: { decorations: (state) => key.getState(state) },
      view: (view) => {
        this.#view = view;
        const observer = new ResizeObserver(() => {
          // What the breaks themselves add is no change.
          if (Math.abs(view.dom.offsetHeight - this.#height) > 1) this.schedule();
        });
        observer.observe(view.dom);
        void document.fonts?.ready.then(() => this.schedule());
        this.schedule();
        return {
          update: (_, before) => {
            if (before.doc !== view.state.doc) this.#scheduleFor(before.doc, view.state.doc);
          },
          destroy: () => {
            observer.disconnect();
            // An editor that is made anew may be there before the old one goes.
            if (this.#view !== view) return;
            if (this.#frame !== null) cancelAnimationFrame(this.#frame);
            this.#frame = null;
            this.#view = null;
          },
        };
      },
    });
  }

  /** Measures and breaks at once. */
  breakNow(): void {
    const view = this.#view;
    if (!view || view.isDestroyed || view.composing) return;
    this.#isWhole = false;
    const { textHeight } = this.#sheet;
    const measured = measure(view, this.#tables);
    const pages = paginate(measured, textHeight);
    const { breaks, count } = pages;
    const places = breaks.map((each) => placeOf(measured, each));
    const pageGap = this.#margins + this.#gap;
    const decorations: Decoration[] = [];
    const tables = new Map<string, TableBreak[]>();
    breaks.forEach((each, index) => {
      const place = places[index]!;
      const height = roomAt(each, pageGap);
      if (place.kind === 'table') {
        tables.set(place.tetherId, [
          ...(tables.get(place.tetherId) ?? []),
          { place: place.row, gap: height },
        ]);
        return;
      }
      decorations.push(gapAt(view.state.doc, place, height));
    });
    const broken = new Set(breaks.flatMap(({ block, cut }) => (cut === null ? [] : [block])));
    const begun = new Set(breaks.flatMap(({ block, cut }) => (cut === null ? [block] : [])));
    this.#blocks = measured.map(({ element, top, bottom }, index) => ({
      element,
      height: bottom - top,
      isBroken: broken.has(index),
      beginsPage: begun.has(index),
    }));
    const pageOf = new Map<string, number>();
    const headings: number[] = [];
    let page = 1;
    measured.forEach((block, index) => {
      const own = breaks.filter((each) => each.block === index);
      for (const each of own) if (each.cut === null) page += each.pages;
      for (const id of block.tetherIds) pageOf.set(id, page);
      if (block.node.type.name === 'heading') headings.push(page);
      for (const each of own) if (each.cut !== null) page += each.pages;
    });
    this.#height = brokenHeight(pages, textHeight, pageGap);
    // The room is compared with what stands in the text: text that was replaced whole took its room along.
    const standing = key.getState(view.state)?.find() ?? [];
    if (placesOf(standing) !== placesOf(decorations)) {
      const set = DecorationSet.create(view.state.doc, decorations);
      view.dispatch(view.state.tr.setMeta(key, set).setMeta('addToHistory', false));
    }
    for (const [id, now] of tables) {
      const before = this.#state.breaks.get(id);
      if (before && isSameRoom(before, now)) tables.set(id, before);
    }
    const signature = JSON.stringify([count, [...pageOf], [...tables], headings]);
    if (signature === this.#signature) return;
    this.#signature = signature;
    this.#state = { count, breaks: tables, pageOf, headings };
    for (const listener of this.#listeners) listener();
  }
}

/** Less than this is a matter of rounding while measuring, and changes nothing on the screen. */
const SAME_PX = 0.05;

/** Whether a table is broken as before: then what draws it is not told anew. */
function isSameRoom(before: readonly TableBreak[], now: readonly TableBreak[]): boolean {
  return (
    before.length === now.length &&
    before.every(({ place, gap }, index) => {
      const other = now[index]!;
      return (
        place.strip === other.place.strip &&
        place.row === other.place.row &&
        Math.abs(gap - other.gap) < SAME_PX
      );
    })
  );
}

/** Where room is put into the text, and how much. */
function placesOf(decorations: readonly Decoration[]): string {
  const rounded = (height: number) => Math.round(height / SAME_PX);
  const places = decorations.map(({ from, spec }) => [from, rounded(spec.height)] as const);
  return JSON.stringify(places.sort((a, b) => a[0] - b[0]));
}

/**
 * The room before what begins a page. A block of the text gets it as a margin in the place of its own (`--above`): an element
 * between two blocks would change the margins that the style sheet gives to neighbours, and so what is measured next.
 */
function gapAt(
  text: TextNode,
  place: Exclude<Place, { kind: 'table' }>,
  height: number,
): Decoration {
  const { position } = place;
  if (place.kind === 'before' && text.resolve(position).depth === 0) {
    const end = position + text.nodeAt(position)!.nodeSize;
    const style = `--page-gap: ${height}px`;
    return Decoration.node(position, end, { class: 'begins-page', style }, { height });
  }
  const isInLine = place.kind === 'line';
  return Decoration.widget(
    position,
    () => {
      const gap = document.createElement(isInLine ? 'span' : 'div');
      gap.className = 'page-gap';
      gap.style.height = `${height}px`;
      gap.contentEditable = 'false';
      return gap;
    },
    { side: -1, key: `gap ${height}`, height, ignoreSelection: true },
  );
}

interface MeasuredBlock extends FlowBlock {
  position: number;
  node: TextNode;
  element: HTMLElement;
  /** Objects that stand in it. */
  tetherIds: string[];
  /** For each cut, where it is; found out when a page breaks there, since looking for a place takes long. */
  places: LazyPlace[];
}

type Place =
  | { kind: 'before'; position: number }
  | { kind: 'line'; position: number }
  | { kind: 'table'; tetherId: string; row: TableBreak['place'] };

type LazyPlace = Place | (() => Place);

/** How much smaller the text is drawn than it is on paper. */
function scaleOf(root: HTMLElement): number {
  // Not `offsetWidth`, which is rounded: over a hundred pages that adds up to several lines.
  const width = Number.parseFloat(getComputedStyle(root).width);
  return width > 0 ? root.getBoundingClientRect().width / width : 1;
}

/**
 * The blocks, by index, in which two texts of as many blocks differ, if only words were changed in lines of text; null where
 * more was.
 */
function writtenIn(before: TextNode, now: TextNode): number[] | null {
  const written: number[] = [];
  for (let index = 0; index < now.childCount; index++) {
    const [one, other] = [before.child(index), now.child(index)];
    if (one === other) continue;
    if (!one.isTextblock || !one.sameMarkup(other)) return null;
    written.push(index);
  }
  return written;
}

/** Where a block of the text begins. */
function positionOf(text: TextNode, index: number): number {
  let position = 0;
  for (let each = 0; each < index; each++) position += text.child(each).nodeSize;
  return position;
}

/** The blocks of the text as they stand without breaks: read off as they stand with them, and what these add taken away. */
function measure(view: EditorView, tables: ReadonlyMap<string, TableCuts>): MeasuredBlock[] {
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
    const note = (node: TextNode) => {
      if (node.attrs.tetherId) this.tetherIds.push(String(node.attrs.tetherId));
    };
    note(this.node);
    this.node.descendants(note);
  }

  /** Where something in the block that stands at `y` on the screen stands in the flow without breaks. */
  readonly toFlow = (y: number): number => {
    this.#start ??= this.element.getBoundingClientRect().top;
    const room = this.added
      .filter(({ until }) => until <= y + 1)
      .reduce((sum, { height }) => sum + height, 0);
    return this.top + (y - this.#start) / this.scale - room;
  };

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

function placeOf(blocks: readonly MeasuredBlock[], { block, cut }: PageBreak): Place {
  const found = blocks[block]!;
  if (cut === null) return { kind: 'before', position: found.position };
  const place = found.places[cut]!;
  return typeof place === 'function' ? place() : place;
}
