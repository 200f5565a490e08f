import { type Box, bottomOf, fontSizeFor, PIXELS_PER_MM, rightOf } from '@tether/core';
import { isInline, type ObjectThing } from '@tether/documents';
import { useEffect, useMemo, useRef } from 'react';
import { CommentMark } from '../documents/comments/CommentMark.tsx';
import { Cleat } from '../documents/object/Cleat.tsx';
import { useDressing } from '../documents/object/dressings.ts';
import { TagFace, ValueFace } from '../documents/object/InlineFaces.tsx';
import { ObjectFace } from '../documents/object/ObjectFace.tsx';
import { useCellClicks } from '../documents/object/useCellClicks.ts';
import { DrawnOrFault } from '../placed/DrawnOrFault.tsx';
import { usePlacedTether } from '../state/usePlacedTether.ts';
import { CAPITALS } from './page-letters.ts';
import type { PageSurface } from './page-surface.ts';

/** Millimetres that an object has at least, however near to the frame it stands. */
const LEAST_ROOM = 10;

/** Millimetres that an object may take: those set for it, else those to the frame. */
function roomOf(
  { width, height }: Pick<ObjectThing, 'width' | 'height'>,
  place: { x: number; y: number },
  space: Box,
): { width: number; height: number } {
  return {
    width: width ?? Math.max(LEAST_ROOM, rightOf(space) - place.x),
    height: height ?? Math.max(LEAST_ROOM, bottomOf(space) - place.y),
  };
}

/** A placed object on a page: what it shows, letters at their own size, and its cleat. */
export function PlacedThing(props: {
  documentId: string;
  surface: PageSurface;
  thing: ObjectThing;
  /** Where it stands, in millimetres. */
  place: { x: number; y: number };
  space: Box;
  /** It alone is chosen. */
  isChosen: boolean;
  onShowPanel: () => void;
}) {
  const { documentId, surface, thing, place, space, isChosen, onShowPanel } = props;
  const { tetherId, form } = thing;
  const tether = usePlacedTether(documentId, thing);
  const dressing = useDressing(surface.dressings, tetherId);
  const clicks = useCellClicks(documentId, thing, () => surface.isEditable);
  const box = useRef<HTMLDivElement>(null);
  const millimetres = roomOf(thing, place, space);
  const room = useMemo(
    () => ({
      width: millimetres.width * PIXELS_PER_MM,
      height: millimetres.height * PIXELS_PER_MM,
      isLast: true,
    }),
    [millimetres.width, millimetres.height],
  );
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      surface.measured(thing.id, { width: width / PIXELS_PER_MM, height: height / PIXELS_PER_MM });
    });
    observer.observe(box.current);
    return () => observer.disconnect();
  }, [surface, thing.id]);
  return (
    <div ref={box} className="relative w-fit">
      {tether ? (
        <>
          {/* biome-ignore lint/a11y/noStaticElementInteractions: the panel picks cells with the keyboard */}
          {/* biome-ignore lint/a11y/useKeyWithClickEvents: the panel picks cells with the keyboard */}
          <div onClick={clicks.pick} onDoubleClick={clicks.open}>
            {isInline(form) ? (
              <p
                className="page-value whitespace-nowrap"
                style={
                  thing.letters === null
                    ? undefined
                    : { fontSize: fontSizeFor(thing.letters, CAPITALS) * PIXELS_PER_MM }
                }
              >
                <DrawnOrFault isInline resetKeys={[tether.shown, thing, dressing]}>
                  {form === 'tag' ? (
                    <TagFace tether={tether} />
                  ) : (
                    <ValueFace tether={tether} dressing={dressing} />
                  )}
                </DrawnOrFault>
              </p>
            ) : (
              <ObjectFace
                tether={tether}
                tetherId={tetherId}
                form={form}
                dressing={dressing}
                name={tether.name}
                look={surface.look()}
                hasCorner={false}
                room={room}
                onLeft={() => surface.focus()}
                onDress={
                  isChosen && surface.isFree(thing)
                    ? (change) => surface.dress(tetherId, change)
                    : undefined
                }
                meanwhile={<div data-pending className="h-16 w-48 animate-pulse bg-mist" />}
              />
            )}
          </div>
          <Cleat
            tether={tether}
            place={isInline(form) ? 'behind' : 'corner'}
            onClick={onShowPanel}
          />
          <CommentMark tetherId={tetherId} />
        </>
      ) : (
        <p className="w-64 rounded-box border border-dashed border-hairline p-4 font-sans text-base text-muted">
          This object gets its figures when the document is saved.
        </p>
      )}
    </div>
  );
}
