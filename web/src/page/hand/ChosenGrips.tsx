import type { Point, TurnedBox } from '@tether/core';
import { kindOfThing, type Thing } from '@tether/documents';
import type { PointerEvent } from 'react';
import type { PageSurface } from '../surface/page-surface.ts';
import { Grips } from './Grips.tsx';
import { guidesAround, type Held } from './hand.ts';

/** The outline of a chosen thing, with the grips that it has: one that is chosen with others, or is locked, has none. */
export function ChosenGrips(props: {
  surface: PageSurface;
  thing: Thing;
  /** Where it is drawn at the moment, and where it stands. */
  box: TurnedBox;
  place: TurnedBox;
  scale: number;
  isOne: boolean;
  pointOf: (event: PointerEvent) => Point;
  onGrip: (what: Held, event: PointerEvent) => void;
}) {
  const { surface, thing, box, place, scale, isOne, pointOf, onGrip } = props;
  const { id } = thing;
  const { extent, turns } = kindOfThing(thing);
  const isFree = surface.shown.isFree(thing);
  const isInLine = surface.texts.textOf(thing) !== null;
  const isHeld = isOne && isFree && !isInLine;
  return (
    <Grips
      box={box}
      scale={scale}
      hasGrips={isHeld && (extent === 'box' || extent === 'content')}
      canTurn={isHeld && turns}
      isLocked={!isFree}
      onGrip={(grip, event) => {
        const guides = guidesAround(surface, new Set([id]));
        onGrip({ kind: 'size', from: pointOf(event), id, box: place, grip, guides }, event);
      }}
      onTurn={(event) => onGrip({ kind: 'turn', id, box: place }, event)}
    />
  );
}
