import {
  brokenHeight,
  NOTES_GAP,
  type Pages,
  type Paper,
  PIXELS_PER_MM,
  paginateRuns,
  roomAt,
} from '@tether/core';
import { FOOTNOTE_NODE } from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';
import { type EditorState, Plugin, PluginKey } from '@tiptap/pm/state';
import { Decoration, DecorationSet, type EditorView } from '@tiptap/pm/view';
import type { TableBreak } from '../../placed/table/PlacedTable.tsx';
import { placesThrough } from '../text/shared/shared-text.ts';
import {
  type MeasuredBlock,
  measure,
  type Place,
  placeOf,
  scaleOf,
  type TableCuts,
} from './measure.ts';
import {
  asTurned,
  Insets,
  type Orientation,
  objectsTurned,
  orientationsIn,
  runsIn,
  type Sheets,
  sheetsOf,
} from './orientation.ts';

/** What is known of the pages now. */
export interface PageState {
  count: number;
  /** The breaks within each object, by tether. */
  breaks: ReadonlyMap<string, TableBreak[]>;
  /** The page on which each object begins, from 1. */
  pageOf: ReadonlyMap<string, number>;
  /** The pages on which the headings of the text begin, in their order. */
  headings: readonly number[];
  /** How each page is turned. */
  sheets: readonly Orientation[];
  /** How the pages are turned of objects that stand in a section of its own paper. */
  turned: ReadonlyMap<string, Orientation>;
}

/** A text that is not broken into pages. */
export const ONE_PAGE: PageState = {
  count: 1,
  breaks: new Map(),
  pageOf: new Map(),
  headings: [],
  sheets: ['portrait'],
  turned: new Map(),
};

const NO_BREAKS: TableBreak[] = [];
const key = new PluginKey<DecorationSet>('pages');

/** How far apart sheets lie on the screen; in print they follow at once. */
export const SHEET_GAP = 20;

/**
 * Breaks the text of a report into pages: measures its blocks, leaving out what breaks have added, lets the core decide,
 * and puts room between the pages. Long tables say themselves where they can be cut, since they are not all drawn.
 */
export class PageFlow {
  #state: PageState = ONE_PAGE;
  readonly #tables = new Map<string, TableCuts>();
  readonly #listeners = new Set<() => void>();
  #view: EditorView | null = null;
  #paper: Paper;
  #gap = SHEET_GAP;
  readonly #insets = new Insets();
  #frame: number | null = null;
  /** Whether all has to be measured. */
  #isWhole = true;
  /** Blocks of the text, by index, in which something was written since they were measured. */
  readonly #written = new Set<number>();
  /** What was measured last. */
  #blocks: {
    element: HTMLElement;
    height: number;
    isBroken: boolean;
    beginsPage: boolean;
    hasNotes: boolean;
  }[] = [];
  #signature = '';
  /** How high the text is with its breaks carried out; another height means that something in it changed. */
  #height = Number.NaN;

  constructor(paper: Paper) {
    this.#paper = paper;
    this.#state = { ...this.#state, sheets: [asTurned(paper)] };
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  readonly read = (): PageState => this.#state;
  readonly breaksOf = (tetherId: string): TableBreak[] =>
    this.#state.breaks.get(tetherId) ?? NO_BREAKS;

  /** The paper changed, or how far apart its sheets are drawn. */
  setPaper(paper: Paper, gap: number): void {
    this.#paper = paper;
    this.#gap = gap;
    this.#orient();
    this.schedule();
  }

  /** Finds which objects stand on sheets that are turned otherwise than the document's own. */
  #orient(): void {
    const view = this.#view;
    if (!view || view.isDestroyed) return;
    const orientations = orientationsIn(view.state.doc, asTurned(this.#paper));
    const turned = objectsTurned(view.state.doc, orientations, asTurned(this.#paper));
    if (JSON.stringify([...turned]) !== JSON.stringify([...this.#state.turned])) {
      this.#state = { ...this.#state, turned };
      for (const listener of this.#listeners) listener();
    }
    // The sheets lie side by side in the middle on a screen, and one upon the other in print.
    this.#insets.set(view, this.#paper, this.#gap > 0);
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
      // A note that grew takes room from the text of its page.
      if (!known || known.isBroken || known.hasNotes) return false;
      if (hasNote(view.state.doc.child(index))) return false;
      const element = view.nodeDOM(positionOf(view.state.doc, index));
      if (!(element instanceof HTMLElement) || element !== known.element) return false;
      const height = element.getBoundingClientRect().height / scale;
      if (Math.abs(height - known.height) > SAME_PX) return false;
      if (known.beginsPage && !element.classList.contains('begins-page')) return false;
    }
    return true;
  }

  /** The plugin that keeps blocks within the text of their sheets, where these are not all as wide. */
  insets(): Plugin {
    return this.#insets.plugin(() => this.#paper);
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
        this.#orient();
        this.schedule();
        return {
          update: (_, before) => {
            if (before.doc === view.state.doc) return;
            this.#orient();
            this.#scheduleFor(before.doc, view.state.doc);
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
    const measured = measure(view, this.#tables);
    const own = asTurned(this.#paper);
    const orientations = orientationsIn(view.state.doc, own);
    const sheets = sheetsOf(this.#paper);
    const runs = runsIn(
      measured.map(({ node }) => node),
      orientations,
      own,
    );
    const heights = runs.map(({ from, turned }) => ({ from, height: sheets[turned].textHeight }));
    const pages = paginateRuns(measured, heights);
    const { breaks, count } = pages;
    const places = breaks.map((each) => placeOf(measured, each));
    const turned = pages.pages.map(({ run }) => runs[run]!.turned);
    const between = this.#between(sheets, turned);
    const decorations: Decoration[] = [];
    const tables = new Map<string, TableBreak[]>();
    breaks.forEach((each, index) => {
      const place = places[index]!;
      const height = roomAt(each, between(each.height));
      if (place.kind === 'table') {
        tables.set(place.tetherId, [
          ...(tables.get(place.tetherId) ?? []),
          { place: place.row, gap: height },
        ]);
        return;
      }
      decorations.push(gapAt(view.state.doc, place, height));
    });
    decorations.push(
      ...notesAt(view.state.doc, measured, pages, (page) => sheets[turned[page]!], between),
    );
    const broken = new Set(breaks.flatMap(({ block, cut }) => (cut === null ? [] : [block])));
    const begun = new Set(breaks.flatMap(({ block, cut }) => (cut === null ? [block] : [])));
    this.#blocks = measured.map(({ element, top, bottom }, index) => ({
      element,
      height: bottom - top,
      isBroken: broken.has(index),
      beginsPage: begun.has(index),
      hasNotes: measured[index]!.notes.length > 0,
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
    this.#height = brokenHeight(pages, between);
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
    const signature = JSON.stringify([count, [...pageOf], [...tables], headings, turned]);
    if (signature === this.#signature) return;
    this.#signature = signature;
    this.#state = {
      ...this.#state,
      count,
      breaks: tables,
      pageOf,
      headings,
      sheets: turned,
    };
    for (const listener of this.#listeners) listener();
  }

  /**
   * Pixels between the texts of pages whose text is so high and of those behind them. In print sheets are cut out of paper
   * as large as the largest of them: what is lower leaves room below.
   */
  #between(sheets: Sheets, turned: readonly Orientation[]): (textHeight: number) => number {
    const { top, bottom } = this.#paper.margins;
    const margins = (top + bottom) * PIXELS_PER_MM;
    if (this.#gap > 0) return () => margins + this.#gap;
    const highest = Math.max(...turned.map((each) => sheets[each].height));
    return (textHeight) => {
      const sheet = Object.values(sheets).find((each) => each.textHeight === textHeight);
      return margins + (sheet ? Math.max(0, highest - sheet.height) : 0);
    };
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

/** Where each note stands at the foot of its page, by its number in the text. */
function notesAt(
  text: TextNode,
  measured: readonly MeasuredBlock[],
  { pages }: Pages,
  sheetOf: (page: number) => { textHeight: number; textWidth: number },
  between: (height: number) => number,
): Decoration[] {
  const notes = measured.flatMap((block) => block.notes);
  if (notes.length === 0) return [];
  const decorations: Decoration[] = [];
  let top = 0;
  pages.forEach(({ from, to }, page) => {
    const { textHeight, textWidth } = sheetOf(page);
    const own = notes.filter(({ at }) => at >= from && at < to);
    let y = top + textHeight - own.reduce((sum, { height }) => sum + height, 0);
    own.forEach(({ position, height }, index) => {
      const style = `--note-top: ${y}px; --note-width: ${textWidth}px; --note-gap: ${NOTES_GAP}px`;
      const end = position + text.nodeAt(position)!.nodeSize;
      const first = index === 0 ? { class: 'is-first' } : {};
      decorations.push(Decoration.node(position, end, { style, ...first }, { height: y }));
      y += height;
    });
    top += textHeight + between(textHeight);
  });
  return decorations;
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

/** Whether a block has notes. */
function hasNote(block: TextNode): boolean {
  let isFound = false;
  block.descendants(({ type }) => {
    isFound ||= type.name === FOOTNOTE_NODE;
    return !isFound;
  });
  return isFound;
}

/** Where a block of the text begins. */
function positionOf(text: TextNode, index: number): number {
  let position = 0;
  for (let each = 0; each < index; each++) position += text.child(each).nodeSize;
  return position;
}
