import { LETTER_HEIGHTS } from '@tether/core';
import type { TextThing } from '@tether/documents';
import { ChoiceField } from '../../ui/fields/ChoiceField.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { Tick } from '../../ui/fields/Tick.tsx';
import { Millimetres } from '../fields/measure-fields.tsx';

import { OwnColour } from './OwnColour.tsx';
import type { FieldsProps } from './thing-screen.ts';

/** How a text is set, and where it points. */
export function TextFields(props: FieldsProps<TextThing>) {
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
