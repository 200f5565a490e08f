import { type Form, usualCaption } from '@tether/documents';
import { type Surface, useSurface } from '../documents/surface.ts';
import { ChoiceField } from '../ui/fields/ChoiceField.tsx';

/** Whether an object has a caption, and as what it is counted. */
export function CaptionField(props: {
  surface: Surface;
  tetherId: string;
  form: Form;
  isAllowed: boolean;
}) {
  const { surface, tetherId, form, isAllowed } = props;
  const kind = useSurface(surface, (now) => now.object(tetherId)?.caption ?? null);
  const none = { value: 'none' as const, label: 'none' };
  const table = { value: 'table' as const, label: 'table' };
  const figure = { value: 'figure' as const, label: 'figure' };
  return (
    <ChoiceField
      label="Caption"
      value={kind ?? 'none'}
      // What is usual for the form comes first.
      options={usualCaption(form) === 'table' ? [none, table, figure] : [none, figure, table]}
      disabled={!isAllowed}
      onChange={(wanted, byPointer) => {
        surface.caption(tetherId, wanted === 'none' ? null : wanted);
        // Its words are typed next; who goes through the choices with the keyboard stays at them.
        if (byPointer && wanted !== 'none') queueMicrotask(() => surface.focus());
      }}
    />
  );
}
