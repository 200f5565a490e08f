import { Button } from '@headlessui/react';
import type { LucideIcon } from 'lucide-react';
import type { ComponentProps } from 'react';

interface Props extends Omit<ComponentProps<'button'>, 'ref' | 'children'> {
  icon: LucideIcon;
  /** Name for screen readers and the tooltip. */
  label: string;
  isOn?: boolean;
}

/** A small square button with an icon and a name. */
export function IconButton({ icon: Icon, label, isOn, className = '', ...rest }: Props) {
  return (
    <Button
      type="button"
      aria-label={label}
      title={label}
      aria-pressed={isOn}
      className={`inline-grid ${/\bsize-/.test(className) ? '' : 'size-8'} shrink-0 place-items-center rounded-box border ${isOn ? 'border-rope bg-rope/15' : 'border-transparent enabled:hover:bg-mist'} disabled:opacity-40 ${className}`}
      {...rest}
    >
      <Icon size={16} strokeWidth={1.75} aria-hidden />
    </Button>
  );
}
