import type { DocumentDetail } from '@tether/contract';
import type { Point } from '@tether/core';
import { useEffect, useRef, useState } from 'react';
import { picturesAmong, usePictures } from '../documents/pictures/usePictures.ts';
import { type Anchor, useSurface } from '../documents/surface.ts';
import type { SharedWith } from '../documents/writing/shared-document.ts';
import { CollisionNote } from '../page/CollisionNote.tsx';
import { readCopiedThings, writeCopiedThings } from '../page/copied-things.ts';
import { PageCanvas, type Tool } from '../page/PageCanvas.tsx';
import { PageZoom } from '../page/PageZoom.tsx';
import { PageDocument } from '../page/page-document.ts';
import { PageSurface } from '../page/page-surface.ts';
import { usePageKeys } from '../page/usePageKeys.ts';
import { usePageScale } from '../page/usePageScale.ts';
import { type Incoming, readIncoming } from '../sources/carried.ts';
import { useTethersQuery } from '../state/api.ts';
import { useAppDispatch } from '../state/store.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { textRead } from '../state/workbench-slice.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { DrawingRail } from './DrawingRail.tsx';
import { DRAWING, settingsOf, sheetOf } from './drawing-kind.ts';
import { SheetFrame } from './SheetFrame.tsx';
import { SheetTabs } from './SheetTabs.tsx';

interface Props {
  saved: DocumentDetail;
  shared: SharedWith;
  onSurface: (surface: PageSurface | null) => void;
  onCells: (incoming: Incoming, at?: Anchor) => void;
}

/** A drawing, open: its sheets, with the rail of what can be drawn. */
export function DrawingScreen({ saved, shared, onSurface, onCells }: Props) {
  const surface = useOpenSurface(shared, onSurface);
  return surface ? <OpenDrawing {...{ saved, surface, onCells }} /> : null;
}

/** The surface of an open document, for as long as it is open. */
function useOpenSurface(
  { doc }: SharedWith,
  onSurface: (surface: PageSurface | null) => void,
): PageSurface | null {
  const { isAllowed } = useMayChange();
  const dispatch = useAppDispatch();
  const [surface, setSurface] = useState<PageSurface | null>(null);
  const onSurfaceNow = useRef(onSurface);
  onSurfaceNow.current = onSurface;
  useEffect(() => {
    const pages = new PageDocument(doc);
    const made = new PageSurface(pages, DRAWING);
    let before = '';
    const read = () => {
      const ids = made.objects();
      if (ids.join() === before) return;
      before = ids.join();
      dispatch(textRead(ids));
    };
    dispatch(textRead(made.objects()));
    const deaf = made.subscribe(read);
    setSurface(made);
    onSurfaceNow.current(made);
    return () => {
      deaf();
      onSurfaceNow.current(null);
      made.close();
      pages.close();
    };
  }, [doc, dispatch]);
  useEffect(() => surface?.setEditable(isAllowed), [surface, isAllowed]);
  return surface;
}

function OpenDrawing(props: {
  saved: DocumentDetail;
  surface: PageSurface;
  onCells: Props['onCells'];
}) {
  const { saved, surface, onCells } = props;
  const { isAllowed } = useMayChange();
  const pane = useRef<HTMLDivElement>(null);
  const [tool, setTool] = useState<Tool>('choose');
  const pages = useSurface(surface, () => surface.pages.pages());
  const page = useSurface(surface, () => surface.page());
  const settings = useSurface(surface, () => settingsOf(surface.pages.settings()));
  const tied = useSurface(surface, () =>
    surface
      .thingsHere()
      .flatMap((thing) => (thing.kind === 'object' && thing.field ? [thing.field] : [])),
  );
  const scale = usePageScale(pane, DRAWING.size(page));
  const keys = usePageKeys(surface, saved.id);
  const { data: tethers } = useTethersQuery(saved.id);
  useEffect(() => surface.setKnown((tethers ?? []).map(({ id }) => id)), [surface, tethers]);
  /** Where the picture goes that is being taken in, and what it is called if it is a plan. */
  const at = useRef<Point | null>(null);
  const planName = useRef<string | null>(null);
  const pictures = usePictures(saved.id, (picture) => {
    if (planName.current !== null) surface.addPlan(picture, planName.current);
    else surface.addPicture(picture, at.current ?? surface.nextPlace());
    [at.current, planName.current] = [null, null];
  });
  return (
    <div className="relative flex min-h-0 min-w-0 flex-1">
      {isAllowed && (
        <DrawingRail
          surface={surface}
          tool={tool}
          onTool={setTool}
          onPictures={(files) => void pictures.takeIn(files)}
          onPlan={(file) => {
            planName.current = file.name.replace(/\.[^.]*$/, '');
            void pictures.takeIn([file]);
          }}
        />
      )}
      <div className="relative flex min-w-0 flex-1 flex-col">
        <SheetTabs surface={surface} isAllowed={isAllowed}>
          <PageZoom surface={surface} scale={scale} pane={pane} />
        </SheetTabs>
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
              grid={settings.grid}
              ground={
                <SheetFrame
                  sheet={sheetOf(page)}
                  settings={settings}
                  nth={pages.findIndex(({ id }) => id === page.id) + 1}
                  count={pages.length}
                  tied={tied}
                />
              }
              onKey={(event) => {
                if (event.key === 'Escape') setTool('choose');
                keys(event);
              }}
              onCopy={(event, isCut) => {
                const things = surface.chosenThings();
                if (things.length === 0) return;
                event.preventDefault();
                writeCopiedThings(event.clipboardData, surface, things);
                if (isCut) surface.removeChosen();
              }}
              onPaste={(event) => {
                if (!isAllowed) return;
                const things = readCopiedThings(event.clipboardData, surface);
                if (things) {
                  event.preventDefault();
                  surface.add(things);
                  return;
                }
                const files = picturesAmong(event.clipboardData);
                if (files.length > 0) {
                  event.preventDefault();
                  void pictures.takeIn(files);
                  return;
                }
                const incoming = readIncoming(event.clipboardData);
                if (incoming) {
                  event.preventDefault();
                  onCells(incoming);
                  return;
                }
                const words = event.clipboardData.getData('text/plain');
                if (words.trim() === '') return;
                event.preventDefault();
                surface.addText(words.slice(0, 20_000), surface.nextPlace());
              }}
              onDrop={(event, place) => {
                if (!isAllowed) return;
                event.preventDefault();
                const files = picturesAmong(event.dataTransfer);
                if (files.length > 0) {
                  at.current = place;
                  void pictures.takeIn(files);
                  return;
                }
                const incoming = readIncoming(event.dataTransfer);
                if (incoming) onCells(incoming, place);
              }}
            />
          </div>
          {pictures.coming > 0 && (
            <p
              role="status"
              className="absolute right-4 bottom-4 z-10 rounded-box border border-hairline bg-white px-4 py-2 shadow-lg"
            >
              Taking in the picture …
            </p>
          )}
          {pictures.problem && (
            <div className="absolute inset-x-4 bottom-4 z-10 flex items-start gap-3 bg-white shadow-lg">
              <FaultNote fault={pictures.problem} className="min-w-0 flex-1" />
              <Button onClick={pictures.forget}>Close</Button>
            </div>
          )}
          <CollisionNote surface={surface} />
        </div>
      </div>
    </div>
  );
}
