import { type CordState, drawCord, endAt, heldAlong, type Pane, type Point } from '@tether/core';
import type { GridView } from '../sources/SheetGrid.tsx';
import type { ObjectCells } from './useObjectCells.ts';

/** One cord: its object, how that stands, and where its cells are. */
export interface CordLine extends CordState {
  tetherId: string;
  sourceId: string;
  cells: ObjectCells | undefined;
}

/** What is drawn of one cord, and what is pressed. */
interface Drawn {
  group: SVGGElement;
  cord: SVGPathElement;
  touch: SVGPathElement;
  strands: SVGPathElement;
  knot: SVGPathElement;
  ends: [SVGCircleElement, SVGCircleElement];
}

/** Where things lie between two changes of the arrangement: pixels from the upper left corner of what is scrolled. */
interface Measured {
  text: {
    pane: Pane;
    marks: Map<string, Marked>;
    /** The right side of what is written. */
    edge: number;
  };
  cells: { pane: Pane; view: GridView | null; offset: Point };
  tabs: Map<string, Pane>;
  /** The left side of the source. */
  rim: number;
}

/** An object and its mark; one in a line of text has words beside it. */
interface Marked {
  object: Pane;
  mark: Pane;
  isInLine: boolean;
}

/** Pixels below its tab at which a cord comes to a sheet or source that is not shown. */
const BELOW_TAB = 3;

/**
 * Draws the cords of a document. What lies where is measured when the arrangement changes; scrolling alone only shifts
 * what was measured, so that a frame costs a few strings for each cord and no layout.
 */
export class CordRig {
  readonly #svg: SVGSVGElement;
  readonly #text: HTMLElement;
  #view: GridView | null = null;
  #lines: readonly CordLine[] = [];
  #shown: { sourceId: string | null; sheet: string | null } = { sourceId: null, sheet: null };
  #measured: Measured | null = null;
  #frame: number | null = null;
  readonly #drawn = new Map<string, Drawn>();
  readonly #observer: ResizeObserver;

  /** `svg` lies over both panes, `text` is the scrolled pane of the document. */
  constructor(svg: SVGSVGElement, text: HTMLElement) {
    this.#svg = svg;
    this.#text = text;
    this.#observer = new ResizeObserver(() => this.rearranged());
    this.#observer.observe(svg);
    this.#observer.observe(text);
    for (const child of text.children) this.#observer.observe(child);
    text.addEventListener('scroll', this.#scrolled, { passive: true });
  }

  /** What is to be drawn, and which sheet of which source stands beside the document. */
  set(lines: readonly CordLine[], shown: { sourceId: string | null; sheet: string | null }): void {
    this.#lines = lines;
    this.#shown = shown;
    for (const [id, { group }] of this.#drawn) {
      if (!group.isConnected) this.#drawn.delete(id);
    }
    this.rearranged();
  }

  /** The grid beside the document, or null while there is none. */
  setView(view: GridView | null): void {
    if (this.#view?.scroller !== view?.scroller) {
      this.#view?.scroller.removeEventListener('scroll', this.#scrolled);
      if (this.#view) this.#observer.unobserve(this.#view.scroller);
      view?.scroller.addEventListener('scroll', this.#scrolled, { passive: true });
      if (view) this.#observer.observe(view.scroller);
    }
    this.#view = view;
    this.rearranged();
  }

  /** Something may lie elsewhere now: it is measured again before the next frame. */
  rearranged(): void {
    this.#measured = null;
    this.#schedule();
  }

  close(): void {
    this.#observer.disconnect();
    this.#text.removeEventListener('scroll', this.#scrolled);
    this.#view?.scroller.removeEventListener('scroll', this.#scrolled);
    if (this.#frame !== null) cancelAnimationFrame(this.#frame);
    this.#frame = null;
  }

  readonly #scrolled = () => this.#schedule();

  #schedule(): void {
    this.#frame ??= requestAnimationFrame(() => {
      this.#frame = null;
      this.draw();
    });
  }

  /** Draws all cords as things lie now. */
  draw(): void {
    this.#measured ??= this.#measure();
    const { text, cells, tabs, rim } = this.#measured;
    const scroll = { x: this.#text.scrollLeft, y: this.#text.scrollTop };
    const gridScroll = cells.view
      ? { x: cells.view.scroller.scrollLeft, y: cells.view.scroller.scrollTop }
      : { x: 0, y: 0 };
    for (const line of this.#lines) {
      const drawn = this.#drawnOf(line.tetherId);
      if (!drawn) continue;
      const marks = text.marks.get(line.tetherId);
      if (!marks) {
        drawn.group.style.display = 'none';
        continue;
      }
      const object = moved(marks.object, scroll);
      const mark = moved(marks.mark, scroll);
      const y = Math.min(object.bottom, Math.max((mark.top + mark.bottom) / 2, text.pane.top + 6));
      const isOutside = endAt(object, 'right', y, text.pane).isOutside;
      const held = endAt(mark, 'right', y, text.pane);
      const edge = text.edge - scroll.x;
      // Out of a line of text it goes below the words, not through them.
      const below = marks.isInLine && !isOutside && held.x < edge ? object.bottom : null;
      const from = below === null ? { ...held, isOutside } : { x: edge, y: below, isOutside };
      const isHere = line.sourceId === this.#shown.sourceId;
      const isOnSheet = isHere && line.cells?.sheet === this.#shown.sheet && cells.view !== null;
      let to: Point & { isOutside: boolean };
      let along = '';
      let end: Point | null = null;
      if (isOnSheet) {
        const { top, left, width, height } = cells.view!.boxOf(line.cells!.area);
        const box = moved(
          { top, left, right: left + width, bottom: top + height },
          { x: gridScroll.x - cells.offset.x, y: gridScroll.y - cells.offset.y },
        );
        const { at, edge: side } = heldAlong(box, cells.pane);
        to = at;
        if (side !== null) {
          along = `H${side.toFixed(1)}`;
          end = { x: side, y: to.y };
        }
      } else {
        const tab =
          (isHere && tabs.get(`sheet ${line.cells?.sheet}`)) || tabs.get(`source ${line.sourceId}`);
        if (!tab) {
          drawn.group.style.display = 'none';
          continue;
        }
        to = { x: rim, y: tab.bottom + BELOW_TAB, isOutside: true };
        // Along below the tabs, so that it crosses no cells.
        along = `H${(tab.left + 8).toFixed(1)}V${tab.bottom.toFixed(1)}`;
        end = { x: tab.left + 8, y: tab.bottom };
      }
      // One of which neither end is on the screen says nothing there, and is not painted.
      const isAsked = drawn.group.classList.contains('is-selected');
      if (from.isOutside && to.isOutside && !isAsked) {
        drawn.group.style.display = 'none';
        continue;
      }
      const shape = drawCord(from, to, line);
      drawn.group.style.display = '';
      drawn.group.classList.toggle('is-elsewhere', !isOnSheet);
      drawn.group.classList.toggle('is-scrolled-out', from.isOutside || to.isOutside);
      const lead =
        below === null ? '' : `M${held.x.toFixed(1)} ${below.toFixed(1)}H${edge.toFixed(1)}`;
      drawn.cord.setAttribute('d', lead + shape.path + (shape.strands === null ? along : ''));
      drawn.touch.setAttribute('d', shape.path);
      drawn.strands.setAttribute('d', shape.strands ?? '');
      drawn.knot.setAttribute('d', shape.knot ?? '');
      place(drawn.ends[0], below === null ? from : { x: held.x, y: below });
      place(drawn.ends[1], end ?? to);
    }
  }

  #measure(): Measured {
    const { left: x, top: y } = this.#svg.getBoundingClientRect();
    const inside = (element: Element): Pane => {
      const box = element.getBoundingClientRect();
      return { top: box.top - y, bottom: box.bottom - y, left: box.left - x, right: box.right - x };
    };
    const scroll = { x: -this.#text.scrollLeft, y: -this.#text.scrollTop };
    const marks: Measured['text']['marks'] = new Map();
    for (const element of this.#text.querySelectorAll<HTMLElement>('[data-tether-id]')) {
      const cleat = element.querySelector('.cleat') ?? element;
      marks.set(element.dataset.tetherId!, {
        object: moved(inside(element), scroll),
        mark: moved(inside(cleat), scroll),
        isInLine: element.tagName === 'SPAN',
      });
    }
    const tabs = new Map<string, Pane>();
    const around = this.#svg.parentElement!;
    for (const element of around.querySelectorAll<HTMLElement>('[data-source-tab]')) {
      tabs.set(`source ${element.dataset.sourceTab}`, inside(element));
    }
    for (const element of around.querySelectorAll<HTMLElement>('[data-sheet-tab]')) {
      tabs.set(`sheet ${element.dataset.sheetTab}`, inside(element));
    }
    const source = around.querySelector('[data-source-pane]');
    const rim = source ? inside(source).left : inside(this.#text).right;
    const view = this.#view;
    const written = this.#text.querySelector('.paper-text, .page-paper');
    // Only between text and cells can a cord be pressed: over them a press means what lies below it.
    const reach = this.#svg.querySelector('#cord-reach rect');
    const from = written ? Math.min(rim, inside(written).right) : 0;
    reach?.setAttribute('x', from.toFixed(1));
    reach?.setAttribute('width', Math.max(0, rim + (view?.headers.left ?? 0) - from).toFixed(1));
    const grid = view ? inside(view.scroller) : { top: 0, bottom: 0, left: 0, right: 0 };
    return {
      text: {
        pane: inside(this.#text),
        marks,
        edge: (written ? inside(written).right : 0) + this.#text.scrollLeft,
      },
      cells: {
        view,
        offset: { x: grid.left, y: grid.top },
        pane: view
          ? {
              top: grid.top + view.headers.top,
              left: grid.left + view.headers.left,
              bottom: grid.top + view.scroller.clientHeight,
              right: grid.left + view.scroller.clientWidth,
            }
          : grid,
      },
      tabs,
      rim,
    };
  }

  #drawnOf(tetherId: string): Drawn | null {
    const known = this.#drawn.get(tetherId);
    if (known?.group.isConnected) return known;
    const group = this.#svg.querySelector<SVGGElement>(`[data-cord="${tetherId}"]`);
    if (!group) return null;
    const part = <T extends SVGElement>(name: string) => group.querySelector<T>(`.${name}`)!;
    const drawn: Drawn = {
      group,
      cord: part('cord'),
      touch: part('cord-touch'),
      strands: part('cord-strands'),
      knot: part('cord-knot'),
      ends: [part('cord-at-object'), part('cord-at-cells')],
    };
    this.#drawn.set(tetherId, drawn);
    return drawn;
  }
}

/** A box after scrolling. */
function moved({ top, bottom, left, right }: Pane, { x, y }: Point): Pane {
  return { top: top - y, bottom: bottom - y, left: left - x, right: right - x };
}

function place(end: SVGCircleElement, { x, y }: Point): void {
  end.setAttribute('cx', x.toFixed(1));
  end.setAttribute('cy', y.toFixed(1));
}
