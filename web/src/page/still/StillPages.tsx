import { PIXELS_PER_MM } from '@tether/core';
import { type AnyPage, kindOf, type PageContent } from '@tether/documents';
import { type ReactNode, useEffect, useState } from 'react';
import { useSurface } from '../../documents/surface.ts';
import { apart } from '../../documents/writing/apart.ts';
import { PageDocument } from '../surface/page-document.ts';
import type { PageKind } from '../surface/page-kind.ts';
import { PageSurface } from '../surface/page-surface.ts';
import { ThingView } from '../things/ThingView.tsx';

const NOTHING = () => undefined;

/** Content as a surface on which nothing is changed; null for a moment. */
export function useStillSurface(kind: PageKind, content: PageContent): PageSurface | null {
  const [surface, setSurface] = useState<PageSurface | null>(null);
  useEffect(() => {
    const pages = new PageDocument(
      apart(kind.name, content as never).doc,
      kindOf(kind.name).shared,
    );
    const made = new PageSurface(pages, kind);
    setSurface(made);
    return () => {
      made.close();
      pages.close();
    };
  }, [kind, content]);
  return surface;
}

/** The pages of a document that only are looked at, one below the other: as a small picture, as a whole, or in print. */
export function StillPages(props: {
  documentId: string;
  kind: PageKind;
  content: PageContent;
  /** Pixels between two pages. */
  gap: number;
  /** Draws what lies under the things of a page. */
  ground: (surface: PageSurface, page: AnyPage) => ReactNode;
  /** Told as soon as it is there. */
  onSurface?: (surface: PageSurface) => void;
  /** Puts each page on a leaf that says more of it. */
  leaf?: Leaf | undefined;
}) {
  const { documentId, kind, content, gap, ground, onSurface, leaf } = props;
  const surface = useStillSurface(kind, content);
  useEffect(() => {
    if (surface) onSurface?.(surface);
  }, [surface, onSurface]);
  if (!surface) return null;
  return <Pages {...{ documentId, surface, gap, ground, leaf }} />;
}

type Ground = (surface: PageSurface, page: AnyPage) => ReactNode;
/** The element of class `sheet` that a page stands on. */
export type Leaf = (page: AnyPage, drawn: ReactNode) => ReactNode;

function Pages(props: {
  documentId: string;
  surface: PageSurface;
  gap: number;
  ground: Ground;
  leaf: Leaf | undefined;
}) {
  const { documentId, surface, gap, ground, leaf } = props;
  const pages = useSurface(surface, () => surface.pages.pages());
  return (
    <div
      ref={(element) => surface.shown.setCanvas(element)}
      className="flex w-fit flex-col"
      style={{ gap }}
    >
      {pages.map((page) => {
        const drawn = (
          <OnePage key={page.id} {...{ documentId, surface, page, ground }} isSheet={!leaf} />
        );
        return leaf ? leaf(page, drawn) : drawn;
      })}
    </div>
  );
}

/** One page of a surface as it is, only to be looked at. */
export function OnePage(props: {
  documentId: string;
  surface: PageSurface;
  page: AnyPage;
  ground: Ground;
  /** It is what is printed, not a part of it. */
  isSheet?: boolean;
}) {
  const { documentId, surface, page, ground, isSheet = true } = props;
  const things = useSurface(surface, () =>
    surface.pages.things().filter((thing) => thing.page === page.id),
  );
  const places = useSurface(surface, () => {
    const all = surface.boxes.all();
    return things.map(({ id }) => all.get(id) ?? null);
  });
  const settings = useSurface(surface, () => surface.pages.settings());
  // Another layer draws its things anew.
  useSurface(surface, () => surface.pages.layers());
  const { width, height } = surface.shown.size(page);
  const space = surface.shown.space(page);
  return (
    <div
      className={`page-paper ${isSheet ? 'sheet' : ''}`}
      style={{
        ...surface.kind.style?.(settings),
        position: 'relative',
        width: width * PIXELS_PER_MM,
        height: height * PIXELS_PER_MM,
        overflow: 'hidden',
        ...(isSheet ? { breakAfter: 'page' } : {}),
      }}
    >
      {ground(surface, page)}
      {things.map((thing, at) => {
        const place = places[at];
        const on = surface.shown.layers.of(thing);
        if (!place || !on || on.isOffPaper) return null;
        return (
          <ThingView
            key={thing.id}
            {...{ documentId, surface, place, space }}
            thing={on.thing}
            x={place.x}
            y={place.y}
            width={place.width}
            height={place.height}
            isChosen={false}
            isWriting={false}
            onWritten={NOTHING}
            onShowPanel={NOTHING}
          />
        );
      })}
    </div>
  );
}
