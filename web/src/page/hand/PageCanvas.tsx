import { type Box, boundsOf, PIXELS_PER_MM, type Point, type TurnedBox } from '@tether/core';
import { kindOfThing, type Thing } from '@tether/documents';
import {
  type ClipboardEvent,
  type DragEvent,
  type KeyboardEvent,
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
import { objectSelected, panelShown } from '../../state/workbench-slice.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import { shifted, ThingView } from '../things/ThingView.tsx';
import { ChosenGrips } from './ChosenGrips.tsx';
import type { Tool } from './drawn-by-hand.ts';
import { HandOverlay } from './HandOverlay.tsx';
import { useCanvasKeys } from './useCanvasKeys.ts';
import { useHand } from './useHand.ts';
import { type PagePoint, usePagePoint } from './usePagePoint.ts';
import { AROUND_PAGE } from './usePageScale.ts';
import { useZoomByWheel } from './useZoomByWheel.ts';

/** How small a page is drawn until the cleats of its objects get smaller with it. */
const SMALLEST_FOR_MARKS = 0.45;

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
  const { surface, scale, pane, tool } = props;
  const canvas = useRef<HTMLDivElement>(null);
  const [writing, setWriting] = useState<string | null>(null);
  const page = useSurface(surface, (now) => (now as PageSurface).shown.page());
  const size = surface.shown.size(page);
  const point = usePagePoint(canvas, surface, scale, props.grid);
  const hand = useHand({
    ...{ canvas, surface, tool, point },
    onToolDone: props.onToolDone,
    onWrite: setWriting,
  });
  const keyDown = useCanvasKeys({ canvas, surface, hand, onWrite: setWriting, onKey: props.onKey });
  useEffect(() => {
    surface.shown.setCanvas(canvas.current);
    return () => surface.shown.setCanvas(null);
  }, [surface]);
  useZoomByWheel(pane, canvas, scale);

  const settings = useSurface(surface, () => surface.pages.settings());
  const isWaiting = useSurface(surface, () => surface.newObjects.waiting() !== null);
  const doubleClick = (event: { target: EventTarget }) => {
    if (hand.path.points) {
      hand.path.end(false);
      return;
    }
    const id = (event.target as Element).closest('[data-thing]')?.getAttribute('data-thing');
    const thing = id ? surface.pages.thing(id) : null;
    if (thing?.kind === 'text' && surface.shown.isFree(thing)) setWriting(thing.id);
  };
  const written = useCallback(() => {
    setWriting(null);
    // Whoever ended it by a key goes on with the page.
    requestAnimationFrame(() => {
      if (document.activeElement === document.body) canvas.current?.focus();
    });
  }, []);
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
          onPointerDown={hand.down}
          onPointerMove={hand.move}
          onPointerUp={hand.up}
          onPointerCancel={hand.letGo}
          onDoubleClick={doubleClick}
          onKeyDown={keyDown}
          onPaste={props.onPaste}
          onCopy={(event) => props.onCopy(event, false)}
          onCut={(event) => props.onCopy(event, true)}
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => props.onDrop(event, point.snapped(point.of(event), event))}
          onPointerLeave={() => surface.shown.setPointer(null)}
        >
          {props.ground}
          <ThingsOnPage
            {...props}
            hand={hand}
            point={point}
            writing={writing}
            onWritten={written}
          />
        </div>
      </div>
      <SelectedObject surface={surface} />
    </div>
  );
}

/** The things of the page that is shown, as they are while the hand does something to them, with the grips of the chosen. */
function ThingsOnPage(
  props: Pick<Props, 'documentId' | 'surface' | 'scale' | 'tool'> & {
    hand: ReturnType<typeof useHand>;
    point: PagePoint;
    writing: string | null;
    onWritten: () => void;
  },
) {
  const { documentId, surface, scale, tool, hand, point, writing, onWritten } = props;
  const dispatch = useAppDispatch();
  const things = useRevision(surface, () => surface.shown.thingsHere());
  const places = useRevision(surface, () => surface.boxes.all());
  const chosen = useRevision(surface, () => surface.shown.chosenIds());
  // Another layer draws its things anew.
  useSurface(surface, () => surface.pages.layers());
  const spaceNow = useStable(surface.shown.space());
  const showPanel = useCallback(
    (thing: Thing) => {
      surface.shown.choose([thing.id]);
      if (thing.kind === 'object') dispatch(objectSelected(thing.tetherId));
      dispatch(panelShown(true));
    },
    [surface, dispatch],
  );
  const { seen } = hand;
  const by = seen.by;
  const isMoving = (thing: Thing): boolean => {
    if (by === null) return false;
    if (chosen.has(thing.id)) return surface.shown.isFree(thing);
    // What stands in another thing goes with it.
    const host = kindOfThing(thing).host?.(thing) ?? null;
    const moved = host === null || !chosen.has(host) ? null : surface.pages.thing(host);
    return moved !== null && surface.shown.isFree(moved);
  };
  const [one, ...others] = things.filter(({ id }) => chosen.has(id));
  return (
    <>
      {things.map((thing) => {
        const on = surface.shown.layers.of(thing);
        const place = places.get(thing.id);
        if (!place || !on) return null;
        const resizing = seen.box && one?.id === thing.id ? seen.box : null;
        const shown = resizing && kindOfThing(thing).extent !== 'content' ? resizing : place;
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
            onWritten={onWritten}
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
        const shared = { surface, thing, box, place, scale, isOne };
        return <ChosenGrips key={thing.id} {...shared} pointOf={point.of} onGrip={hand.grip} />;
      })}
      <HandOverlay seen={seen} path={hand.path.points} tool={tool} scale={scale} />
    </>
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
function SelectedObject({ surface }: { surface: PageSurface }) {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const object = useSurface(surface, () => surface.shown.chosenObject());
  useEffect(() => {
    if (store.getState().workbench.selected !== object) dispatch(objectSelected(object));
  }, [object, store, dispatch]);
  return null;
}

/** A thing while it is moved or made larger by hand. An object comes out as its content is: it only moves, at its place. */
function whileHeld(thing: Thing, box: TurnedBox | null, by: Point | null): Thing {
  const { extent } = kindOfThing(thing);
  if (extent === 'content' || (!box && !by)) return thing;
  if (extent !== 'points') return box ? { ...thing, ...box } : thing;
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
