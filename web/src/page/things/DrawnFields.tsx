import {
  circleOf,
  LINE_KINDS,
  LINE_WIDTHS,
  type LineKind,
  type Point,
  roundMm,
} from '@tether/core';
import type { Thing, ThingOf } from '@tether/documents';
import { useSurface } from '../../documents/surface.ts';
import { ChoiceField } from '../../ui/fields/ChoiceField.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { Tick } from '../../ui/fields/Tick.tsx';
import { measuresOf } from '../drawn/DrawnShapes.tsx';
import { Millimetres } from '../fields/measure-fields.tsx';
import { viewAt } from '../plan/plans.ts';
import type { PageSurface } from '../surface/page-surface.ts';

import { OwnColour } from './OwnColour.tsx';
import type { FieldsProps } from './thing-screen.ts';

type Drawn = ThingOf<'rectangle' | 'ellipse' | 'line' | 'arc' | 'dimension'>;
const TINT = '#dfe8ea';

/** Lines and what is drawn of them: how they are drawn, and what they measure. */
export function DrawnFields(props: FieldsProps<Drawn>) {
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
          ? `Radius ${roundMm(circle.radius)} mm, ${roundMm(circle.angle)}°, ${roundMm(circle.length)} mm long on the page.`
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

const mm = (value: number) => Math.round(value * 10) / 10;
