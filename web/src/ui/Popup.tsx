import {
  autoUpdate,
  FloatingFocusManager,
  flip,
  offset,
  type Placement,
  shift,
  useClick,
  useDismiss,
  useFloating,
  useInteractions,
  useRole,
} from '@floating-ui/react';
import { type ReactNode, useState } from 'react';

interface Props {
  /** Name of the button, and of what it opens. */
  label: string;
  /** What the button shows: an icon, or words where that is said. */
  face: ReactNode;
  hasWords?: boolean;
  disabled?: boolean;
  placement?: Placement;
  className: string;
  children: (close: () => void) => ReactNode;
}

/** A small button that opens a few controls beside it; Escape or a press elsewhere closes them. */
export function Popup(props: Props) {
  const { label, face, disabled = false, placement = 'bottom-start', className, children } = props;
  const { hasWords = false } = props;
  const [isOpen, setOpen] = useState(false);
  const { refs, floatingStyles, context } = useFloating({
    open: isOpen,
    onOpenChange: setOpen,
    placement,
    strategy: 'fixed',
    // A transform would be what fixed places within are measured from.
    transform: false,
    middleware: [offset(4), flip({ padding: 8 }), shift({ padding: 8 })],
    whileElementsMounted: autoUpdate,
  });
  const { getReferenceProps, getFloatingProps } = useInteractions([
    useClick(context),
    useDismiss(context),
    useRole(context),
  ]);
  return (
    <>
      <button
        ref={refs.setReference}
        type="button"
        aria-label={label}
        title={label}
        disabled={disabled}
        className={`inline-grid h-8 ${hasWords ? 'px-2' : 'w-8'} shrink-0 place-items-center rounded-box border border-transparent enabled:hover:bg-mist disabled:opacity-40`}
        {...getReferenceProps()}
      >
        {face}
      </button>
      {isOpen && (
        <FloatingFocusManager context={context} modal={false} guards={false}>
          <div
            ref={refs.setFloating}
            role="dialog"
            aria-label={label}
            style={floatingStyles}
            className={`z-40 rounded-box border border-hairline bg-white shadow-paper ${className}`}
            {...getFloatingProps()}
          >
            {children(() => setOpen(false))}
          </div>
        </FloatingFocusManager>
      )}
    </>
  );
}
