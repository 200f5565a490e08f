import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { restrictToParentElement, restrictToVerticalAxis } from '@dnd-kit/modifiers';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { PIXELS_PER_MM } from '@tether/core';
import type { AnyPage } from '@tether/documents';
import { GripVertical, Trash2 } from 'lucide-react';
import {
  type ComponentProps,
  type RefObject,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from 'react';
import { useSurface } from '../documents/surface.ts';
import { OnePage } from '../page/still/StillPages.tsx';
import type { PageSurface } from '../page/surface/page-surface.ts';
import { useIdleTurn, useNear } from '../placed/nearness/nearness.ts';
import { IconButton } from '../ui/IconButton.tsx';
import { slideGround } from './ground.tsx';

/** Pixels around what is seen of the overview where slides are drawn once there is time for it: each is a whole page. */
const SOON = '240px 0px';
const SEEN = '0px 0px';
/** Where they can be moved and deleted: who goes there by the Tab key or by dragging finds them so. */
const IN_REACH = '480px 0px';
const WIDTH = 132;

/** Where a slide goes: as many of the others stand before it then. */
type Place = (from: number, slides: readonly AnyPage[]) => number;

/**
 * Each key moves a slide at once. The library's way by keys (take up, move, let go) is not used: a page that is busy loses
 * the keys that follow the first one.
 */
const KEYS: Record<string, Place | undefined> = {
  ArrowUp: (from) => from - 1,
  ArrowDown: (from) => from + 1,
  Home: () => 0,
  End: (_, slides) => slides.length - 1,
};

/** A slide that is dragged stays in the list: beyond its end there would be ever more room to scroll to. */
const WITHIN = [restrictToVerticalAxis, restrictToParentElement];

const nothing = () => undefined;
/** What a screen reader says of moving slides. Where one came to stand is said by the overview itself, also after keys. */
const SAID: ComponentProps<typeof DndContext>['accessibility'] = {
  announcements: {
    onDragStart: nothing,
    onDragOver: nothing,
    onDragEnd: nothing,
    onDragCancel: nothing,
  },
  screenReaderInstructions: {
    draggable: 'Arrow up and down move it by one slide, Home and End to the beginning and the end.',
  },
};

/** All slides of a deck, small, in their order; they are dragged into another one, also by keys. */
export function Overview(props: { surface: PageSurface; documentId: string; isAllowed: boolean }) {
  const { surface, documentId, isAllowed } = props;
  const slides = useSurface(surface, () => surface.pages.pages());
  const shown = useSurface(surface, () => surface.shown.page().id);
  const [said, setSaid] = useState('');
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  /** The slides are asked for anew: a colleague may have changed them since they were drawn. */
  const move = (id: string, place: Place) => {
    const now = surface.pages.pages();
    const from = now.findIndex((slide) => slide.id === id);
    const to = Math.min(Math.max(place(from, now), 0), now.length - 1);
    if (from === to || from < 0) return;
    surface.pages.step(() => surface.pages.movePage(id, to));
    setSaid(`Slide ${from + 1} is slide ${to + 1} of ${now.length} now.`);
  };
  const list = useRef<HTMLOListElement>(null);
  const letGoAt = useLetGo();
  const end = ({ active, activatorEvent }: DragEndEvent) => {
    const { initial } = active.rect.current;
    if (!initial || !list.current) return;
    const middle = initial.top + initial.height / 2;
    const moved = letGoAt.current - (activatorEvent as PointerEvent).clientY;
    const target = slides[nearestItem(list.current, middle + moved)];
    // The slide under it may have been taken out meanwhile.
    move(String(active.id), (from, now) => {
      const to = now.findIndex(({ id }) => id === target?.id);
      return to < 0 ? from : to;
    });
  };
  return (
    <nav
      aria-label="Slides"
      className="flex w-[184px] shrink-0 flex-col overflow-y-auto border-r border-hairline bg-white"
      data-scroll
    >
      <p role="status" className="sr-only">
        {said}
      </p>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        accessibility={SAID}
        modifiers={WITHIN}
        onDragEnd={end}
      >
        <SortableContext
          items={slides.map(({ id }) => id)}
          strategy={verticalListSortingStrategy}
          disabled={!isAllowed}
        >
          <ol ref={list} className="flex flex-col gap-1 p-1.5">
            {slides.map((slide, at) => (
              <SlideItem
                key={slide.id}
                {...{ surface, documentId, slide, isAllowed }}
                nth={at + 1}
                isShown={slide.id === shown}
                isOnly={slides.length === 1}
                onMove={(place) => move(slide.id, place)}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
    </nav>
  );
}

/** Where on the screen the pointer was let go last. A busy page has not drawn the last of the way when the library asks. */
function useLetGo(): RefObject<number> {
  const at = useRef(0);
  useEffect(() => {
    const note = ({ clientY }: PointerEvent) => {
      at.current = clientY;
    };
    window.addEventListener('pointerup', note, { capture: true });
    return () => window.removeEventListener('pointerup', note, { capture: true });
  }, []);
  return at;
}

/** Which item of a list has its room nearest to a height of the screen, wherever it is drawn while something is dragged. */
function nearestItem(list: HTMLElement, height: number): number {
  const top = list.getBoundingClientRect().top - list.offsetTop;
  const away = [...list.children].map((item) => {
    const { offsetTop, offsetHeight } = item as HTMLElement;
    return Math.abs(top + offsetTop + offsetHeight / 2 - height);
  });
  return away.indexOf(Math.min(...away));
}

interface ItemProps {
  surface: PageSurface;
  documentId: string;
  slide: AnyPage;
  nth: number;
  isShown: boolean;
  isOnly: boolean;
  isAllowed: boolean;
  onMove: (place: Place) => void;
}

/** A slide of the overview. Until it comes into reach, it is its number and its room: a long deck opens as quickly. */
function SlideItem(props: ItemProps) {
  const { surface, documentId, slide, nth, isShown, isAllowed } = props;
  const item = useRef<HTMLLIElement>(null);
  const isNear = useNear(item, IN_REACH);
  /** One that was in reach stays so: it may be in somebody's hand. */
  const [isInReach, setInReach] = useState(false);
  if (isNear && !isInReach) setInReach(true);
  /** A slide that is moved by keys stays in view. */
  useEffect(() => {
    if (nth > 0 && item.current?.contains(document.activeElement))
      item.current.scrollIntoView({ block: 'nearest' });
  }, [nth]);
  const { width, height } = surface.shown.size(slide);
  const scale = WIDTH / (width * PIXELS_PER_MM);
  return (
    <li
      ref={item}
      className={`flex gap-1 rounded-box border p-1 data-held:z-10 data-held:opacity-80 ${isShown ? 'border-rope bg-rope/15' : 'border-transparent'}`}
    >
      <span className="flex w-5 shrink-0 flex-col items-center text-sm text-muted">
        {nth}
        {isAllowed && isInReach && <Handles {...props} item={item} />}
      </span>
      <button
        type="button"
        aria-label={`Slide ${nth}`}
        aria-current={isShown ? 'page' : undefined}
        onClick={() => surface.shown.showPage(slide.id)}
        className="relative overflow-hidden border border-hairline bg-white"
        style={{ width: WIDTH, height: height * PIXELS_PER_MM * scale }}
      >
        {isInReach && <Picture {...{ documentId, surface, slide, scale, item }} />}
      </button>
    </li>
  );
}

/** What a slide is moved and deleted by. */
function Handles(props: ItemProps & { item: RefObject<HTMLLIElement | null> }) {
  const { surface, slide, nth, isShown, isOnly, onMove, item } = props;
  const { setNodeRef, transform, transition, isDragging, listeners, attributes } = useSortable({
    id: slide.id,
  });
  useLayoutEffect(() => {
    setNodeRef(item.current);
    return () => setNodeRef(null);
  }, [setNodeRef, item]);
  // The item stands around this: it follows the hand, and goes back where it was when this is gone.
  const place = CSS.Translate.toString(transform) ?? '';
  useLayoutEffect(() => {
    const { style, dataset } = item.current!;
    Object.assign(style, { transform: place, transition: transition ?? '' });
    if (isDragging) dataset.held = 'true';
    return () => {
      Object.assign(style, { transform: '', transition: '' });
      delete dataset.held;
    };
  }, [item, place, transition, isDragging]);
  const remove = () => {
    const slides = surface.pages.pages();
    const next = slides[nth] ?? slides[nth - 2];
    const things = surface.pages.things().filter(({ page }) => page === slide.id);
    if (isShown && next) surface.shown.showPage(next.id);
    surface.pages.step(() => {
      for (const { id } of things) surface.pages.remove(id);
      surface.pages.removePart('pages', slide.id);
    });
  };
  return (
    <>
      <button
        type="button"
        {...listeners}
        aria-label={`Move slide ${nth}`}
        aria-describedby={attributes['aria-describedby']}
        title="Drag it, or press an arrow key, Home or End"
        onKeyDown={(event) => {
          const place = KEYS[event.key];
          if (!place || event.ctrlKey || event.metaKey || event.altKey) return;
          event.preventDefault();
          onMove(place);
        }}
        className="grid h-6 w-5 cursor-grab place-items-center"
      >
        <GripVertical size={13} aria-hidden />
      </button>
      <IconButton
        icon={Trash2}
        label={`Delete slide ${nth}`}
        className="size-5 min-h-6"
        disabled={isOnly}
        onClick={remove}
      />
    </>
  );
}

/** The slide itself, small: at once where it is seen, else when there is time. */
function Picture(props: {
  documentId: string;
  surface: PageSurface;
  slide: AnyPage;
  scale: number;
  item: RefObject<HTMLLIElement | null>;
}) {
  const { documentId, surface, slide, scale, item } = props;
  const isSeen = useNear(item, SEEN);
  const isSoon = useNear(item, SOON);
  const hasTurn = useIdleTurn(isSoon);
  if (!isSeen && !(isSoon && hasTurn)) return null;
  return (
    <span
      inert
      className="print-view pointer-events-none absolute top-0 left-0 block origin-top-left text-left"
      style={{ transform: `scale(${scale})` }}
    >
      <OnePage {...{ documentId, surface }} page={slide} ground={slideGround} />
    </span>
  );
}
