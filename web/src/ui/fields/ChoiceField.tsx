import { Radio, RadioGroup } from '@headlessui/react';
import type { LucideIcon } from 'lucide-react';
import { type ReactNode, useRef } from 'react';

interface Option<T extends string> {
  value: T;
  label: string;
  icon?: LucideIcon;
  /** A small picture in the place of an icon. */
  picture?: ReactNode;
}

interface Props<T extends string> {
  label: string;
  /** Null where none of them holds. */
  value: T | null;
  options: readonly Option<T>[];
  /** `byPointer`: it was pressed, and the person has not come by the keyboard. */
  onChange: (value: T, byPointer: boolean) => void;
  disabled?: boolean;
  /** Pictures with their words below, the label above; otherwise words in a line, beside the label. */
  isTiled?: boolean;
}

/** So many pictures have room beside each other. */
const MOST_ACROSS = 5;

/** A labelled choice of one out of a few, all of which are seen; the arrow keys go through them. */
export function ChoiceField<T extends string>(props: Props<T>) {
  const { label, value, options, onChange, disabled = false, isTiled = false } = props;
  const byPointer = useRef(false);
  const across = options.length <= MOST_ACROSS ? options.length : MOST_ACROSS - 1;
  return (
    <div
      className={isTiled ? 'flex flex-col gap-1' : 'grid grid-cols-[92px_1fr] items-center gap-2'}
    >
      <span aria-hidden className="text-sm font-semibold text-muted">
        {label}
      </span>
      <RadioGroup<'div', T | null>
        aria-label={label}
        disabled={disabled}
        value={value}
        onPointerDown={() => {
          byPointer.current = true;
        }}
        onKeyDown={() => {
          byPointer.current = false;
        }}
        onChange={(chosen) => chosen !== null && onChange(chosen, byPointer.current)}
        className={
          isTiled
            ? 'grid gap-1.5'
            : 'flex overflow-clip rounded-box border border-hairline bg-white'
        }
        style={isTiled ? { gridTemplateColumns: `repeat(${across}, minmax(0, 1fr))` } : undefined}
      >
        {options.map(({ value: each, label: words, icon: Icon, picture }) => (
          <Radio
            key={each}
            value={each}
            className={`flex min-w-0 flex-1 cursor-pointer items-center justify-center text-center -outline-offset-2 data-disabled:cursor-default data-disabled:opacity-60 ${
              isTiled
                ? 'flex-col gap-1 rounded-box border border-hairline px-0.5 py-1.5 data-checked:border-rope data-checked:bg-rope/10 data-hover:not-data-checked:bg-mist'
                : 'h-7 px-1.5 not-first:border-l not-first:border-hairline data-checked:bg-deep data-checked:text-white data-hover:not-data-checked:bg-mist'
            }`}
          >
            {Icon && <Icon size={18} strokeWidth={1.5} aria-hidden />}
            {picture}
            <span className={isTiled ? 'text-[11.5px] leading-4 tracking-tight' : 'truncate'}>
              {words}
            </span>
          </Radio>
        ))}
      </RadioGroup>
    </div>
  );
}
