import {
  type Box,
  boundsOf,
  distance,
  PIXELS_PER_MM,
  type Point,
  type TurnedBox,
} from '@tether/core';
import type { Thing } from '@tether/documents';
import {
  type ClipboardEvent,
  type DragEvent,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  type RefObject,
  useCallback,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from 'react';
import { useSurface } from '../../documents/surface.ts';
import { useAppDispatch, useAppStore } from '../../state/store.ts';
import { cellPicked, objectSelected, panelShown } from '../../state/workbench-slice.ts';
import { moveMark } from '../plan/plans.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import { isOfPoints, shifted, ThingView } from '../things/ThingView.tsx';
import { isForLink } from '../words/RichText.tsx';
import { drawnThing, pathThing, type Tool } from './drawn-by-hand.ts';
import { Grips } from './Grips.tsx';
import { HandOverlay } from './HandOverlay.tsx';
import { guidesAround, type Held, NOTHING_SEEN, type Seen, seenAt, touchedBy } from './hand.ts';
import { AROUND_PAGE } from './usePageScale.ts';
import { useZoomByWheel } from './useZoomByWheel.ts';

/** Pixels of the screen within which things snap, and that a press may go before it moves something. */
const SNAP_REACH = 6;
/** How small a page is drawn until the cleats of its objects get smaller with it. */
const SMALLEST_FOR_MARKS = 0.45;
const STILL = 3;

interface Props {
  documentId: string;
  name: string;
  surface: PageSurface;
  scale: number;
  pane: RefObject<HTMLElement | null>;
  tool: Tool;
  /** Something was drawn: the next press chooses again. */
  onToolDone: () => void;
  /** What lies under all things of the page: its frame. */
  ground: ReactNode;
  grid: number | null;
  /** Keys that the canvas itself knows nothing of. */
  onKey: (event: KeyboardEvent) => void;
  onPaste: (event: ClipboardEvent) => void;
  onCopy: (event: ClipboardEvent, isCut: boolean) => void;
  onDrop: (event: DragEvent, at: Point) => void;
}

const NOTHING_DRAGGED = null;
const px = (millimetres: number) => millimetres * PIXELS_PER_MM;

/** The page that is shown, with everything on it, and what is done to it by pointer and keys. */
export function PageCanvas(props: Props) {
  const { documentId, surface, scale, pane, tool, ground, grid } = props;
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const canvas = useRef<HTMLDivElement>(null);
  const held = useRef<Held | null>(null);
  const pressed = useRef<{ x: number; y: number; isMoved: boolean; thing: string | null } | null>(
    null,
  );
  const [seen, setSeen] = useState<Seen>(NOTHING_SEEN);
  const [writing, setWriting] = useState<string | null>(null);
  /** The points of a line that is being drawn by clicks; null while none is. */
  const [path, setPath] = useState<readonly Point[] | null>(null);

  const page = useSurface(surface, (now) => (now as PageSurface).shown.page());
  const things = useRevision(surface, () => surface.shown.thingsHere());
  const places = useRevision(surface, () => surface.boxes.all());
  const chosen = useRevision(surface, () => surface.shown.chosenIds());
  // Another layer draws its things anew.
  useSurface(surface, () => surface.pages.layers());
  const settings = useSurface(surface, () => surface.pages.settings());
  const isWaiting = useSurface(surface, () => surface.newObjects.waiting() !== null);
  const size = surface.shown.size(page);
  const space = surface.shown.space(page);
  const spaceNow = useStable(space);

  useEffect(() => {
    surface.shown.setCanvas(canvas.current);
    return () => surface.shown.setCanvas(null);
  }, [surface]);
  useZoomByWheel(pane, canvas, scale);
  // Whoever takes up something else draws on no line.
  useEffect(() => {
    if (tool !== 'line') setPath(null);
  }, [tool]);

  const pointOf = useCallback(
    (event: { clientX: number; clientY: number }): Point => {
      const box = canvas.current!.getBoundingClientRect();
      const perMm = box.width / size.width;
      return { x: (event.clientX - box.left) / perMm, y: (event.clientY - box.top) / perMm };
    },
    [size.width],
  );
  const snapping = () => ({
    grid,
    reach: SNAP_REACH / (scale * PIXELS_PER_MM),
    origin: { x: space.x, y: space.y },
  });

  /** A place of the page, snapped to what is around it. */
  const snapped = (at: Point, keys: { shiftKey: boolean; altKey: boolean }): Point => {
    const guides = guidesAround(surface, new Set());
    const { frame } = seenAt({ kind: 'draw', from: at, guides }, at, keys, snapping());
    return { x: frame!.x + frame!.width, y: frame!.y + frame!.height };
  };

  const showPanel = useCallback(
    (thing: Thing) => {
      surface.shown.choose([thing.id]);
      if (thing.kind === 'object') dispatch(objectSelected(thing.tetherId));
      dispatch(panelShown(true));
    },
    [surface, dispatch],
  );
  const written = useCallback(() => {
    setWriting(null);
    // Whoever ended it by a key goes on with the page.
    requestAnimationFrame(() => {
      if (document.activeElement === document.body) canvas.current?.focus();
    });
  }, []);

  const down = (event: PointerEvent) => {
    if (event.button !== 0) return;
    const target = event.target as Element;
    // Cells that are typed in, handles of objects and cleats have presses of their own.
    if (
      target.closest(
        'button, a:not([data-leads]), input, textarea, select, [data-grip], [data-handle]',
      )
    )
      return;
    if (isForLink(event, surface.isEditable)) return;
    const at = pointOf(event);
    if (surface.newObjects.waiting()) {
      event.preventDefault();
      surface.newObjects.putWaiting(snapped(at, event));
      canvas.current?.focus({ preventScroll: true });
      return;
    }
    if (path && tool === 'line') {
      event.preventDefault();
      addToPath(endOfPath(path, at, event));
      return;
    }
    if (tool !== 'choose' && surface.isEditable) {
      event.preventDefault();
      const guides = guidesAround(surface, new Set());
      begin(event, { kind: 'draw', from: snapped(at, event), guides }, null);
      return;
    }
    const id = target.closest('[data-thing]')?.getAttribute('data-thing') ?? null;
    canvas.current?.focus({ preventScroll: true });
    if (id === null) {
      const kept = event.shiftKey ? surface.shown.chosenIds() : new Set<string>();
      if (!event.shiftKey) surface.shown.choose([]);
      begin(event, { kind: 'frame', from: at, kept }, null);
      return;
    }
    const mark = target.closest('[data-mark]');
    const marks = surface.pages.thing(id);
    if (mark && marks?.kind === 'marks') {
      const { mark: key = '', row = '' } = (mark as SVGElement).dataset;
      begin(event, { kind: 'mark', from: at, thing: marks, key, row: Number(row) }, null);
      return;
    }
    if (event.shiftKey) {
      const next = new Set(surface.shown.chosenIds());
      if (next.has(id)) next.delete(id);
      else next.add(id);
      surface.shown.choose(next);
      return;
    }
    if (!surface.shown.chosenIds().has(id)) surface.shown.choose([id]);
    const free = surface.shown.chosenThings().filter((thing) => surface.shown.isFree(thing));
    const now = surface.boxes.all();
    begin(
      event,
      free.length === 0
        ? null
        : {
            kind: 'move',
            from: at,
            ids: free.map((thing) => thing.id),
            boxes: free.map((thing) => now.get(thing.id)!),
            guides: guidesAround(surface, surface.shown.chosenIds()),
          },
      id,
    );
  };

  const begin = (event: PointerEvent, what: Held | null, thing: string | null) => {
    held.current = what;
    pressed.current = { x: event.clientX, y: event.clientY, isMoved: false, thing };
  };

  const grip = (what: Held, event: PointerEvent) => {
    if (event.button !== 0) return;
    event.preventDefault();
    event.stopPropagation();
    begin(event, what, null);
    canvas.current?.setPointerCapture(event.pointerId);
  };

  /** Where the next point of a line comes to stand. */
  const endOfPath = (points: readonly Point[], at: Point, event: PointerEvent): Point => {
    const guides = guidesAround(surface, new Set());
    return seenAt({ kind: 'draw', from: points.at(-1)!, guides }, at, event, snapping()).line![1];
  };
  const addToPath = (point: Point) => {
    const [first] = path!;
    const reach = SNAP_REACH / (scale * PIXELS_PER_MM);
    if (path!.length > 2 && first && distance(first, point) <= reach) endPath(true);
    else setPath([...path!, point]);
  };
  const endPath = (isClosed: boolean) => {
    const made = path && pathThing(path, surface, isClosed);
    setPath(null);
    setSeen(NOTHING_SEEN);
    props.onToolDone();
    if (made) surface.steps.add([made]);
    // Keys act on what was drawn.
    canvas.current?.focus({ preventScroll: true });
  };

  const move = (event: PointerEvent) => {
    surface.shown.setPointer(pointOf(event));
    if (path && !held.current) {
      const end = endOfPath(path, pointOf(event), event);
      setSeen({ ...NOTHING_SEEN, line: [path.at(-1)!, end] });
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
    setSeen(seenAt(held.current, pointOf(event), event, snapping()));
  };

  const up = (event: PointerEvent) => {
    const [what, press] = [held.current, pressed.current];
    held.current = null;
    pressed.current = null;
    setSeen(NOTHING_SEEN);
    if (!what || !press) return;
    const at = pointOf(event);
    if (what.kind === 'draw') {
      finishDrawing(what, seenAt(what, at, event, snapping()), press.isMoved);
      return;
    }
    if (what.kind === 'mark') {
      if (press.isMoved) moveMark(surface, what.thing, what.key, at);
      else showRow(what.thing.of, what.row);
      return;
    }
    if (!press.isMoved) {
      // A press on one of several that are chosen chooses it alone.
      if (press.thing && !event.shiftKey) surface.shown.choose([press.thing]);
      return;
    }
    const last = seenAt(what, at, event, snapping());
    if (what.kind === 'move' && last.by) surface.steps.moveChosen(last.by);
    if ((what.kind === 'size' || what.kind === 'turn') && last.box) {
      surface.steps.setBox(what.id, last.box);
    }
    if (what.kind === 'frame' && last.frame) {
      surface.shown.choose([...what.kept, ...touchedBy(surface, last.frame)]);
    }
  };

  /** Shows the row that a mark stands for: in its table, and in the source where that stands beside. */
  const showRow = (tetherId: string, row: number) => {
    surface.select(tetherId);
    dispatch(objectSelected(tetherId));
    dispatch(cellPicked({ tetherId, row, column: null }));
    dispatch(panelShown(true));
  };

  const finishDrawing = (what: Held & { kind: 'draw' }, last: Seen, isMoved: boolean) => {
    // A click instead of a drag begins a line of several points.
    if (tool === 'line' && !isMoved) {
      setPath([what.from]);
      return;
    }
    const made = drawnThing(tool, surface, what.from, last, isMoved);
    props.onToolDone();
    if (made === null) return;
    if (typeof made === 'string') setWriting(made);
    else {
      surface.steps.add([made]);
      canvas.current?.focus({ preventScroll: true });
    }
  };

  const cancel = () => {
    held.current = null;
    pressed.current = null;
    setSeen(NOTHING_SEEN);
  };

  const doubleClick = (event: { target: EventTarget }) => {
    if (path) {
      endPath(false);
      return;
    }
    const id = (event.target as Element).closest('[data-thing]')?.getAttribute('data-thing');
    const thing = id ? surface.pages.thing(id) : null;
    if (thing?.kind === 'text' && surface.shown.isFree(thing)) setWriting(thing.id);
  };

  const keyDown = (event: KeyboardEvent) => {
    if (event.target !== canvas.current) return;
    const [only, ...more] = surface.shown.chosenThings();
    if (path && (event.key === 'Enter' || event.key === 'Escape')) {
      event.preventDefault();
      if (event.key === 'Enter') endPath(false);
      else {
        setPath(null);
        setSeen(NOTHING_SEEN);
        props.onToolDone();
      }
      return;
    }
    if (event.key === 'Escape') {
      // One step back each time: from what is held, from a picked cell, from what is chosen.
      if (surface.newObjects.waiting()) surface.newObjects.putWaiting(null);
      else if (held.current) cancel();
      else if (store.getState().workbench.picked) dispatch(cellPicked(null));
      else surface.shown.choose([]);
      return;
    }
    if (event.key === 'Enter' && only?.kind === 'text' && more.length === 0) {
      if (!surface.shown.isFree(only)) return;
      event.preventDefault();
      setWriting(only.id);
      return;
    }
    props.onKey(event);
  };

  const by = seen.by;
  const isMoving = (thing: Thing): boolean => {
    if (by === null) return false;
    if (chosen.has(thing.id)) return surface.shown.isFree(thing);
    // What stands in a view goes with it.
    const view = thing.kind === 'marks' || thing.kind === 'dimension' ? thing.view : null;
    const moved = view === null || !chosen.has(view) ? null : surface.pages.thing(view);
    return moved !== null && surface.shown.isFree(moved);
  };
  const [one, ...others] = things.filter(({ id }) => chosen.has(id));
  return (
    <div
      className="page-around"
      style={{
        width: px(size.width) * scale + 2 * AROUND_PAGE,
        height: px(size.height) * scale + 2 * AROUND_PAGE,
        padding: AROUND_PAGE,
      }}
    >
      <div
        style={{
          width: px(size.width),
          height: px(size.height),
          transform: `scale(${scale})`,
          transformOrigin: '0 0',
        }}
      >
        {/* biome-ignore lint/a11y/useSemanticElements: there is no element for a page on which things are moved */}
        <div
          ref={canvas}
          role="application"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: keys act on what is chosen on the page
          tabIndex={0}
          aria-label={`Page of ${props.name}. Arrow keys move what is chosen; all things are listed under “On this page” in the panel.`}
          className="page-paper relative size-full bg-white"
          style={{
            ...surface.kind.style?.(settings),
            cursor: tool === 'choose' && !isWaiting ? 'default' : 'crosshair',
            // Marks of objects keep their size, but for pages drawn so small that they would cover them.
            ['--paper-scale' as string]: Math.max(SMALLEST_FOR_MARKS, scale),
          }}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
          onPointerCancel={cancel}
          onDoubleClick={doubleClick}
          onKeyDown={keyDown}
          onPaste={props.onPaste}
          onCopy={(event) => props.onCopy(event, false)}
          onCut={(event) => props.onCopy(event, true)}
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => props.onDrop(event, snapped(pointOf(event), event))}
          onPointerLeave={() => surface.shown.setPointer(null)}
        >
          {ground}
          {things.map((thing) => {
            const on = surface.shown.layers.of(thing);
            const place = places.get(thing.id);
            if (!place || !on) return null;
            const resizing = seen.box && one?.id === thing.id ? seen.box : null;
            const shown = resizing && thing.kind !== 'object' ? resizing : place;
            const box = isMoving(thing) ? shifted(shown, by) : shown;
            return (
              <ThingView
                key={thing.id}
                documentId={documentId}
                surface={surface}
                thing={whileHeld(on.thing, resizing, isMoving(thing) ? by : null)}
                isOffPaper={on.isOffPaper}
                place={place}
                x={box.x}
                y={box.y}
                width={box.width}
                height={box.height}
                space={spaceNow}
                isChosen={one?.id === thing.id && others.length === 0}
                isWriting={writing === thing.id}
                onWritten={written}
                onShowPanel={showPanel}
                dragged={seen.mark?.thing === thing.id ? seen.mark : NOTHING_DRAGGED}
              />
            );
          })}
          {[one, ...others].map((thing) => {
            const place = thing && places.get(thing.id);
            if (!thing || !place || writing === thing.id) return null;
            const isOne = others.length === 0;
            const box = isOne && seen.box ? seen.box : isMoving(thing) ? shifted(place, by) : place;
            const isFree = surface.shown.isFree(thing);
            const isInLine = surface.texts.textOf(thing) !== null;
            const hasGrips =
              isOne && isFree && !isInLine && !isOfPoints(thing) && thing.kind !== 'marks';
            return (
              <Grips
                key={thing.id}
                box={box}
                scale={scale}
                hasGrips={hasGrips}
                canTurn={
                  isOne &&
                  isFree &&
                  !isInLine &&
                  thing.kind !== 'dimension' &&
                  thing.kind !== 'marks'
                }
                isLocked={!isFree}
                onGrip={(which, event) =>
                  grip(
                    {
                      kind: 'size',
                      from: pointOf(event),
                      id: thing.id,
                      box: place,
                      grip: which,
                      guides: guidesAround(surface, new Set([thing.id])),
                    },
                    event,
                  )
                }
                onTurn={(event) => grip({ kind: 'turn', id: thing.id, box: place }, event)}
              />
            );
          })}
          <HandOverlay seen={seen} path={path} tool={tool} scale={scale} />
        </div>
      </div>
      <SelectedObject surface={surface} store={store} dispatch={dispatch} />
    </div>
  );
}

/** A value of the surface that is compared by being the same one: those of many things are too long to be looked through. */
function useRevision<T>(surface: PageSurface, read: () => T): T {
  const [value, setValue] = useState(read);
  const readNow = useRef(read);
  readNow.current = read;
  useLayoutEffect(() => {
    const again = () => setValue(() => readNow.current());
    again();
    return surface.subscribe(again);
  }, [surface]);
  return value;
}

/** The same box for as long as it says the same. */
function useStable(box: Box): Box {
  const kept = useRef(box);
  const { x, y, width, height } = box;
  const before = kept.current;
  if (before.x !== x || before.y !== y || before.width !== width || before.height !== height) {
    kept.current = box;
  }
  return kept.current;
}

/** Tells the panel which object is chosen. */
function SelectedObject(props: {
  surface: PageSurface;
  store: ReturnType<typeof useAppStore>;
  dispatch: ReturnType<typeof useAppDispatch>;
}) {
  const { surface, store, dispatch } = props;
  const object = useSurface(surface, () => surface.shown.chosenObject());
  useEffect(() => {
    if (store.getState().workbench.selected !== object) dispatch(objectSelected(object));
  }, [object, store, dispatch]);
  return null;
}

/** A thing while it is moved or made larger by hand. An object comes out as its content is: it only moves, at its place. */
function whileHeld(thing: Thing, box: TurnedBox | null, by: Point | null): Thing {
  if (thing.kind === 'object' || (!box && !by)) return thing;
  if (thing.kind !== 'line' && thing.kind !== 'arc' && thing.kind !== 'dimension')
    return box ? { ...thing, ...box } : thing;
  const turn = box ? box.turn : thing.turn;
  return by ? { ...thing, turn, x: thing.x + by.x, y: thing.y + by.y } : { ...thing, turn };
}

/** A box around everything that is chosen. */
export const chosenBounds = (surface: PageSurface): Box[] => {
  const places = surface.boxes.all();
  return surface.shown.chosenThings().flatMap(({ id }) => {
    const place = places.get(id);
    return place ? [boundsOf(place)] : [];
  });
};
