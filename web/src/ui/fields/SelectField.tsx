import { Field, Label, Select } from '@headlessui/react';

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly { value: T; label: string }[];
  onChange: (value: T) => void;
  disabled?: boolean;
}

/** A labelled choice of one out of a few. */
export function SelectField<T extends string>(props: Props<T>) {
  const { label, value, options, onChange, disabled = false } = props;
  return (
    <Field disabled={disabled} className="grid grid-cols-[92px_1fr] items-center gap-2">
      <Label className="text-sm font-semibold text-muted">{label}</Label>
      <Select
        value={value}
        onChange={(event) => onChange(event.target.value as T)}
        className="h-7 w-full rounded-box border border-hairline bg-white px-1.5 disabled:bg-mist disabled:text-muted"
      >
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </Select>
    </Field>
  );
}
