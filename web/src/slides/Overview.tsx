import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { PIXELS_PER_MM } from '@tether/core';
import type { AnyPage } from '@tether/documents';
import { GripVertical, Trash2 } from 'lucide-react';
import { useRef } from 'react';
import { useSurface } from '../documents/surface.ts';
import type { PageSurface } from '../page/page-surface.ts';
import { OnePage } from '../page/StillPages.tsx';
import { useNear } from '../placed/nearness.ts';
import { IconButton } from '../ui/IconButton.tsx';
import { slideGround } from './ground.tsx';

/** Pixels around what is seen of the overview: a few slides, since each is a whole page. */
const SOON = '240px 0px';
const WIDTH = 132;

/** All slides of a deck, small, in their order; they are dragged into another one, also by keys. */
export function Overview(props: { surface: PageSurface; documentId: string; isAllowed: boolean }) {
  const { surface, documentId, isAllowed } = props;
  const slides = useSurface(surface, () => surface.pages.pages());
  const shown = useSurface(surface, () => surface.page().id);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const end = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const from = slides.findIndex(({ id }) => id === active.id);
    const to = slides.findIndex(({ id }) => id === over.id);
    const rest = slides.filter(({ id }) => id !== active.id);
    const [before, behind] = [rest[to - 1], rest[to]];
    const order = !before
      ? rest[0]!.order - 1
      : !behind
        ? before.order + 1
        : (before.order + behind.order) / 2;
    if (from === to) return;
    surface.pages.step(() => surface.pages.changePart('pages', String(active.id), { order }));
  };
  return (
    <nav
      aria-label="Slides"
      className="flex w-[184px] shrink-0 flex-col overflow-y-auto border-r border-hairline bg-white"
      data-scroll
    >
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={end}>
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
}) {
  const { surface, documentId, slide, nth, isShown, isOnly, isAllowed } = props;
  const sortable = useSortable({ id: slide.id });
  const box = useRef<HTMLButtonElement>(null);
  const isNear = useNear(box, SOON);
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
              {...sortable.attributes}
              {...sortable.listeners}
              aria-label={`Move slide ${nth}`}
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
