import { Field, Input, Label } from '@headlessui/react';
import { X } from 'lucide-react';
import { IconButton } from './IconButton.tsx';

interface Props {
  label: string;
  /** `#RRGGBB`, or null for not set. */
  value: string | null;
  disabled?: boolean;
  onChange: (value: string | null) => void;
}

/** A labelled colour that can be set and taken back. */
export function ColourField({ label, value, disabled = false, onChange }: Props) {
  return (
    <Field disabled={disabled} className="grid grid-cols-[92px_1fr] items-center gap-2">
      <Label className="text-sm font-semibold text-muted">{label}</Label>
      <span className="flex items-center gap-1.5">
        <Input
          type="color"
          value={value ?? '#ffffff'}
          onChange={(event) => onChange(event.target.value.toUpperCase())}
          className={`h-7 w-14 rounded-box border border-hairline bg-white p-0.5 ${value === null ? 'opacity-40' : ''}`}
        />
        {value === null ? (
          <span className="text-muted">not set</span>
        ) : (
          <>
            <span className="font-mono text-[12px]">{value}</span>
            <IconButton
              icon={X}
              label={`${label}: not set`}
              disabled={disabled}
              onClick={() => onChange(null)}
            />
          </>
        )}
      </span>
    </Field>
  );
}
