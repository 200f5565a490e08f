import { PIXELS_PER_MM } from '@tether/core';
import type { AnyPage, PageContent } from '@tether/documents';
import { type ReactNode, useEffect, useState } from 'react';
import { useSurface } from '../documents/surface.ts';
import { apart } from '../documents/writing/apart.ts';
import { PageDocument } from './page-document.ts';
import { type PageKind, PageSurface } from './page-surface.ts';
import { ThingView } from './ThingView.tsx';

const NOTHING = () => undefined;

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
}) {
  const { documentId, kind, content, gap, ground, onSurface } = props;
  const [surface, setSurface] = useState<PageSurface | null>(null);
  useEffect(() => {
    const pages = new PageDocument(apart(kind.name, content as never).doc);
    const made = new PageSurface(pages, kind);
    setSurface(made);
    return () => {
      made.close();
      pages.close();
    };
  }, [kind, content]);
  useEffect(() => {
    if (surface) onSurface?.(surface);
  }, [surface, onSurface]);
  if (!surface) return null;
  return <Pages {...{ documentId, surface, gap, ground }} />;
}

function Pages(props: {
  documentId: string;
  surface: PageSurface;
  gap: number;
  ground: (surface: PageSurface, page: AnyPage) => ReactNode;
}) {
  const { documentId, surface, gap, ground } = props;
  const pages = useSurface(surface, () => surface.pages.pages());
  const places = useSurface(surface, () => [...surface.places()]);
  const byId = new Map(places);
  const hidden = new Set(
    surface.pages.layers().flatMap(({ id, isVisible }) => (isVisible ? [] : [id])),
  );
  return (
    <div
      ref={(element) => surface.setCanvas(element)}
      className="flex w-fit flex-col"
      style={{ gap }}
    >
      {pages.map((page) => {
        const { width, height } = surface.kind.size(page);
        const space = surface.kind.space(page);
        return (
          <div
            key={page.id}
            className="sheet page-paper"
            style={{
              position: 'relative',
              width: width * PIXELS_PER_MM,
              height: height * PIXELS_PER_MM,
              overflow: 'hidden',
              breakAfter: 'page',
            }}
          >
            {ground(surface, page)}
            {surface.pages.things().map((thing) => {
              const place = byId.get(thing.id);
              if (thing.page !== page.id || !place) return null;
              if (thing.layer !== null && hidden.has(thing.layer)) return null;
              return (
                <ThingView
                  key={thing.id}
                  {...{ documentId, surface, thing, place, space }}
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
      })}
    </div>
  );
}
