import { richOf, richWords, type Thing, type ThingKind, type ThingOf } from '@tether/documents';
import { pictureAddress } from '../../documents/pictures/picture-address.ts';
import { useSurface } from '../../documents/surface.ts';
import { TextField } from '../../ui/fields/TextField.tsx';
import {
  ArcShape,
  DimensionShape,
  EllipseShape,
  LineShape,
  RectangleShape,
} from '../drawn/DrawnShapes.tsx';
import { MarksOnPlan } from '../plan/MarksOnPlan.tsx';
import { PlanFields } from '../plan/PlanFields.tsx';
import { PlanView } from '../plan/PlanView.tsx';
import { TextThing } from '../words/TextThing.tsx';
import { DrawnFields } from './DrawnFields.tsx';
import { PlacedThing } from './PlacedThing.tsx';
import { TextFields } from './TextFields.tsx';
import type { DrawnProps, FieldsProps, ThingScreen } from './thing-screen.ts';

/** All kinds of things as screens draw, edit and say them; what else they are is in the table of documents. */
const SCREENS: { [K in ThingKind]: ThingScreen<ThingOf<K>> } = {
  object: {
    Drawn: ({ onShowPanel, ...props }) => (
      <PlacedThing {...props} onShowPanel={() => onShowPanel(props.thing)} />
    ),
    // Its fields are those of every object, which have a panel of their own.
    Fields: null,
    said: (_, drawn) => cellsIn(drawn),
  },
  text: {
    Drawn: TextThing,
    Fields: TextFields,
    said: (thing, drawn) =>
      richWords(
        richOf(thing),
        (tetherId) => drawn?.querySelector(`[data-tether-id="${tetherId}"]`)?.textContent ?? '…',
      ),
  },
  rectangle: { Drawn: RectangleShape, Fields: DrawnFields },
  ellipse: { Drawn: EllipseShape, Fields: DrawnFields },
  line: { Drawn: LineShape, Fields: DrawnFields },
  arc: { Drawn: ArcShape, Fields: DrawnFields },
  dimension: {
    Drawn: ({ thing, surface }) => (
      <DimensionShape thing={thing} measures={surface.scaleOf(thing)} />
    ),
    Fields: DrawnFields,
  },
  picture: {
    Drawn: ({ thing }) => (
      <img
        src={pictureAddress(thing.hash)}
        alt={thing.alt}
        draggable={false}
        className="size-full object-fill"
      />
    ),
    Fields: PictureFields,
  },
  view: { Drawn: PlanView, Fields: PlanFields },
  marks: {
    Drawn: MarksInView,
    Fields: () => (
      <p className="text-muted">
        Its fields are in the panel of the object whose rows they are, under “Its rows as marks”.
      </p>
    ),
  },
};

/** What screens know of the kind of a thing. */
export function screenOf<T extends Thing>(thing: T): ThingScreen<T> {
  // Each kind stands under its own name, which the compiler cannot see here.
  return SCREENS[thing.kind] as unknown as ThingScreen<T>;
}

function MarksInView({ documentId, surface, thing, dragged = null }: DrawnProps<ThingOf<'marks'>>) {
  const view = useSurface(surface, () => surface.pages.thing(thing.view));
  return view?.kind === 'view' ? (
    <MarksOnPlan documentId={documentId} thing={thing} view={view} dragged={dragged} />
  ) : null;
}

function PictureFields({ surface, thing, isAllowed }: FieldsProps<ThingOf<'picture'>>) {
  return (
    <TextField
      label="What it shows, for people who cannot see it"
      value={thing.alt}
      maxLength={2000}
      disabled={!isAllowed}
      onChange={(alt) => surface.steps.changeChosen(() => ({ alt }))}
    />
  );
}

/** What stands in the cells of an object as it is drawn, or its value. */
function cellsIn(drawn: Element | null): string {
  const rows = [...(drawn?.querySelectorAll('tr') ?? [])].map((row) =>
    [...row.querySelectorAll('th, td')].map((cell) => cell.textContent ?? '').join('\t'),
  );
  return rows.length > 0
    ? rows.join('\n')
    : (drawn?.querySelector('.page-value')?.textContent ?? '');
}
