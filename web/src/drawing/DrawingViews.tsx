import type { DocumentDetail } from '@tether/contract';
import { PIXELS_PER_MM } from '@tether/core';
import { type AnyPage, type DrawingContent, inOrder } from '@tether/documents';
import { useState } from 'react';
import {
  PrintFrame,
  SETTLED_FRAMES,
  STILL_FRAMES,
  useFetched,
  useStillPages,
} from '../documents/PrintFrame.tsx';
import type { PageSurface } from '../page/page-surface.ts';
import { StillPages } from '../page/StillPages.tsx';
import { Drawing } from '../placed/nearness.ts';
import { useTethersQuery } from '../state/api.ts';
import { DRAWING, settingsOf, sheetOf } from './drawing-kind.ts';
import { SheetFrame } from './SheetFrame.tsx';

/** The frame and the title block of a sheet. */
export function groundOf(surface: PageSurface, page: AnyPage) {
  const pages = surface.pages.pages();
  const tied = surface.pages
    .things()
    .flatMap((thing) =>
      thing.kind === 'object' && thing.page === page.id && thing.field ? [thing.field] : [],
    );
  return (
    <SheetFrame
      sheet={sheetOf(page)}
      settings={settingsOf(surface.pages.settings())}
      nth={pages.findIndex(({ id }) => id === page.id) + 1}
      count={pages.length}
      tied={tied}
    />
  );
}

const BOX = { width: 244, height: 150 };

/** The first sheet of a drawing, small: with the figures it shows now. */
export function DrawingThumbnail(props: { documentId: string; content: DrawingContent }) {
  const { documentId, content } = props;
  // The objects read along: see `usePlacedTether`.
  useTethersQuery(documentId);
  const [first] = inOrder(content.pages);
  if (!first) return null;
  const size = DRAWING.size(first);
  const scale = Math.min(
    BOX.width / (size.width * PIXELS_PER_MM),
    BOX.height / (size.height * PIXELS_PER_MM),
  );
  return (
    <div
      aria-hidden
      inert
      className="print-view relative h-[150px] overflow-hidden border border-hairline bg-mist"
    >
      <div
        className="absolute top-0 left-1/2 origin-top"
        style={{ transform: `translateX(-50%) scale(${scale})` }}
      >
        <StillPages
          documentId={documentId}
          kind={DRAWING}
          content={content}
          gap={0}
          ground={groundOf}
        />
      </div>
    </div>
  );
}

/** All sheets of a drawing that only is looked at, one below the other. */
export function WholeDrawing(props: { documentId: string; content: DrawingContent }) {
  return (
    <div className="print-view w-fit">
      <StillPages {...props} kind={DRAWING} gap={24} ground={groundOf} />
    </div>
  );
}

/** A drawing as it will be printed: every sheet true to scale. */
export function DrawingPrint({ saved }: { saved: DocumentDetail<DrawingContent> }) {
  const { data: tethers } = useTethersQuery(saved.id, { refetchOnMountOrArgChange: true });
  const [surface, setSurface] = useState<PageSurface | null>(null);
  const isFetched = useFetched(tethers);
  const isDrawn = useStillPages(surface, SETTLED_FRAMES) !== null;
  const count = useStillPages(isDrawn ? surface : null, STILL_FRAMES);
  if (!tethers || !isFetched) return null;
  const sizes = saved.content.pages.map((page) => DRAWING.size(page));
  // Sheets of several sizes are cut out of paper that holds any of them, by the server.
  const paper = {
    width: Math.max(...sizes.map(({ width }) => width)),
    height: Math.max(...sizes.map(({ height }) => height)),
  };
  const isMixed = sizes.some(
    ({ width, height }) => width !== paper.width || height !== paper.height,
  );
  return (
    <PrintFrame
      saved={saved}
      tethers={tethers}
      count={count}
      paper={paper}
      whyNotHere={isMixed ? 'It has sheets of several sizes: save it as PDF and print that.' : null}
    >
      <Drawing.Provider value="all">
        <StillPages
          documentId={saved.id}
          kind={DRAWING}
          content={saved.content}
          gap={0}
          ground={groundOf}
          onSurface={setSurface}
        />
      </Drawing.Provider>
    </PrintFrame>
  );
}
