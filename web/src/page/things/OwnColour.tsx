import { type Thing, USUAL_COLOUR } from '@tether/documents';
import { useSurface } from '../../documents/surface.ts';
import { ColourField } from '../fields/ColourField.tsx';
import type { FieldsProps } from './thing-screen.ts';

/** The colour of a thing, unless its layer has one. */
export function OwnColour(props: FieldsProps<Extract<Thing, { colour: string }>>) {
  const { surface, thing, isAllowed } = props;
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
