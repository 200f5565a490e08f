import { Palette } from 'lucide-react';
import { SwatchButton } from '../../ui/fields/SwatchButton.tsx';

/** A labelled colour out of a few, or any other; null where none is set. */
export function ColourField(props: {
  label: string;
  value: string | null;
  /** Why it is as it is. */
  note?: string | null;
  isAllowed: boolean;
  onChange: (colour: string | null) => void;
}) {
  const { label, value, note = null, isAllowed, onChange } = props;
  return (
    <div className="grid grid-cols-[92px_1fr] items-center gap-2">
      <span aria-hidden className="text-sm font-semibold text-muted">
        {label}
      </span>
      <span className="flex items-center gap-2">
        <SwatchButton
          label={label}
          icon={Palette}
          value={value?.toUpperCase() ?? null}
          inUse={[]}
          disabled={!isAllowed}
          onChange={onChange}
        />
        {note !== null && <span className="text-sm text-muted">{note}</span>}
      </span>
    </div>
  );
}
