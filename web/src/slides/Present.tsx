import { can, type DocumentDetail, type Tether } from '@tether/contract';
import { describeReach, PIXELS_PER_MM } from '@tether/core';
import type { SlidesContent } from '@tether/documents';
import { ArrowLeft, ArrowRight, MonitorPlay, Moon, PanelsTopLeft } from 'lucide-react';
import { type MouseEvent, useCallback, useEffect, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { OnePage, useStillSurface } from '../page/still/StillPages.tsx';
import type { PageSurface } from '../page/surface/page-surface.ts';
import { useHoldMutation, useMeQuery, useTethersQuery } from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { Moment } from '../ui/Moment.tsx';
import { StandingGlyph } from '../ui/StandingGlyph.tsx';
import { hasChanges, standingWords } from '../ui/standing-words.ts';
import { slideGround } from './ground.tsx';
import { SLIDES, slideOf } from './slides-kind.ts';
import { type Course, useCourse } from './useCourse.ts';

interface Props {
  saved: DocumentDetail<SlidesContent>;
}

/** A deck for being presented: what comes first is asked, then each slide fills the screen. */
export function Present({ saved }: Props) {
  const [query] = useSearchParams();
  const isSpeaker = query.has('speaker');
  const surface = useStillSurface(SLIDES, saved.content);
  const { data: tethers = [] } = useTethersQuery(saved.id);
  const course = useCourse(saved.id, saved.content.pages.length);
  const [isOn, setOn] = useState(false);
  const [showsSources, setShowsSources] = useState(false);
  const hold = useHoldWhile(saved, isOn);
  if (!surface) return null;
  if (isSpeaker) return <Speaker {...{ saved, surface, tethers, course }} />;
  if (isOn) {
    return (
      <Shown
        {...{ saved, surface, tethers, course, showsSources }}
        onEnd={() => {
          setOn(false);
          hold.end();
        }}
      />
    );
  }
  return (
    <main className="mx-auto flex max-w-xl flex-col gap-4 p-8">
      <title>{`Present ${saved.name} · Obedient Tether`}</title>
      <Link to={`/documents/${saved.id}`} className="flex items-center gap-1.5 hover:underline">
        <ArrowLeft size={14} aria-hidden /> Back to the deck
      </Link>
      <h1 className="text-[22px] font-semibold">Present “{saved.name}”</h1>
      <Tick isOn={hold.isWanted} isDisabled={!hold.isPossible} onChange={hold.setWanted}>
        Hold every refresh while it is presented
      </Tick>
      <p className="-mt-2 text-muted">
        {hold.isPossible
          ? 'No figure changes while others watch. It is released when you end.'
          : hold.whyNot}
      </p>
      <Tick isOn={showsSources} onChange={setShowsSources}>
        A click on a figure shows where it comes from
      </Tick>
      <div className="flex flex-wrap gap-2">
        <Button
          kind="primary"
          onClick={() => {
            hold.begin();
            course.begin();
            setOn(true);
            // Where the browser refuses it the slides fill the window.
            void document.documentElement.requestFullscreen?.().catch(() => undefined);
          }}
        >
          <MonitorPlay size={15} aria-hidden /> Begin
        </Button>
        <Button
          onClick={() =>
            window.open(
              `/documents/${saved.id}/present?speaker`,
              'speaker',
              'width=1000,height=700',
            )
          }
        >
          <PanelsTopLeft size={15} aria-hidden /> Open the speaker’s window
        </Button>
      </div>
      <p className="text-muted">
        Arrow keys, Page Up and Down, Space and clicks go through the slides; B makes the screen
        black; Escape ends.
      </p>
    </main>
  );
}

/** Holds the document while it is presented, where that is wished and it was not held before. */
function useHoldWhile(saved: DocumentDetail, isOn: boolean) {
  const { data: me } = useMeQuery();
  const [setHold] = useHoldMutation();
  const [isWanted, setWanted] = useState(true);
  const isOurs = useRef(false);
  const mayHold =
    me !== undefined && me !== null && can(me, 'change', { kind: 'document', id: saved.id });
  const isHeld = saved.hold !== null;
  const { id } = saved;
  const end = useCallback(() => {
    if (isOurs.current) void setHold({ id, isHeld: false });
    isOurs.current = false;
  }, [setHold, id]);
  const endNow = useRef(end);
  endNow.current = end;
  // Whoever leaves the page in another way ends it as well, also by closing the window: then only what outlives it is sent.
  useEffect(() => () => endNow.current(), []);
  useEffect(() => {
    const closed = () => {
      if (!isOurs.current) return;
      isOurs.current = false;
      void fetch(`/api/documents/${id}/hold`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ isHeld: false }),
        keepalive: true,
      });
    };
    window.addEventListener('pagehide', closed);
    return () => window.removeEventListener('pagehide', closed);
  }, [id]);
  return {
    isWanted: isWanted || isHeld,
    setWanted,
    isPossible: mayHold && !isHeld && !isOn,
    whyNot: isHeld
      ? 'It is held already, and stays so.'
      : 'Only people who may change it can hold it.',
    begin: () => {
      if (!isWanted || isHeld || !mayHold) return;
      isOurs.current = true;
      void setHold({ id, isHeld: true });
    },
    end,
  };
}

/** The slides for others: one after the other, as large as the screen. */
function Shown(props: {
  saved: DocumentDetail;
  surface: PageSurface;
  tethers: readonly Tether[];
  course: Course;
  showsSources: boolean;
  onEnd: () => void;
}) {
  const { saved, surface, tethers, course, showsSources, onEnd } = props;
  const box = useRef<HTMLDivElement>(null);
  const [asked, setAsked] = useState<Tether | null>(null);
  const room = useWindowSize();
  const end = useCallback(() => {
    if (document.fullscreenElement) void document.exitFullscreen();
    onEnd();
  }, [onEnd]);
  useEffect(() => box.current?.focus(), []);
  useEffect(() => {
    // The browser takes the key itself that leaves the full screen.
    const left = () => {
      if (!document.fullscreenElement) onEnd();
    };
    document.addEventListener('fullscreenchange', left);
    return () => document.removeEventListener('fullscreenchange', left);
  }, [onEnd]);
  const pages = surface.pages.pages();
  const page = pages[course.index] ?? pages.at(-1)!;
  const size = surface.shown.size(page);
  const scale = Math.min(
    room.width / (size.width * PIXELS_PER_MM),
    room.height / (size.height * PIXELS_PER_MM),
  );
  const click = (event: MouseEvent) => {
    const id = (event.target as Element)
      .closest('[data-tether-id]')
      ?.getAttribute('data-tether-id');
    const tether = showsSources && id ? tethers.find((each) => each.id === id) : undefined;
    if (asked || tether) return setAsked(tether ?? null);
    course.go(event.clientX < room.width / 3 ? -1 : 1);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: keys do the same
    <div
      ref={box}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: keys go through the slides
      tabIndex={0}
      className="fixed inset-0 z-50 bg-black outline-none"
      onClick={click}
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          if (asked) setAsked(null);
          else end();
        } else if (course.key(event.key)) event.preventDefault();
      }}
    >
      <title>{saved.name}</title>
      <p role="status" className="sr-only">
        Slide {course.index + 1} of {pages.length}
      </p>
      {!course.isBlack && (
        <div
          className="print-view bare-pages absolute overflow-hidden"
          style={{
            width: size.width * PIXELS_PER_MM * scale,
            height: size.height * PIXELS_PER_MM * scale,
            left: (room.width - size.width * PIXELS_PER_MM * scale) / 2,
            top: (room.height - size.height * PIXELS_PER_MM * scale) / 2,
          }}
        >
          {/* The next slide is drawn beforehand: its charts are there when it comes. */}
          {[page, pages[course.index + 1]].map(
            (each) =>
              each && (
                <div
                  key={each.id}
                  className="absolute top-0 left-0 origin-top-left"
                  style={{
                    transform: `scale(${scale})`,
                    visibility: each.id === page.id ? 'visible' : 'hidden',
                  }}
                >
                  <OnePage
                    documentId={saved.id}
                    surface={surface}
                    page={each}
                    ground={slideGround}
                  />
                </div>
              ),
          )}
        </div>
      )}
      {asked && (
        <aside
          aria-label="Where it comes from"
          className="absolute inset-x-0 bottom-0 flex items-center gap-4 bg-white px-6 py-3"
        >
          <b>{asked.name}</b>
          <span>
            {asked.source.folder}/{asked.source.path}
          </span>
          <span className="font-mono text-[12px]">{describeReach(asked.reach)}</span>
          <span className="text-muted">
            as of <Moment at={asked.refreshedAt} />
          </span>
        </aside>
      )}
    </div>
  );
}

function useWindowSize() {
  const read = () => ({ width: window.innerWidth, height: window.innerHeight });
  const [size, setSize] = useState(read);
  useEffect(() => {
    const again = () => setSize({ width: window.innerWidth, height: window.innerHeight });
    window.addEventListener('resize', again);
    return () => window.removeEventListener('resize', again);
  }, []);
  return size;
}

/** For the speaker alone: this slide and the next, the notes, the time, and which figures are behind. */
function Speaker(props: {
  saved: DocumentDetail<SlidesContent>;
  surface: PageSurface;
  tethers: readonly Tether[];
  course: Course;
}) {
  const { saved, surface, tethers, course } = props;
  const pages = surface.pages.pages();
  const page = pages[course.index] ?? pages.at(-1)!;
  const next = pages[course.index + 1];
  const behind = tethers.filter((each) => each.placed && hasChanges(each));
  const box = useRef<HTMLElement>(null);
  useEffect(() => box.current?.focus(), []);
  return (
    <main
      ref={box}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: keys go through the slides
      tabIndex={0}
      className="flex h-full flex-col gap-3 bg-mist p-4 outline-none"
      onKeyDown={(event) => {
        if (course.key(event.key)) event.preventDefault();
      }}
    >
      <title>{`Speaker’s window: ${saved.name}`}</title>
      <div className="flex items-center gap-4">
        <h1 className="text-[16px] font-semibold">{saved.name}</h1>
        <span role="status" className="tabular-nums">
          Slide {course.index + 1} of {pages.length}
        </span>
        <Clock since={course.since} />
        <span className="flex-1" />
        <Button disabled={course.index === 0} onClick={() => course.go(-1)}>
          <ArrowLeft size={14} aria-hidden /> Before
        </Button>
        <Button disabled={!next} onClick={() => course.go(1)}>
          Next <ArrowRight size={14} aria-hidden />
        </Button>
        <Button aria-pressed={course.isBlack} onClick={course.black}>
          <Moon size={14} aria-hidden /> {course.isBlack ? 'Show the slide' : 'Black screen'}
        </Button>
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-[3fr_2fr] gap-4">
        <div className="flex min-h-0 flex-col gap-3">
          <SmallSlide {...{ saved, surface, page }} />
          <section aria-label="Notes" className="min-h-0 flex-1 overflow-auto bg-white p-3">
            <p className="text-[15px] leading-6 whitespace-pre-wrap">
              {slideOf(page).notes || <span className="text-muted">No notes to this slide.</span>}
            </p>
          </section>
        </div>
        <div className="flex min-h-0 flex-col gap-3 overflow-auto">
          <h2 className="text-sm font-semibold text-muted">{next ? 'Next' : 'The last slide'}</h2>
          {next && <SmallSlide {...{ saved, surface }} page={next} />}
          <section aria-label="Figures that are behind" className="bg-white p-3">
            <h2 className="text-sm font-semibold text-muted">Seen by you alone</h2>
            {behind.length === 0 ? (
              <p>Every figure is as its source has it.</p>
            ) : (
              <ul>
                {behind.map((tether) => (
                  <li key={tether.id} className="flex items-center gap-1.5">
                    <StandingGlyph standing={tether.standing} />
                    {tether.name}: {standingWords(tether)}
                  </li>
                ))}
              </ul>
            )}
          </section>
        </div>
      </div>
    </main>
  );
}

function SmallSlide(props: {
  saved: DocumentDetail;
  surface: PageSurface;
  page: Parameters<typeof slideOf>[0];
}) {
  const { saved, surface, page } = props;
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  const size = surface.shown.size(page);
  const scale = width / (size.width * PIXELS_PER_MM);
  return (
    <div
      ref={box}
      inert
      // As wide as its column, and never so high that nothing is left for the notes.
      className="print-view relative w-full max-w-[80vh] shrink-0 overflow-hidden border border-hairline"
      style={{ height: size.height * PIXELS_PER_MM * scale }}
    >
      <div className="absolute origin-top-left" style={{ transform: `scale(${scale})` }}>
        <OnePage documentId={saved.id} {...{ surface, page }} ground={slideGround} />
      </div>
    </div>
  );
}

/** Minutes and seconds since the beginning. */
function Clock({ since }: { since: number | null }) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1_000);
    return () => clearInterval(timer);
  }, []);
  const seconds = since === null ? 0 : Math.max(0, Math.floor((now - since) / 1_000));
  const two = (value: number) => String(value).padStart(2, '0');
  return (
    <span className="tabular-nums" title="Since the beginning">
      {two(Math.floor(seconds / 60))}:{two(seconds % 60)}
    </span>
  );
}
