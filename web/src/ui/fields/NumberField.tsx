import { Field, Input, Label } from '@headlessui/react';
import { useEffect, useState } from 'react';

interface Props {
  label: string;
  /** Null for not set. */
  value: number | null;
  unit: string;
  min: number;
  max: number;
  /** Shown while it is not set. */
  placeholder?: string;
  disabled?: boolean;
  /** Shown with all of its decimals. */
  isExact?: boolean;
  /** Called when the person is done: with Enter, or by going on. */
  onChange: (value: number | null) => void;
}

/** A labelled number with its unit. What is no number within the limits goes back to what it was. */
export function NumberField(props: Props) {
  const { label, value, unit, min, max, placeholder, disabled = false, isExact, onChange } = props;
  const shown = value === null ? '' : String(isExact ? value : Number(value.toFixed(1)));
  const [text, setText] = useState(shown);
  useEffect(() => setText(shown), [shown]);
  const finish = () => {
    if (text === shown) return;
    if (text.trim() === '') return onChange(null);
    const number = Number(text.replace(',', '.'));
    if (!Number.isFinite(number)) return setText(shown);
    onChange(Math.min(max, Math.max(min, number)));
  };
  return (
    <Field disabled={disabled} className="grid grid-cols-[92px_1fr] items-center gap-2">
      <Label className="text-sm font-semibold text-muted">{label}</Label>
      <span className="flex items-center gap-1.5">
        <Input
          value={text}
          inputMode="decimal"
          placeholder={placeholder}
          onChange={(event) => setText(event.target.value)}
          onBlur={finish}
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          className="h-7 w-full min-w-0 rounded-box border border-hairline bg-white px-1.5 disabled:bg-mist"
        />
        <span className="w-6 shrink-0 text-muted">{unit}</span>
      </span>
    </Field>
  );
}
