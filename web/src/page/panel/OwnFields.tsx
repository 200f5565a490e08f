import {
  circleOf,
  LETTER_HEIGHTS,
  LINE_KINDS,
  LINE_WIDTHS,
  type LineKind,
  type Point,
} from '@tether/core';
import type { TextThing, Thing } from '@tether/documents';
import { useSurface } from '../../documents/surface.ts';
import { ChoiceField } from '../../ui/fields/ChoiceField.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { TextField } from '../../ui/fields/TextField.tsx';
import { Tick } from '../../ui/fields/Tick.tsx';
import { measuresOf } from '../drawn/DrawnThing.tsx';
import { ColourField } from '../fields/ColourField.tsx';
import { exact, Millimetres } from '../fields/measure-fields.tsx';
import { PlanFields } from '../plan/PlanFields.tsx';
import { viewAt } from '../plan/plans.ts';
import type { PageSurface } from '../surface/page-surface.ts';

/** What the fields of one chosen thing need. */
interface OwnProps<T extends Thing> {
  surface: PageSurface;
  thing: T;
  isAllowed: boolean;
}
type Drawn = Extract<Thing, { kind: 'rectangle' | 'ellipse' | 'line' | 'arc' | 'dimension' }>;

/** What only some kinds of things have. */
export function OwnFields({ surface, thing, isAllowed }: OwnProps<Thing>) {
  switch (thing.kind) {
    case 'text':
      return <TextFields surface={surface} thing={thing} isAllowed={isAllowed} />;
    case 'view':
      return <PlanFields surface={surface} thing={thing} isAllowed={isAllowed} />;
    case 'marks':
      return (
        <p className="text-muted">
          Its fields are in the panel of the object whose rows they are, under “Its rows as marks”.
        </p>
      );
    case 'picture':
      return (
        <TextField
          label="What it shows, for people who cannot see it"
          value={thing.alt}
          maxLength={2000}
          disabled={!isAllowed}
          onChange={(alt) => surface.steps.changeChosen(() => ({ alt }))}
        />
      );
    case 'rectangle':
    case 'ellipse':
    case 'line':
    case 'arc':
    case 'dimension':
      return <DrawnFields surface={surface} thing={thing} isAllowed={isAllowed} />;
    default:
      return null;
  }
}

/** The colour of a thing, unless its layer has one. */
function OwnColour({ surface, thing, isAllowed }: OwnProps<TextThing | Drawn>) {
  const layer = useSurface(surface, () => surface.shown.layers.layer(thing.layer) ?? null);
  return (
    <ColourField
      label="Colour"
      value={layer?.colour ?? thing.colour}
      note={layer?.colour ? `as its layer “${layer.name}” has it` : null}
      isAllowed={isAllowed && !layer?.colour}
      onChange={(next) => surface.steps.changeChosen(() => ({ colour: next ?? USUAL_COLOUR }))}
    />
  );
}

function TextFields(props: OwnProps<TextThing>) {
  const { surface, thing, isAllowed } = props;
  const set = (change: Record<string, unknown>) => surface.steps.changeChosen(() => change);
  return (
    <div className="flex flex-col gap-2">
      <SelectField
        label="Letters"
        value={String(thing.letters)}
        options={[...new Set([...LETTER_HEIGHTS, thing.letters])].map((height) => ({
          value: String(height),
          label: `${height} mm high`,
        }))}
        disabled={!isAllowed}
        onChange={(letters) => set({ letters: Number(letters) })}
      />
      <ChoiceField
        label="Set"
        value={thing.align}
        options={[
          { value: 'left', label: 'left' },
          { value: 'center', label: 'middle' },
          { value: 'right', label: 'right' },
        ]}
        disabled={!isAllowed}
        onChange={(align) => set({ align })}
      />
      {/* Texts of slides have the colour of their deck, and titles its weight. */}
      {thing.role === null && <OwnColour {...props} />}
      {thing.role !== 'title' && (
        <Tick isOn={thing.bold} isDisabled={!isAllowed} onChange={(bold) => set({ bold })}>
          Bold
        </Tick>
      )}
      <Tick
        isOn={thing.leader !== null}
        isDisabled={!isAllowed}
        onChange={(isOn) => set({ leader: isOn ? { x: -20, y: 15 } : null })}
      >
        With a leader line
      </Tick>
      {thing.leader && (
        <>
          <Millimetres
            label="Points across"
            value={thing.x + thing.leader.x}
            isAllowed={isAllowed}
            onChange={(x) => set({ leader: { ...thing.leader, x: x - thing.x } })}
          />
          <Millimetres
            label="Points down"
            value={thing.y + thing.leader.y}
            isAllowed={isAllowed}
            onChange={(y) => set({ leader: { ...thing.leader, y: y - thing.y } })}
          />
        </>
      )}
      <p className="text-sm text-muted">Press Enter, or click it twice, to write in it.</p>
    </div>
  );
}

/** Lines and what is drawn of them: how they are drawn, and what they measure. */
function DrawnFields(props: OwnProps<Drawn>) {
  const { surface, thing, isAllowed } = props;
  const set = (change: Record<string, unknown>) => surface.steps.changeChosen(() => change);
  const layer = useSurface(surface, () => surface.shown.layers.layer(thing.layer) ?? null);
  const measured = measuresOf(thing);
  const isClosable = thing.kind === 'line' && thing.points.length > 2;
  return (
    <div className="flex flex-col gap-2">
      <SelectField
        label="Line"
        value={String(layer?.line ?? thing.line)}
        options={[...new Set([...LINE_WIDTHS, layer?.line ?? thing.line])].map((width) => ({
          value: String(width),
          label: layer?.line ? `${width} mm, as its layer has it` : `${width} mm`,
        }))}
        disabled={!isAllowed || Boolean(layer?.line)}
        onChange={(line) => set({ line: Number(line) })}
      />
      <OwnColour {...props} />
      <SelectField<LineKind>
        label="Strokes"
        value={thing.lineKind}
        options={(Object.keys(LINE_KINDS) as LineKind[]).map((kind) => ({
          value: kind,
          label: kind,
        }))}
        disabled={!isAllowed}
        onChange={(lineKind) => set({ lineKind })}
      />
      {'fill' in thing && (thing.kind !== 'line' || thing.isClosed) && (
        <ChoiceField
          label="Inside"
          value={thing.fill === 'none' || thing.fill === 'hatched' ? thing.fill : 'tinted'}
          options={[
            { value: 'none', label: 'empty' },
            { value: 'hatched', label: 'hatched' },
            { value: 'tinted', label: 'tinted' },
          ]}
          disabled={!isAllowed}
          onChange={(fill) => set({ fill: fill === 'tinted' ? TINT : fill })}
        />
      )}
      {isClosable && (
        <Tick
          isOn={thing.isClosed}
          isDisabled={!isAllowed}
          onChange={(isClosed) => set({ isClosed })}
        >
          Closed
        </Tick>
      )}
      {thing.kind === 'arc' && <ArcFields surface={surface} thing={thing} isAllowed={isAllowed} />}
      {thing.kind === 'dimension' && (
        <Millimetres
          label="Beside by"
          value={thing.beside}
          isAllowed={isAllowed}
          onChange={(beside) => set({ beside })}
        />
      )}
      {measured && <AreaWords surface={surface} thing={thing} {...measured} />}
    </div>
  );
}

/** How far an arc bows, and the circle that it is a part of. */
function ArcFields(props: {
  surface: PageSurface;
  thing: Extract<Thing, { kind: 'arc' }>;
  isAllowed: boolean;
}) {
  const { surface, thing, isAllowed } = props;
  const circle = circleOf({ from: { x: 0, y: 0 }, to: thing.to, bow: thing.bow });
  return (
    <>
      <Millimetres
        label="Bows by"
        value={thing.bow}
        isAllowed={isAllowed}
        onChange={(bow) => surface.steps.changeChosen(() => ({ bow }))}
      />
      <p className="text-sm text-muted">
        {circle
          ? `Radius ${exact(circle.radius)} mm, ${exact(circle.angle)}°, ${exact(circle.length)} mm long on the page.`
          : 'It is a straight line.'}
      </p>
    </>
  );
}

/** The area of a closed shape: in truth where it is drawn over a plan, else on the page. */
function AreaWords(props: { surface: PageSurface; thing: Thing; area: number; centre: Point }) {
  const { surface, thing, area, centre } = props;
  const scale = useSurface(
    surface,
    () => viewAt(surface, { x: thing.x + centre.x, y: thing.y + centre.y })?.scale ?? null,
  );
  if (scale === null) {
    return <p className="text-sm text-muted">Area: {mm(area / 100)} cm² of the page.</p>;
  }
  const squareMetres = area / scale ** 2 / 1e6;
  return (
    <p className="text-sm text-muted">
      Area: {Number(squareMetres.toPrecision(4)).toLocaleString('en-GB')} m² in the plan.
    </p>
  );
}

const TINT = '#dfe8ea';
const USUAL_COLOUR = '#10242b';

const mm = (value: number) => Math.round(value * 10) / 10;
