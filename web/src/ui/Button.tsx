import { Button as PlainButton } from '@headlessui/react';
import type { ComponentProps, Ref } from 'react';

const KINDS = {
  primary: 'border-deep bg-deep text-white enabled:hover:bg-deep-dark disabled:opacity-50',
  plain:
    'border-hairline bg-white text-ink enabled:hover:border-deep disabled:text-muted disabled:bg-mist',
  quiet: 'border-transparent bg-transparent text-ink enabled:hover:bg-mist disabled:text-muted',
};

interface Props extends Omit<ComponentProps<'button'>, 'ref'> {
  kind?: keyof typeof KINDS;
  ref?: Ref<HTMLButtonElement>;
}

/** A push button in one of our three weights. */
export function Button({ kind = 'plain', className = '', type = 'button', ...rest }: Props) {
  return (
    <PlainButton
      type={type}
      className={`inline-flex h-8 shrink-0 items-center justify-center gap-1.5 rounded-box border px-3 font-semibold whitespace-nowrap ${KINDS[kind]} ${className}`}
      {...rest}
    />
  );
}
