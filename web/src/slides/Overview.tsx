import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { PIXELS_PER_MM } from '@tether/core';
import type { AnyPage } from '@tether/documents';
import { GripVertical, Trash2 } from 'lucide-react';
import { type ComponentProps, useEffect, useRef, useState } from 'react';
import { useSurface } from '../documents/surface.ts';
import type { PageSurface } from '../page/page-surface.ts';
import { OnePage } from '../page/StillPages.tsx';
import { useNear } from '../placed/nearness.ts';
import { IconButton } from '../ui/IconButton.tsx';
import { slideGround } from './ground.tsx';

/** Pixels around what is seen of the overview: a few slides, since each is a whole page. */
const SOON = '240px 0px';
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
  const shown = useSurface(surface, () => surface.page().id);
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
  const end = ({ active, over }: DragEndEvent) => {
    if (!over) return;
    move(String(active.id), (from, now) => {
      const to = now.findIndex(({ id }) => id === over.id);
      // The slide under it may have been taken out meanwhile.
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
        onDragEnd={end}
      >
        <SortableContext
          items={slides.map(({ id }) => id)}
          strategy={verticalListSortingStrategy}
          disabled={!isAllowed}
        >
          <ol className="flex flex-col gap-1 p-1.5">
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

function SlideItem(props: {
  surface: PageSurface;
  documentId: string;
  slide: AnyPage;
  nth: number;
  isShown: boolean;
  isOnly: boolean;
  isAllowed: boolean;
  onMove: (place: Place) => void;
}) {
  const { surface, documentId, slide, nth, isShown, isOnly, isAllowed, onMove } = props;
  const sortable = useSortable({ id: slide.id });
  const box = useRef<HTMLButtonElement>(null);
  const isNear = useNear(box, SOON);
  /** A slide that is moved by keys stays in view. */
  useEffect(() => {
    const item = box.current?.closest('li');
    if (nth > 0 && item?.contains(document.activeElement))
      item.scrollIntoView({ block: 'nearest' });
  }, [nth]);
  const { width, height } = surface.size(slide);
  const scale = WIDTH / (width * PIXELS_PER_MM);
  const remove = () => {
    const slides = surface.pages.pages();
    const next = slides[nth] ?? slides[nth - 2];
    const things = surface.pages.things().filter(({ page }) => page === slide.id);
    if (isShown && next) surface.showPage(next.id);
    surface.pages.step(() => {
      for (const { id } of things) surface.pages.remove(id);
      surface.pages.removePart('pages', slide.id);
    });
  };
  return (
    <li
      ref={sortable.setNodeRef}
      style={{
        transform: CSS.Translate.toString(sortable.transform),
        transition: sortable.transition ?? undefined,
      }}
      className={`flex gap-1 rounded-box border p-1 ${isShown ? 'border-rope bg-rope/15' : 'border-transparent'} ${sortable.isDragging ? 'z-10 opacity-80' : ''}`}
    >
      <span className="flex w-5 shrink-0 flex-col items-center text-sm text-muted">
        {nth}
        {isAllowed && (
          <>
            <button
              type="button"
              {...sortable.listeners}
              aria-label={`Move slide ${nth}`}
              aria-describedby={sortable.attributes['aria-describedby']}
              title="Drag it, or press an arrow key"
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
        )}
      </span>
      <button
        ref={box}
        type="button"
        aria-label={`Slide ${nth}`}
        aria-current={isShown ? 'page' : undefined}
        onClick={() => surface.showPage(slide.id)}
        className="relative overflow-hidden border border-hairline bg-white"
        style={{ width: WIDTH, height: height * PIXELS_PER_MM * scale }}
      >
        {isNear && (
          <span
            inert
            className="print-view pointer-events-none absolute top-0 left-0 block origin-top-left text-left"
            style={{ transform: `scale(${scale})` }}
          >
            <OnePage {...{ documentId, surface }} page={slide} ground={slideGround} />
          </span>
        )}
      </button>
    </li>
  );
}
