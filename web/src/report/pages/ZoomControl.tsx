import { Minus, Plus } from 'lucide-react';
import { useAppDispatch } from '../../state/store.ts';
import { zoomed } from '../../state/workbench-slice.ts';
import { IconButton } from '../../ui/IconButton.tsx';

const STEPS = [0.4, 0.5, 0.6, 0.75, 0.9, 1, 1.25, 1.5, 2];

/** How large the paper is drawn: smaller, larger, and back to as wide as there is room. */
export function ZoomControl({ scale }: { scale: number }) {
  const dispatch = useAppDispatch();
  const smaller = STEPS.findLast((step) => step < scale - 0.01);
  const larger = STEPS.find((step) => step > scale + 0.01);
  return (
    <fieldset
      aria-label="Zoom"
      className="absolute bottom-3 left-2 z-20 flex flex-col-reverse items-center rounded-box border border-hairline bg-white/95"
    >
      <IconButton
        icon={Minus}
        label="Smaller"
        className="size-7"
        disabled={smaller === undefined}
        onClick={() => smaller !== undefined && dispatch(zoomed(smaller))}
      />
      <button
        type="button"
        title="Fit the width"
        className="h-6 w-9 text-center text-sm tabular-nums hover:bg-mist"
        onClick={() => dispatch(zoomed('fit'))}
      >
        {Math.round(scale * 100)}%
      </button>
      <IconButton
        icon={Plus}
        label="Larger"
        className="size-7"
        disabled={larger === undefined}
        onClick={() => larger !== undefined && dispatch(zoomed(larger))}
      />
    </fieldset>
  );
}
