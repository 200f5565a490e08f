import type { DocumentDetail, Tether } from '@tether/contract';
import { A_SERIES } from '@tether/core';
import type { ReportContent } from '@tether/documents';
import { ArrowLeft, FileDown, Printer, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useDocumentPrint } from '../documents/useDocumentPrint.ts';
import { apart } from '../documents/writing/apart.ts';
import { Drawing } from '../placed/nearness.ts';
import { api, useTethersQuery } from '../state/api.ts';
import { useAppDispatch } from '../state/store.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { Tick } from '../ui/Tick.tsx';
import { hasSections } from './pages/orientation.ts';
import { ReportPages } from './ReportScreen.tsx';
import type { ReportSurface } from './report-surface.ts';

/** A report as it will be printed: the sheets alone, and what to do with them. */
export function PrintPage({ saved }: { saved: DocumentDetail<ReportContent> }) {
  const { id } = saved;
  const { data: tethers } = useTethersQuery(id, { refetchOnMountOrArgChange: true });
  const [surface, setSurface] = useState<ReportSurface | null>(null);
  const isPaged = useStillPages(surface, SETTLED_FRAMES) !== null;
  const count = useStillPages(isPaged ? surface : null, STILL_FRAMES);
  const [query, setQuery] = useSearchParams();
  const hasMarks = query.has('marks');
  const { state, start, stop } = useDocumentPrint(id, hasMarks);
  const isFetched = useFetched(tethers);
  const [shared] = useState(() => apart('report', saved.content));
  if (!tethers || !isFetched) return null;
  const paper = surface?.settings().paper ?? null;
  const [short, long] = paper ? A_SERIES[paper.size] : [210, 297];
  const isMixed = surface !== null && hasSections(surface.editor.state.doc);
  // Sheets of both orientations are cut out of paper that holds either, by the server.
  const size = isMixed
    ? `${long}mm ${long}mm`
    : paper?.isLandscape
      ? `${long}mm ${short}mm`
      : `${short}mm ${long}mm`;
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
            onChange={(isOn) => setQuery(isOn ? { marks: '' } : {}, { replace: true })}
          >
            Mark cells that changed since you last looked
          </Tick>
        )}
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
          <Button onClick={start} disabled={count === null}>
            <FileDown size={14} aria-hidden /> Save as PDF
          </Button>
        )}
        <Button
          kind="primary"
          disabled={count === null || isMixed}
          title={
            isMixed
              ? 'It has sheets of both orientations: save it as PDF and print that.'
              : undefined
          }
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
      <Drawing.Provider value={isPaged ? 'all' : 'rooms'}>
        <ReportPages
          saved={saved}
          shared={shared}
          isEditable={false}
          gap={0}
          onSurface={setSurface}
        />
      </Drawing.Provider>
    </main>
  );
}

/** Frames that nothing may change in until the pages count as broken, and as drawn to the end. */
const SETTLED_FRAMES = 2;
const STILL_FRAMES = 8;

/**
 * Whether the figures of all objects are there. The sheets are drawn when they are: figures that come one by one would
 * have all pages laid out anew for each.
 */
function useFetched(tethers: Tether[] | undefined): boolean {
  const dispatch = useAppDispatch();
  const [isFetched, setFetched] = useState(false);
  const isKnown = tethers !== undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: those that come later are fetched by the objects themselves
  useEffect(() => {
    if (!tethers) return;
    const asked = tethers
      .filter(({ placed }) => placed)
      .map(({ base }) => dispatch(api.endpoints.snapshot.initiate(base)));
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
function useStillPages(surface: ReportSurface | null, frames: number): number | null {
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
