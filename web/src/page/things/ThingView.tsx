import { type Box, PIXELS_PER_MM, type Point, type TurnedBox } from '@tether/core';
import type { MarksThing, Thing } from '@tether/documents';
import { memo } from 'react';
import { pictureAddress } from '../../documents/pictures/picture-address.ts';
import { useSurface } from '../../documents/surface.ts';
import { DrawnThing } from '../drawn/DrawnThing.tsx';
import { MarksOnPlan } from '../plan/MarksOnPlan.tsx';
import { PlanView } from '../plan/PlanView.tsx';
import type { PageSurface } from '../surface/page-surface.ts';
import { TextThing } from '../words/TextThing.tsx';
import { PlacedThing } from './PlacedThing.tsx';

interface Props {
  documentId: string;
  surface: PageSurface;
  thing: Thing;
  /** Where it stands, as single numbers, so that it is drawn anew only when they change. */
  x: number;
  y: number;
  width: number;
  height: number;
  /** Where it stands while it is not moved: its room is that which it has there. */
  place: TurnedBox;
  space: Box;
  isChosen: boolean;
  /** It is not printed. */
  isOffPaper?: boolean;
  isWriting: boolean;
  onWritten: () => void;
  onShowPanel: (thing: Thing) => void;
  /** The mark that is dragged, and how far. */
  dragged?: { key: string; by: Point } | null;
}

const px = (millimetres: number) => millimetres * PIXELS_PER_MM;

/** Whether a thing is drawn from its corner by points, and has no box of its own. */
export const isOfPoints = ({ kind }: Thing): boolean =>
  kind === 'line' || kind === 'arc' || kind === 'dimension';

/** One thing on a page, at its place. */
export const ThingView = memo(function ThingView(props: Props) {
  const { documentId, surface, thing, space, isChosen } = props;
  const { x, y, width, height } = props;
  // A value in a line is drawn by its text.
  const isInLine = useSurface(surface, () => surface.texts.textOf(thing) !== null);
  if (isInLine) return null;
  // What is drawn with lines begins at its corner, not at that of its box.
  const corner = isOfPoints(thing) ? thing : { x, y };
  const isObject = thing.kind === 'object';
  return (
    <div
      data-thing={thing.id}
      {...(isObject ? { 'data-tether-id': thing.tetherId } : {})}
      className={`thing absolute ${isObject ? 'placed-object' : ''} ${thing.kind === 'marks' ? 'pointer-events-none' : ''} ${props.isOffPaper ? 'off-paper' : ''}`}
      style={{
        left: px(corner.x),
        top: px(corner.y),
        ...(isObject || corner === thing ? {} : { width: px(width), height: px(height) }),
        ...(thing.turn
          ? {
              transform: `rotate(${thing.turn}deg)`,
              transformOrigin: `${px(x + width / 2 - corner.x)}px ${px(y + height / 2 - corner.y)}px`,
            }
          : {}),
      }}
    >
      {isObject ? (
        <PlacedThing
          documentId={documentId}
          surface={surface}
          thing={thing}
          place={props.place}
          space={space}
          isChosen={isChosen}
          onShowPanel={() => props.onShowPanel(thing)}
        />
      ) : thing.kind === 'text' ? (
        <TextThing
          documentId={documentId}
          surface={surface}
          thing={thing}
          isWriting={props.isWriting}
          onWritten={props.onWritten}
        />
      ) : thing.kind === 'picture' ? (
        <img
          src={pictureAddress(thing.hash)}
          alt={thing.alt}
          draggable={false}
          className="size-full object-fill"
        />
      ) : thing.kind === 'view' ? (
        <PlanView thing={thing} />
      ) : thing.kind === 'marks' ? (
        <MarksIn documentId={documentId} surface={surface} thing={thing} dragged={props.dragged} />
      ) : (
        <DrawnThing thing={thing} measures={surface.scaleOf(thing)} />
      )}
    </div>
  );
});

function MarksIn(props: {
  documentId: string;
  surface: PageSurface;
  thing: MarksThing;
  dragged: Props['dragged'];
}) {
  const { documentId, surface, thing, dragged = null } = props;
  const view = useSurface(surface, () => surface.pages.thing(thing.view));
  return view?.kind === 'view' ? (
    <MarksOnPlan documentId={documentId} thing={thing} view={view} dragged={dragged} />
  ) : null;
}

/** Where something stands while it is moved by hand. */
export const shifted = (box: TurnedBox, by: Point | null): TurnedBox =>
  by ? { ...box, x: box.x + by.x, y: box.y + by.y } : box;
