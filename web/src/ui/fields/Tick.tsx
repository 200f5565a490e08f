import { Checkbox, Field, Label } from '@headlessui/react';
import { Check } from 'lucide-react';
import type { ReactNode } from 'react';

/** A tick with its label. */
export function Tick(props: {
  isOn: boolean;
  onChange: (isOn: boolean) => void;
  isDisabled?: boolean;
  children: ReactNode;
}) {
  const { isOn, onChange, isDisabled = false, children } = props;
  return (
    <Field disabled={isDisabled} className="flex items-center gap-2">
      <Checkbox
        checked={isOn}
        onChange={onChange}
        className={`grid size-4 shrink-0 place-items-center rounded-[3px] border ${isOn ? 'border-deep bg-deep text-white' : 'border-muted bg-white'}`}
      >
        {isOn && <Check size={12} strokeWidth={3} aria-hidden />}
      </Checkbox>
      <Label className="cursor-pointer">{children}</Label>
    </Field>
  );
}
