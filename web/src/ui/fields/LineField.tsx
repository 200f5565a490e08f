import { useEffect, useState } from 'react';

interface Props {
  label: string;
  value: string;
  maxLength: number;
  isAllowed: boolean;
  /** Said below it. */
  note?: string | null;
  onChange: (value: string) => void;
}

/** A line of words, taken over when the person is done: half-written it is no step of its own. */
export function LineField({ label, value, maxLength, isAllowed, note, onChange }: Props) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  return (
    <label className="flex flex-col gap-1">
      <span className="text-sm font-semibold text-muted">{label}</span>
      <input
        value={text}
        maxLength={maxLength}
        disabled={!isAllowed}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => text !== value && onChange(text)}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        className="h-7 rounded-box border border-hairline bg-white px-1.5 disabled:bg-mist"
      />
      {note && <span className="text-sm text-muted">{note}</span>}
    </label>
  );
}
