import { ARRANGEMENTS, type Arrangement, beginSlide } from '@tether/documents';
import { Plus } from 'lucide-react';
import { type ComponentProps, type ReactNode, useEffect, useState } from 'react';
import { useSurface } from '../documents/surface.ts';
import { type PageParts, PagesScreen } from '../page/screen/PagesScreen.tsx';
import type { PageSurface } from '../page/surface/page-surface.ts';
import { Button } from '../ui/Button.tsx';
import { Popup } from '../ui/Popup.tsx';
import { slideGround } from './ground.tsx';
import { Overview } from './Overview.tsx';
import { deckOf, SLIDES, slideOf } from './slides-kind.ts';

const PARTS: PageParts = {
  kind: SLIDES,
  tools: ['choose', 'text', 'line', 'rectangle', 'ellipse', 'arc'],
  head: (surface, isAllowed, zoom) => (
    <SlideHead surface={surface} isAllowed={isAllowed}>
      {zoom}
    </SlideHead>
  ),
  aside: (surface, documentId, isAllowed) => (
    <Overview surface={surface} documentId={documentId} isAllowed={isAllowed} />
  ),
  foot: (surface, isAllowed) => <Notes surface={surface} isAllowed={isAllowed} />,
  ground: slideGround,
  grid: (settings) => deckOf(settings).grid,
};

/** A deck, open: its slides in an overview, the one that is worked on, and its notes. */
export function SlidesScreen(props: Omit<ComponentProps<typeof PagesScreen>, 'parts'>) {
  return <PagesScreen {...props} parts={PARTS} />;
}

const ARRANGEMENT_WORDS: Record<Arrangement, string> = {
  opening: 'An opening: a large title in the middle',
  'title and words': 'A title, and words below it',
  'two halves': 'A title, and two halves below it',
  empty: 'Nothing on it yet',
};

/** Puts a new slide behind the one that is shown, and shows it. */
function addSlide(surface: PageSurface, arrangement: Arrangement): void {
  const slides = surface.pages.pages();
  const here = slides.findIndex(({ id }) => id === surface.shown.page().id);
  const id = crypto.randomUUID();
  surface.pages.step(() => {
    surface.pages.addPage({ id, arrangement, notes: '' }, here + 1);
    for (const text of beginSlide({ id, arrangement }, surface.shown.size(), () =>
      crypto.randomUUID(),
    )) {
      surface.pages.add(text);
    }
  });
  surface.shown.showPage(id);
}

function SlideHead(props: { surface: PageSurface; isAllowed: boolean; children: ReactNode }) {
  const { surface, isAllowed, children } = props;
  const nth = useSurface(
    surface,
    () => surface.pages.pages().findIndex(({ id }) => id === surface.shown.page().id) + 1,
  );
  const count = useSurface(surface, () => surface.pages.pages().length);
  return (
    <div className="flex h-8 shrink-0 items-center gap-3 border-b border-hairline bg-white px-2">
      <span role="status" className="text-muted">
        Slide {nth} of {count}
      </span>
      {isAllowed && (
        <Popup
          label="New slide"
          hasWords
          face={
            <span className="flex items-center gap-1 font-semibold whitespace-nowrap">
              <Plus size={14} aria-hidden /> New slide
            </span>
          }
          placement="bottom-start"
          className="flex w-[290px] flex-col gap-1 p-2"
        >
          {(close) =>
            ARRANGEMENTS.map((arrangement) => (
              <Button
                key={arrangement}
                onClick={() => {
                  addSlide(surface, arrangement);
                  close();
                }}
              >
                {ARRANGEMENT_WORDS[arrangement]}
              </Button>
            ))
          }
        </Popup>
      )}
      <span className="flex-1" />
      {children}
    </div>
  );
}

/** What the speaker wants to say to a slide. */
function Notes({ surface, isAllowed }: { surface: PageSurface; isAllowed: boolean }) {
  const { id, notes } = useSurface(surface, () => slideOf(surface.shown.page()));
  const [text, setText] = useState(notes);
  const [of, setOf] = useState(id);
  useEffect(() => {
    setText(notes);
    setOf(id);
  }, [id, notes]);
  const finish = () => {
    if (text === notes) return;
    surface.pages.step(() => surface.pages.changePart('pages', of, { notes: text }));
  };
  return (
    <label className="flex h-[88px] shrink-0 flex-col border-t border-hairline bg-white px-3 py-1.5">
      <span className="text-sm font-semibold text-muted">Notes for the speaker</span>
      <textarea
        value={text}
        maxLength={20_000}
        disabled={!isAllowed}
        onChange={(event) => setText(event.target.value)}
        onBlur={finish}
        className="min-h-0 flex-1 resize-none bg-white"
      />
    </label>
  );
}
