import { Minus, Plus } from 'lucide-react';
import type { ReactNode } from 'react';
import { useAppDispatch } from '../state/store.ts';
import { zoomed } from '../state/workbench-slice.ts';
import { IconButton } from '../ui/IconButton.tsx';

/** Scales nearer to each other than this are the same. */
const SAME = 0.005;

/** How large a document is drawn: smaller, larger, and back to where it fits. `steps` are the scales that it goes through. */
export function ZoomButtons(props: {
  scale: number;
  steps: readonly number[];
  /** What fitting means here. */
  fitTitle: string;
  className: string;
  /** More ways to choose a scale. */
  children?: ReactNode;
}) {
  const { scale, steps, fitTitle, className, children } = props;
  const dispatch = useAppDispatch();
  const smaller = steps.findLast((step) => step < scale - SAME);
  const larger = steps.find((step) => step > scale + SAME);
  const go = (to: number | undefined) => to !== undefined && dispatch(zoomed(to));
  return (
    <fieldset aria-label="Zoom" className={className}>
      <IconButton
        icon={Minus}
        label="Smaller"
        className="size-7"
        disabled={smaller === undefined}
        onClick={() => go(smaller)}
      />
      <button
        type="button"
        title={fitTitle}
        className="h-6 w-10 text-center text-sm tabular-nums hover:bg-mist"
        onClick={() => dispatch(zoomed('fit'))}
      >
        {Math.round(scale * 100)}%
      </button>
      <IconButton
        icon={Plus}
        label="Larger"
        className="size-7"
        disabled={larger === undefined}
        onClick={() => go(larger)}
      />
      {children}
    </fieldset>
  );
}
