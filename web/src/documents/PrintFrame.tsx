import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { PICTURE_DOTS, type Tether } from '@tether/contract';
import { ArrowLeft, FileDown, FileImage, Printer, X } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { tethersApi } from '../state/api.ts';
import { useAppDispatch } from '../state/store.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { ChoiceField } from '../ui/fields/ChoiceField.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { type PrintChoice, useDocumentPrint } from './useDocumentPrint.ts';

/** The sheets of a document as they will be printed, of whatever kind, and what to do with them. */
export function PrintFrame(props: {
  saved: { id: string; name: string };
  tethers: readonly Tether[];
  /** How many sheets there are once nothing moves any more. */
  count: number | null;
  /** Millimetres of the paper; that which holds every sheet where they are of several sizes. */
  paper: { width: number; height: number };
  /** Why the browser cannot print it itself. */
  whyNotHere: string | null;
  /** Writes one of the sheets as SVG; absent where they are no drawings. */
  asSvg?: ((sheet: HTMLElement, at: number) => Promise<string>) | undefined;
  /** More that can be chosen about how it is printed. */
  choices?: ReactNode;
  children: ReactNode;
}) {
  const { saved, tethers, count, paper, whyNotHere, asSvg, choices, children } = props;
  const { id } = saved;
  const [query, setQuery] = useSearchParams();
  const hasMarks = query.has('marks');
  const shown = ['marks', 'notes'].filter((each) => query.has(each));
  const { state, start, stop } = useDocumentPrint(id, shown);
  // The server asks for sheets as SVG here: only a browser knows where every letter stands.
  useEffect(() => {
    if (!asSvg) return;
    const window = globalThis as { sheetAsSvg?: (at: number) => Promise<string> };
    window.sheetAsSvg = (at) => asSvg(document.querySelectorAll<HTMLElement>('.sheet')[at]!, at);
    return () => {
      window.sheetAsSvg = undefined;
    };
  }, [asSvg]);
  const size = `${paper.width}mm ${paper.height}mm`;
  return (
    <main
      className={`print-view h-full overflow-auto print:h-auto print:overflow-visible ${hasMarks ? 'with-marks' : ''}`}
      {...(count === null ? {} : { 'data-print-ready': count })}
    >
      {/* A PDF is titled by it. */}
      <title>{saved.name}</title>
      <style>{`@page { size: ${size}; margin: 0 }`}</style>
      <div className="not-printed sticky top-0 z-20 flex h-12 items-center gap-4 border-b border-hairline bg-white px-4">
        <Link to={`/documents/${id}`} className="flex items-center gap-1.5 hover:underline">
          <ArrowLeft size={14} aria-hidden /> Back to the document
        </Link>
        <h1 className="truncate text-[16px] font-semibold">{saved.name}</h1>
        {tethers.some(({ placed, lookedAt }) => placed && lookedAt !== null) && (
          <Tick
            isOn={hasMarks}
            onChange={(isOn) =>
              setQuery(
                (before) => {
                  if (isOn) before.set('marks', '');
                  else before.delete('marks');
                  return before;
                },
                { replace: true },
              )
            }
          >
            Mark cells that changed since you last looked
          </Tick>
        )}
        {choices}
        <span role="status" className="ml-auto text-muted">
          {state.kind === 'printing'
            ? state.words
            : count === null
              ? 'Breaking into pages …'
              : `${count} ${count === 1 ? 'page' : 'pages'}`}
        </span>
        {state.kind === 'printing' ? (
          <Button onClick={stop}>
            <X size={14} aria-hidden /> Stop
          </Button>
        ) : (
          <>
            <Button onClick={() => start({ as: 'pdf' })} disabled={count === null}>
              <FileDown size={14} aria-hidden /> Save as PDF
            </Button>
            {asSvg && <SavePages count={count} onSave={start} />}
          </>
        )}
        <Button
          kind="primary"
          disabled={count === null || whyNotHere !== null}
          title={whyNotHere ?? undefined}
          onClick={() => window.print()}
        >
          <Printer size={14} aria-hidden /> Print
        </Button>
      </div>
      {state.kind === 'failed' && (
        <div className="not-printed mx-auto max-w-xl p-4">
          <FaultNote fault={state.fault} />
        </div>
      )}
      {children}
    </main>
  );
}

const ALL_PAGES = 'all';

/** Pages as files of their own: as drawings or as pictures. */
function SavePages({ count, onSave }: { count: number | null; onSave: (as: PrintChoice) => void }) {
  const [page, setPage] = useState(ALL_PAGES);
  const [as, setAs] = useState<'svg' | 'png'>('svg');
  const [dots, setDots] = useState('150');
  const pages = Array.from({ length: count ?? 0 }, (_, at) => String(at + 1));
  return (
    <Popover className="relative">
      <PopoverButton as={Button} disabled={count === null}>
        <FileImage size={14} aria-hidden /> Save pages as …
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-40 flex w-72 flex-col gap-2 rounded-box border border-hairline bg-white p-3"
      >
        {({ close }) => (
          <>
            {pages.length > 1 && (
              <SelectField
                label="Which"
                value={pages.includes(page) ? page : ALL_PAGES}
                options={[
                  { value: ALL_PAGES, label: `all ${pages.length}, in a ZIP` },
                  ...pages.map((each) => ({ value: each, label: `page ${each}` })),
                ]}
                onChange={setPage}
              />
            )}
            <ChoiceField
              label="As"
              value={as}
              options={[
                { value: 'svg', label: 'SVG' },
                { value: 'png', label: 'PNG' },
              ]}
              onChange={setAs}
            />
            {as === 'png' && (
              <SelectField
                label="Dots"
                value={dots}
                options={PICTURE_DOTS.map((each) => ({
                  value: String(each),
                  label: `${each} to the inch`,
                }))}
                onChange={setDots}
              />
            )}
            <Button
              kind="primary"
              onClick={() => {
                onSave({
                  as,
                  ...(page === ALL_PAGES ? {} : { page: Number(page) }),
                  ...(as === 'png' ? { dots: Number(dots) } : {}),
                });
                close();
              }}
            >
              Save
            </Button>
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}

/** Frames that nothing may change in until the pages count as broken, and as drawn to the end. */
export const SETTLED_FRAMES = 2;
export const STILL_FRAMES = 8;

/**
 * Whether the figures of all objects are there. The sheets are drawn when they are: figures that come one by one would
 * have all pages laid out anew for each.
 */
export function useFetched(tethers: Tether[] | undefined): boolean {
  const dispatch = useAppDispatch();
  const [isFetched, setFetched] = useState(false);
  const isKnown = tethers !== undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: those that come later are fetched by the objects themselves
  useEffect(() => {
    if (!tethers) return;
    const asked = tethers
      .filter(({ placed }) => placed)
      .map(({ base }) => dispatch(tethersApi.endpoints.snapshot.initiate(base)));
    let isWanted = true;
    void Promise.allSettled(asked).then(() => isWanted && setFetched(true));
    return () => {
      isWanted = false;
      for (const each of asked) each.unsubscribe();
    };
  }, [isKnown]);
  return isFetched;
}

/** How many pages there are, once everything is drawn, the fonts are there and nothing moves any more. */
export function useStillPages(
  surface: { element: HTMLElement } | null,
  frames: number,
): number | null {
  const [count, setCount] = useState<number | null>(null);
  useEffect(() => {
    if (!surface) return;
    let still = 0;
    let before = '';
    let frame = 0;
    const look = () => {
      const root = surface.element;
      const sheets = document.querySelectorAll('.sheet').length;
      const isWaiting =
        document.fonts.status !== 'loaded' ||
        root.querySelector('.animate-pulse, [data-pending]') !== null ||
        [...root.querySelectorAll('img')].some(({ complete }) => !complete);
      const now = `${sheets} ${root.scrollHeight}`;
      still = isWaiting || now !== before ? 0 : still + 1;
      before = now;
      if (still >= frames) setCount(sheets);
      else frame = requestAnimationFrame(look);
    };
    frame = requestAnimationFrame(look);
    return () => cancelAnimationFrame(frame);
  }, [surface, frames]);
  return count;
}
