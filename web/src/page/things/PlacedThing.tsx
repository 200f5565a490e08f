import type { Tether } from '@tether/contract';
import {
  type Box,
  bottomOf,
  fontSizeFor,
  PIXELS_PER_MM,
  rightOf,
  type TableFace,
} from '@tether/core';
import { isInline, type ObjectThing } from '@tether/documents';
import { type ReactNode, useCallback, useEffect, useMemo, useRef } from 'react';
import { CommentMark } from '../../documents/comments/CommentMark.tsx';
import { Cleat } from '../../documents/object/Cleat.tsx';
import { useDressing } from '../../documents/object/dressings.ts';
import { TagFace, ValueFace } from '../../documents/object/InlineFaces.tsx';
import { ObjectFace } from '../../documents/object/ObjectFace.tsx';
import { useCellClicks } from '../../documents/object/useCellClicks.ts';
import { DrawnOrFault } from '../../placed/DrawnOrFault.tsx';
import { usePlacedTether } from '../../state/usePlacedTether.ts';
import { CAPITALS } from '../drawn/page-letters.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import type { TablePartBox } from '../surface/thing-places.ts';
import { PulledPart } from './PulledPart.tsx';

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

/** How large the parts of a table came out, and which stand at places of their own. */
function partsOf(
  { layout: { widths, heights }, strips }: TableFace,
  pulled: ObjectThing['pulled'],
): TablePartBox[] {
  const sum = (all: readonly number[]) => all.reduce((total, each) => total + each, 0);
  return strips
    .flatMap(({ parts }) => parts)
    .map(({ head, from, to, columns }, nth) => ({
      size: {
        width: sum(columns.map((column) => widths[column]!)) / PIXELS_PER_MM,
        height:
          sum([...head.map((row) => heights[row]!), ...heights.slice(from, to)]) / PIXELS_PER_MM,
      },
      place: pulled[nth] ?? null,
    }));
}

interface Props {
  documentId: string;
  surface: PageSurface;
  thing: ObjectThing;
  /** Where it stands, in millimetres. */
  place: { x: number; y: number };
  space: Box;
  /** It alone is chosen. */
  isChosen: boolean;
  onShowPanel: () => void;
}

/** A placed object on a page: what it shows, letters at their own size, and its cleat. */
export function PlacedThing(props: Props) {
  const { documentId, surface, thing, onShowPanel } = props;
  const tether = usePlacedTether(documentId, thing);
  const clicks = useCellClicks(documentId, thing, () => surface.isEditable);
  const box = useMeasured(surface, thing.id, tether !== undefined);
  return (
    <div ref={box} data-thing-box="" className="relative w-fit">
      {tether ? (
        <>
          {/* biome-ignore lint/a11y/noStaticElementInteractions: the panel picks cells with the keyboard */}
          {/* biome-ignore lint/a11y/useKeyWithClickEvents: the panel picks cells with the keyboard */}
          <div onClick={clicks.pick} onDoubleClick={clicks.open}>
            {isInline(thing.form) ? (
              <InlineFace surface={surface} thing={thing} tether={tether} />
            ) : (
              <Face {...props} tether={tether} />
            )}
          </div>
          <Cleat
            tether={tether}
            place={isInline(thing.form) ? 'behind' : 'corner'}
            onClick={onShowPanel}
          />
          <CommentMark tetherId={thing.tetherId} />
        </>
      ) : (
        <p className="w-64 rounded-box border border-dashed border-hairline p-4 font-sans text-base text-muted">
          This object gets its figures when the document is saved.
        </p>
      )}
    </div>
  );
}

/** Tells the surface how large an object comes out, whenever that changes. */
function useMeasured(surface: PageSurface, id: string, isThere: boolean) {
  const box = useRef<HTMLDivElement>(null);
  const isThereNow = useRef(isThere);
  isThereNow.current = isThere;
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      const isDrawn = isThereNow.current && !box.current?.querySelector('[data-pending]');
      const size = { width: width / PIXELS_PER_MM, height: height / PIXELS_PER_MM };
      surface.boxes.measured(id, size, isDrawn);
    });
    observer.observe(box.current);
    return () => observer.disconnect();
  }, [surface, id]);
  return box;
}

/** A value or tag, in letters as high as it is to have. */
function InlineFace(props: { surface: PageSurface; thing: ObjectThing; tether: Tether }) {
  const { surface, thing, tether } = props;
  const dressing = useDressing(surface.shown.dressings, thing.tetherId);
  const { letters } = thing;
  return (
    <p
      className="page-value whitespace-nowrap"
      style={
        letters === null ? undefined : { fontSize: fontSizeFor(letters, CAPITALS) * PIXELS_PER_MM }
      }
    >
      <DrawnOrFault isInline resetKeys={[tether.shown, thing, dressing]}>
        {thing.form === 'tag' ? (
          <TagFace tether={tether} />
        ) : (
          <ValueFace tether={tether} dressing={dressing} />
        )}
      </DrawnOrFault>
    </p>
  );
}

/** A table, chart or facsimile in its room. */
function Face(props: Props & { tether: Tether }) {
  const { surface, thing, place, space, isChosen, tether } = props;
  const { tetherId, form, pulled } = thing;
  const dressing = useDressing(surface.shown.dressings, tetherId);
  const mayChange = isChosen && surface.shown.isFree(thing);
  const slot = useCallback(
    (nth: number, part: ReactNode): ReactNode =>
      nth === 0 ? (
        part
      ) : (
        <PulledPart
          nth={nth}
          place={pulled[nth] ?? null}
          onPull={mayChange ? (to) => surface.steps.pullPart(thing.id, nth, to) : null}
        >
          {part}
        </PulledPart>
      ),
    [pulled, mayChange, surface, thing.id],
  );
  const onTable = useCallback(
    (face: TableFace | null) => surface.boxes.setParts(thing.id, face ? partsOf(face, pulled) : []),
    [surface, thing.id, pulled],
  );
  const { width, height } = roomOf(thing, place, space);
  const apart = Object.keys(pulled).length;
  const room = useMemo(
    () => ({
      width: width * PIXELS_PER_MM,
      height: height * PIXELS_PER_MM,
      isLast: true,
      apart,
    }),
    [width, height, apart],
  );
  return (
    <ObjectFace
      {...{ tether, tetherId, form, dressing, slot, onTable, room }}
      name={tether.name}
      look={surface.look()}
      hasCorner={false}
      onLeft={() => surface.focus()}
      onDress={mayChange ? (change) => surface.dress(tetherId, change) : undefined}
      meanwhile={<div data-pending className="h-16 w-48 animate-pulse bg-mist" />}
    />
  );
}
