import type { DocumentDetail } from '@tether/contract';
import { PIXELS_PER_MM, type Size } from '@tether/core';
import { type AnyPage, inOrder, type PageContent } from '@tether/documents';
import { type ReactNode, useCallback, useState } from 'react';
import {
  PrintFrame,
  SETTLED_FRAMES,
  STILL_FRAMES,
  useFetched,
  useStillPages,
} from '../../documents/PrintFrame.tsx';
import { Drawing } from '../../placed/nearness/nearness.ts';
import { useTethersQuery } from '../../state/api.ts';
import type { PageKind } from '../surface/page-kind.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import { type Leaf, StillPages } from './StillPages.tsx';

/** What a kind of document on pages draws under its things. */
export interface PageLook {
  kind: PageKind;
  ground: (surface: PageSurface, page: AnyPage) => ReactNode;
}

const BOX = { width: 244, height: 150 };

/** The first page, small: with the figures it shows now. */
export function PageThumbnail(props: { documentId: string; content: PageContent; look: PageLook }) {
  const { documentId, content, look } = props;
  const { kind } = look;
  // The objects read along: see `usePlacedTether`.
  useTethersQuery(documentId);
  const [first] = inOrder(content.pages);
  if (!first) return null;
  const size = kind.size(first, content.settings);
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
        <StillPages documentId={documentId} content={content} {...look} gap={0} />
      </div>
    </div>
  );
}

/** All pages, only to be looked at, one below the other. */
export function WholePages(props: { documentId: string; content: PageContent; look: PageLook }) {
  const { documentId, content, look } = props;
  return (
    <div className="print-view w-fit">
      <StillPages documentId={documentId} content={content} {...look} gap={24} />
    </div>
  );
}

/** As it will be printed: every page true to scale. */
export function PagesPrint(props: {
  saved: DocumentDetail<PageContent>;
  look: PageLook;
  /** Leaves that the pages stand on instead of being sheets themselves, and their millimetres. */
  leaves?: { leaf: Leaf; size: Size } | undefined;
  /** More that can be chosen about how it is printed. */
  choices?: ReactNode;
}) {
  const { saved, look, leaves, choices } = props;
  const { kind } = look;
  const { data: tethers } = useTethersQuery(saved.id, { refetchOnMountOrArgChange: true });
  const [surface, setSurface] = useState<PageSurface | null>(null);
  const isFetched = useFetched(tethers);
  const isDrawn = useStillPages(surface, SETTLED_FRAMES) !== null;
  const count = useStillPages(isDrawn ? surface : null, STILL_FRAMES);
  const asSvg = useCallback(
    async (sheet: HTMLElement, at: number) => {
      const { pages, settings } = saved.content;
      // Only needed by whoever writes it out.
      const { svgOfPage } = await import('../drawn/svg-of-page.ts');
      const name = pages.length > 1 ? `${saved.name} ${at + 1}` : saved.name;
      const size = leaves?.size ?? kind.size(inOrder(pages)[at]!, settings);
      return svgOfPage(sheet, size, name);
    },
    [saved, kind, leaves],
  );
  if (!tethers || !isFetched) return null;
  const { pages, settings } = saved.content;
  const sizes = pages.map((page) => leaves?.size ?? kind.size(page, settings));
  // Pages of several sizes are cut out of paper that holds any of them, by the server.
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
      asSvg={asSvg}
      choices={choices}
      whyNotHere={isMixed ? 'It has pages of several sizes: save it as PDF and print that.' : null}
    >
      <Drawing.Provider value="all">
        <StillPages
          documentId={saved.id}
          content={saved.content}
          {...look}
          gap={0}
          onSurface={setSurface}
          leaf={leaves?.leaf}
        />
      </Drawing.Provider>
    </PrintFrame>
  );
}
