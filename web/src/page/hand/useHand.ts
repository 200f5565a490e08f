import type { Point } from '@tether/core';
import { type PointerEvent, type RefObject, useRef, useState } from 'react';
import { useAppDispatch } from '../../state/store.ts';
import { cellPicked, objectSelected, panelShown } from '../../state/workbench-slice.ts';
import { moveMark } from '../plan/plans.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import { isForLink } from '../words/RichText.tsx';
import { drawnThing, type Tool } from './drawn-by-hand.ts';
import { guidesAround, type Held, NOTHING_SEEN, type Seen, seenAt, touchedBy } from './hand.ts';
import type { PagePoint } from './usePagePoint.ts';
import { usePath } from './usePath.ts';

/** Pixels that a press may go before it moves something. */
const STILL = 3;
/** Cells that are typed in, handles of objects and cleats have presses of their own. */
const OWN_PRESSES =
  'button, a:not([data-leads]), input, textarea, select, [data-grip], [data-handle]';

interface Press {
  x: number;
  y: number;
  isMoved: boolean;
  /** The thing that was hit. */
  thing: string | null;
}

/**
 * What a pointer does on a page: it chooses things, moves them, makes them larger and turns them, and draws new ones.
 * `onWrite` is told of a text that was drawn, to be written in.
 */
// biome-ignore lint/complexity/noExcessiveLinesPerFunction: the pointer’s acts share what is held and pressed
export function useHand(props: {
  canvas: RefObject<HTMLElement | null>;
  surface: PageSurface;
  tool: Tool;
  point: PagePoint;
  /** Something was drawn: the next press chooses again. */
  onToolDone: () => void;
  onWrite: (text: string) => void;
}) {
  const { canvas, surface, tool, point, onToolDone, onWrite } = props;
  const { shown, newObjects } = surface;
  const dispatch = useAppDispatch();
  const held = useRef<Held | null>(null);
  const pressed = useRef<Press | null>(null);
  const [seen, setSeen] = useState<Seen>(NOTHING_SEEN);
  const path = usePath(surface, tool, point, () => {
    setSeen(NOTHING_SEEN);
    onToolDone();
  });
  const begin = (event: PointerEvent, what: Held | null, thing: string | null) => {
    held.current = what;
    pressed.current = { x: event.clientX, y: event.clientY, isMoved: false, thing };
  };
  const focus = () => canvas.current?.focus({ preventScroll: true });

  /** A press that puts something on the page, or draws. False where it is none. */
  const downWithTool = (event: PointerEvent, at: Point): boolean => {
    if (newObjects.waiting()) {
      newObjects.putWaiting(point.snapped(at, event));
      focus();
    } else if (path.points && tool === 'line') {
      path.add(path.next(at, event));
    } else if (tool !== 'choose' && surface.isEditable) {
      const guides = guidesAround(surface, new Set());
      begin(event, { kind: 'draw', from: point.snapped(at, event), guides }, null);
    } else return false;
    event.preventDefault();
    return true;
  };

  /** A press on no thing drags a frame over things. */
  const downOnPaper = (event: PointerEvent, at: Point) => {
    const kept = event.shiftKey ? shown.chosenIds() : new Set<string>();
    if (!event.shiftKey) shown.choose([]);
    begin(event, { kind: 'frame', from: at, kept }, null);
  };

  const downOnThing = (event: PointerEvent, at: Point, id: string) => {
    const mark = (event.target as Element).closest<SVGElement>('[data-mark]');
    const marks = surface.pages.thing(id);
    if (mark && marks?.kind === 'marks') {
      const { mark: key = '', row = '' } = mark.dataset;
      begin(event, { kind: 'mark', from: at, thing: marks, key, row: Number(row) }, null);
      return;
    }
    if (event.shiftKey) {
      const next = new Set(shown.chosenIds());
      if (next.has(id)) next.delete(id);
      else next.add(id);
      shown.choose(next);
      return;
    }
    if (!shown.chosenIds().has(id)) shown.choose([id]);
    begin(event, heldToMove(surface, at), id);
  };

  const down = (event: PointerEvent) => {
    if (event.button !== 0) return;
    const target = event.target as Element;
    if (target.closest(OWN_PRESSES) || isForLink(event, surface.isEditable)) return;
    const at = point.of(event);
    if (downWithTool(event, at)) return;
    const id = target.closest('[data-thing]')?.getAttribute('data-thing') ?? null;
    focus();
    if (id === null) downOnPaper(event, at);
    else downOnThing(event, at, id);
  };

  /** A grip of a chosen thing was pressed. */
  const grip = (what: Held, event: PointerEvent) => {
    if (event.button !== 0) return;
    event.preventDefault();
    event.stopPropagation();
    begin(event, what, null);
    canvas.current?.setPointerCapture(event.pointerId);
  };

  const move = (event: PointerEvent) => {
    const at = point.of(event);
    shown.setPointer(at);
    if (path.points && !held.current) {
      setSeen({ ...NOTHING_SEEN, line: [path.points.at(-1)!, path.next(at, event)] });
      return;
    }
    const press = pressed.current;
    if (!press || !held.current) return;
    if (!press.isMoved) {
      if (Math.hypot(event.clientX - press.x, event.clientY - press.y) < STILL) return;
      press.isMoved = true;
      // Captured only now: a press that does not move is a click on what it hit, such as a cell.
      canvas.current?.setPointerCapture(event.pointerId);
    }
    setSeen(seenAt(held.current, at, event, point.snapping()));
  };

  /** Lets go of what is held, without doing anything. Gives what it was. */
  const letGo = () => {
    const [what, press] = [held.current, pressed.current];
    held.current = null;
    pressed.current = null;
    setSeen(NOTHING_SEEN);
    return what && press && { what, press };
  };

  const up = (event: PointerEvent) => {
    const was = letGo();
    if (!was) return;
    const { what, press } = was;
    const at = point.of(event);
    const last = seenAt(what, at, event, point.snapping());
    if (what.kind === 'draw') finishDrawing(what.from, last, press.isMoved);
    else if (what.kind === 'mark') {
      if (press.isMoved) moveMark(surface, what.thing, what.key, at);
      else showRow(what.thing.of, what.row);
    } else if (press.isMoved) finishHeld(surface, what, last);
    // A press on one of several that are chosen chooses it alone.
    else if (press.thing && !event.shiftKey) shown.choose([press.thing]);
  };

  /** Shows the row that a mark stands for: in its table, and in the source where that stands beside. */
  const showRow = (tetherId: string, row: number) => {
    surface.select(tetherId);
    dispatch(objectSelected(tetherId));
    dispatch(cellPicked({ tetherId, row, column: null }));
    dispatch(panelShown(true));
  };

  const finishDrawing = (from: Point, last: Seen, isMoved: boolean) => {
    // A click instead of a drag begins a line of several points.
    if (tool === 'line' && !isMoved) {
      path.begin(from);
      return;
    }
    const made = drawnThing(tool, surface, from, last, isMoved);
    onToolDone();
    if (made === null) return;
    if (typeof made === 'string') onWrite(made);
    else {
      surface.steps.add([made]);
      focus();
    }
  };

  return {
    /** What is to be seen of what the pointer does. */
    seen,
    path,
    down,
    move,
    up,
    grip,
    letGo,
    isHolding: () => held.current !== null,
  };
}

/** The chosen things that may be moved, as a pointer holds them; null where none may. */
function heldToMove(surface: PageSurface, from: Point): Held | null {
  const { shown, boxes } = surface;
  const free = shown.chosenThings().filter((thing) => shown.isFree(thing));
  if (free.length === 0) return null;
  const places = boxes.all();
  return {
    kind: 'move',
    from,
    ids: free.map((thing) => thing.id),
    boxes: free.map((thing) => places.get(thing.id)!),
    guides: guidesAround(surface, shown.chosenIds()),
  };
}

/** Does what a pointer that moved was held for. */
function finishHeld(surface: PageSurface, what: Held, last: Seen): void {
  if (what.kind === 'move' && last.by) surface.steps.moveChosen(last.by);
  if ((what.kind === 'size' || what.kind === 'turn') && last.box) {
    surface.steps.setBox(what.id, last.box);
  }
  if (what.kind === 'frame' && last.frame) {
    surface.shown.choose([...what.kept, ...touchedBy(surface, last.frame)]);
  }
}
