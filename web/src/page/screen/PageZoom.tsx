import { boxOfAll, PIXELS_PER_MM } from '@tether/core';
import { MoveHorizontal, Scan } from 'lucide-react';
import type { RefObject } from 'react';
import { useSurface } from '../../documents/surface.ts';
import { ZoomButtons } from '../../documents/ZoomButtons.tsx';
import { useAppDispatch } from '../../state/store.ts';
import { zoomed } from '../../state/workbench-slice.ts';
import { IconButton } from '../../ui/IconButton.tsx';
import { chosenBounds } from '../hand/PageCanvas.tsx';
import { AROUND_PAGE, within } from '../hand/usePageScale.ts';
import type { PageSurface } from '../surface/page-surface.ts';

const STEPS = [0.1, 0.15, 0.25, 0.4, 0.5, 0.6, 0.75, 0.9, 1, 1.25, 1.5, 2, 3, 4, 6, 8];

/** How large the page is drawn: smaller, larger, whole, as wide as there is room, or what is chosen. */
export function PageZoom(props: {
  surface: PageSurface;
  scale: number;
  pane: RefObject<HTMLElement | null>;
}) {
  const { surface, scale, pane } = props;
  const dispatch = useAppDispatch();
  const hasChosen = useSurface(surface, () => surface.shown.chosenIds().size > 0);
  const toChosen = () => {
    const box = boxOfAll(chosenBounds(surface));
    const element = pane.current;
    if (!box || !element) return;
    const across = (element.clientWidth * 0.8) / (Math.max(5, box.width) * PIXELS_PER_MM);
    const down = (element.clientHeight * 0.8) / (Math.max(5, box.height) * PIXELS_PER_MM);
    const next = within(Math.min(across, down));
    dispatch(zoomed(next));
    const perMm = next * PIXELS_PER_MM;
    requestAnimationFrame(() => {
      element.scrollLeft = (box.x + box.width / 2) * perMm + AROUND_PAGE - element.clientWidth / 2;
      element.scrollTop = (box.y + box.height / 2) * perMm + AROUND_PAGE - element.clientHeight / 2;
    });
  };
  return (
    <ZoomButtons
      scale={scale}
      steps={STEPS}
      fitTitle="The whole page"
      className="flex shrink-0 items-center"
    >
      <IconButton
        icon={MoveHorizontal}
        label="Fit the width"
        className="size-7"
        onClick={() => dispatch(zoomed('width'))}
      />
      <IconButton
        icon={Scan}
        label="Fit what is chosen"
        className="size-7"
        disabled={!hasChosen}
        onClick={toChosen}
      />
    </ZoomButtons>
  );
}
