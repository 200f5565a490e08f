import { useId } from 'react';

/** One thing to filter by, with *all* for no filter. */
export function FilterSelect(props: {
  label: string;
  value: string;
  options: readonly { value: string; label: string }[];
  /** What no filter is called. */
  none?: string;
  onChange: (value: string) => void;
}) {
  const { label, value, options, none = 'all', onChange } = props;
  const id = useId();
  return (
    <span className="flex items-center gap-1.5">
      <label htmlFor={id} className="text-sm font-semibold text-muted">
        {label}
      </label>
      <select
        id={id}
        value={value}
        onChange={({ target }) => onChange(target.value)}
        className={`h-8 max-w-[170px] rounded-box border bg-white px-1.5 ${value === '' ? 'border-hairline text-muted' : 'border-rope'}`}
      >
        <option value="">{none}</option>
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </select>
    </span>
  );
}
