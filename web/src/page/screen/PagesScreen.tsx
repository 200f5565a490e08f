import type { DocumentDetail } from '@tether/contract';
import type { Point } from '@tether/core';
import { type AnyPage, kindOf } from '@tether/documents';
import {
  type ClipboardEvent,
  type DragEvent,
  type ReactNode,
  useEffect,
  useRef,
  useState,
} from 'react';
import { PictureNotes } from '../../documents/pictures/PictureNotes.tsx';
import { picturesAmong, usePictures } from '../../documents/pictures/usePictures.ts';
import { type Anchor, useSurface } from '../../documents/surface.ts';
import type { SharedWith } from '../../documents/writing/shared-document.ts';
import { type Incoming, readIncoming } from '../../sources/carried.ts';
import { useTethersQuery } from '../../state/api.ts';
import { useAppDispatch } from '../../state/store.ts';
import { useMayChange } from '../../state/useMayChange.ts';
import { textRead } from '../../state/workbench-slice.ts';
import { readCopiedThings, writeCopiedThings } from '../hand/copied-things.ts';
import type { Tool } from '../hand/drawn-by-hand.ts';
import { PageCanvas } from '../hand/PageCanvas.tsx';
import { usePageKeys } from '../hand/usePageKeys.ts';
import { usePageScale } from '../hand/usePageScale.ts';
import { addPlan } from '../plan/plans.ts';
import { PageDocument } from '../surface/page-document.ts';
import type { PageKind } from '../surface/page-kind.ts';
import { PageSurface } from '../surface/page-surface.ts';
import { useShownPage } from '../surface/useShownPage.ts';
import { CollisionNote } from './CollisionNote.tsx';
import { PageRail } from './PageRail.tsx';
import { PageZoom } from './PageZoom.tsx';

interface Props {
  saved: DocumentDetail;
  shared: SharedWith;
  onSurface: (surface: PageSurface | null) => void;
  onCells: (incoming: Incoming, at?: Anchor) => void;
  parts: PageParts;
}

/** What a kind of document puts around and under its pages. */
export interface PageParts {
  kind: PageKind;
  tools: readonly Tool[];
  /** Above the page; is given how large it is seen. */
  head: (surface: PageSurface, isAllowed: boolean, zoom: ReactNode) => ReactNode;
  /** At its left and below it. */
  aside?: (surface: PageSurface, documentId: string, isAllowed: boolean) => ReactNode;
  foot?: (surface: PageSurface, isAllowed: boolean) => ReactNode;
  /** Under the things of a page. */
  ground: (surface: PageSurface, page: AnyPage) => ReactNode;
  /** Millimetres of the grid that things snap to. */
  grid: (settings: Record<string, unknown>) => number | null;
}

/** A document whose things stand on pages, open. */
export function PagesScreen({ saved, shared, onSurface, onCells, parts }: Props) {
  const surface = useOpenSurface(shared, parts.kind, onSurface);
  return surface ? <OpenPages {...{ saved, surface, onCells, parts }} /> : null;
}

/** The surface of an open document, for as long as it is open. */
function useOpenSurface(
  { doc }: SharedWith,
  kind: PageKind,
  onSurface: (surface: PageSurface | null) => void,
): PageSurface | null {
  const { isAllowed } = useMayChange();
  const dispatch = useAppDispatch();
  const [surface, setSurface] = useState<PageSurface | null>(null);
  const onSurfaceNow = useRef(onSurface);
  onSurfaceNow.current = onSurface;
  useEffect(() => {
    const pages = new PageDocument(doc, kindOf(kind.name).shared);
    const made = new PageSurface(pages, kind);
    let before = '';
    const read = () => {
      const ids = made.objects();
      if (ids.join() === before) return;
      before = ids.join();
      dispatch(textRead(ids));
    };
    dispatch(textRead(made.objects()));
    const unsubscribe = made.subscribe(read);
    setSurface(made);
    onSurfaceNow.current(made);
    return () => {
      unsubscribe();
      onSurfaceNow.current(null);
      made.close();
      pages.close();
    };
  }, [doc, kind, dispatch]);
  useEffect(() => surface?.shown.setEditable(isAllowed), [surface, isAllowed]);
  return surface;
}

/** Says that an object waits for its place. */
function WaitingNote({ surface }: { surface: PageSurface }) {
  const isWaiting = useSurface(surface, () => surface.newObjects.waiting() !== null);
  return (
    <p
      role="status"
      className={
        isWaiting
          ? 'absolute bottom-4 left-1/2 z-10 -translate-x-1/2 rounded-box border border-rope bg-white px-4 py-2 shadow-lg'
          : 'sr-only'
      }
    >
      {isWaiting && 'Click where it should stand. Escape leaves it where it is.'}
    </p>
  );
}

function OpenPages(props: {
  saved: DocumentDetail;
  surface: PageSurface;
  onCells: Props['onCells'];
  parts: PageParts;
}) {
  const { saved, surface, onCells, parts } = props;
  const { isAllowed } = useMayChange();
  const pane = useRef<HTMLDivElement>(null);
  const [tool, setTool] = useState<Tool>('choose');
  useShownPage(surface);
  const page = useSurface(surface, () => surface.shown.page());
  const settings = useSurface(surface, () => surface.pages.settings());
  const scale = usePageScale(pane, parts.kind.size(page, settings));
  const keys = usePageKeys(surface, saved.id);
  const { data: tethers } = useTethersQuery(saved.id);
  useEffect(() => surface.setKnown((tethers ?? []).map(({ id }) => id)), [surface, tethers]);
  const { pictures, takePlan, ...comings } = useComings(saved.id, surface, onCells);
  return (
    <div className="relative flex min-h-0 min-w-0 flex-1">
      {isAllowed && (
        <PageRail
          surface={surface}
          tools={parts.tools}
          tool={tool}
          onTool={setTool}
          onPictures={(files) => void pictures.takeIn(files)}
          onPlan={parts.kind.hasPlans ? takePlan : undefined}
        />
      )}
      {parts.aside?.(surface, saved.id, isAllowed)}
      <div className="relative flex min-w-0 flex-1 flex-col">
        {parts.head(surface, isAllowed, <PageZoom surface={surface} scale={scale} pane={pane} />)}
        <div className="relative flex min-h-0 flex-1">
          <div ref={pane} className="min-h-0 min-w-0 flex-1 overflow-auto" data-scroll>
            <PageCanvas
              documentId={saved.id}
              name={saved.name}
              surface={surface}
              scale={scale}
              pane={pane}
              tool={tool}
              onToolDone={() => setTool('choose')}
              grid={parts.grid(settings)}
              ground={parts.ground(surface, page)}
              onKey={(event) => {
                if (event.key === 'Escape') setTool('choose');
                keys(event);
              }}
              {...comings}
            />
          </div>
          <PictureNotes pictures={pictures} side="right" />
          <WaitingNote surface={surface} />
          <CollisionNote surface={surface} />
        </div>
        {parts.foot?.(surface, isAllowed)}
      </div>
    </div>
  );
}

/** What is copied out of the pages, and what is pasted and dropped into them: things, pictures, cells of sources, words. */
function useComings(documentId: string, surface: PageSurface, onCells: Props['onCells']) {
  const { isAllowed } = useMayChange();
  /** Where the picture goes that is being taken in, and what it is called if it is a plan. */
  const at = useRef<Point | null>(null);
  const planName = useRef<string | null>(null);
  const pictures = usePictures(documentId, (picture) => {
    if (planName.current !== null) addPlan(surface, picture, planName.current);
    else surface.addPicture(picture, at.current ?? surface.shown.nextPlace());
    [at.current, planName.current] = [null, null];
  });
  /** Takes in what a clipboard or a drop holds; whether it was anything that is known. */
  const takeIn = (data: DataTransfer, place: Point | null): boolean => {
    const files = picturesAmong(data);
    if (files.length > 0) {
      if (place) at.current = place;
      void pictures.takeIn(files);
      return true;
    }
    const incoming = readIncoming(data);
    if (incoming) onCells(incoming, place ?? surface.shown.nextPlace());
    return incoming !== null;
  };
  return {
    pictures,
    takePlan: (file: File) => {
      planName.current = file.name.replace(/\.[^.]*$/, '');
      void pictures.takeIn([file]);
    },
    onCopy: (event: ClipboardEvent, isCut: boolean) => {
      const things = surface.shown.chosenThings();
      if (things.length === 0) return;
      event.preventDefault();
      writeCopiedThings(event.clipboardData, surface, things);
      if (isCut) surface.steps.removeChosen();
    },
    onPaste: (event: ClipboardEvent) => {
      if (!isAllowed) return;
      const things = readCopiedThings(event.clipboardData, surface);
      const words = event.clipboardData.getData('text/plain');
      if (things) surface.steps.add(things);
      else if (!takeIn(event.clipboardData, null)) {
        if (words.trim() === '') return;
        surface.addText(words.slice(0, MOST_WORDS), surface.shown.nextPlace());
      }
      event.preventDefault();
    },
    onDrop: (event: DragEvent, place: Point) => {
      if (!isAllowed) return;
      event.preventDefault();
      takeIn(event.dataTransfer, place);
    },
  };
}

/** Letters that one text of a page takes. */
const MOST_WORDS = 20_000;
