import { formatExamples, formatFault, type Sample, showNumber } from '@tether/core';
import { useEffect, useState } from 'react';
import { SelectField } from './SelectField.tsx';

const TYPED = 'typed';

interface Props {
  label: string;
  /** Number format code; empty for none of its own. */
  value: string;
  /** Said for none of its own. */
  usual: string;
  /** A figure to show the formats with. */
  sample: Sample | null;
  disabled?: boolean;
  onChange: (code: string) => void;
}

/** A number format: chosen by what it makes of a figure, or typed as a code by those who know them. */
export function FormatField({ label, value, usual, sample, disabled = false, onChange }: Props) {
  const examples = formatExamples(sample);
  const isListed = value === '' || examples.some(({ code }) => code === value);
  const [isTyping, setTyping] = useState(false);
  const isTyped = isTyping || !isListed;
  return (
    <>
      <SelectField
        label={label}
        value={isTyped ? TYPED : value}
        options={[
          { value: '', label: usual },
          ...examples.map(({ code, words, shown }) => ({
            value: code,
            label: `${shown}  (${words})`,
          })),
          { value: TYPED, label: 'a code of my own …' },
        ]}
        disabled={disabled}
        onChange={(code) => {
          setTyping(code === TYPED);
          if (code !== TYPED) onChange(code);
        }}
      />
      {isTyped && (
        <CodeField value={value} sample={sample} disabled={disabled} onChange={onChange} />
      )}
    </>
  );
}

/** A code as it is typed; it is taken over when the person is done and it is understood. */
function CodeField(props: Pick<Props, 'value' | 'sample' | 'onChange'> & { disabled: boolean }) {
  const { value, sample, disabled, onChange } = props;
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const code = text.trim();
  const fault = code === '' ? null : formatFault(code, sample);
  return (
    <label className="grid grid-cols-[92px_1fr] items-center gap-2">
      <span className="text-sm font-semibold text-muted">Format code</span>
      <input
        value={text}
        maxLength={120}
        disabled={disabled}
        placeholder="such as #,##0.0"
        spellCheck={false}
        aria-invalid={fault !== null}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => fault === null && code !== value && onChange(code)}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        className="h-7 w-full min-w-0 rounded-box border border-hairline bg-white px-1.5 font-mono text-[12px] disabled:bg-mist"
      />
      <span className="col-start-2 text-sm text-muted" role="status">
        {fault ?? (code !== '' && sample ? `shows ${showNumber(sample.value, code)}` : '')}
      </span>
    </label>
  );
}
