import { Description, Field, Input, Label } from '@headlessui/react';
import type { Fault } from '@tether/core';
import { type ComponentProps, useState } from 'react';

interface Props extends Omit<ComponentProps<'input'>, 'onChange' | 'onFocus' | 'value' | 'ref'> {
  label: string;
  value: string;
  onChange: (value: string) => void;
  /** Address letters: monospace. */
  isAddress?: boolean;
  /** The value is only suggested and may change by itself: not while somebody is in the field, who may have begun to type. */
  isSuggested?: boolean;
  fault?: Fault | null;
}

/** A labelled line of text, with its fault below when it has one. */
export function TextField({
  label,
  value,
  onChange,
  isAddress,
  isSuggested = false,
  onBlur,
  fault,
  className = '',
  ...rest
}: Props) {
  const [held, setHeld] = useState<string | null>(null);
  return (
    <Field className="flex flex-col gap-1">
      <Label className="text-sm font-semibold text-muted">{label}</Label>
      <Input
        value={isSuggested ? (held ?? value) : value}
        onFocus={() => setHeld(value)}
        onBlur={(event) => {
          setHeld(null);
          onBlur?.(event);
        }}
        onChange={(event) => onChange(event.target.value)}
        invalid={fault !== null && fault !== undefined}
        className={`h-8 rounded-box border bg-white px-2 ${fault ? 'border-adrift' : 'border-hairline'} ${isAddress ? 'font-mono text-[12px]' : ''} ${className}`}
        {...rest}
      />
      {fault && (
        <Description className="text-sm text-adrift">
          {fault.message} <span className="text-ink">{fault.hint}</span>
        </Description>
      )}
    </Field>
  );
}
