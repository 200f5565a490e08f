import { ZoomButtons } from '../../documents/ZoomButtons.tsx';

const STEPS = [0.4, 0.5, 0.6, 0.75, 0.9, 1, 1.25, 1.5, 2];

/** How large the paper is drawn, over its lower left corner. */
export function ZoomControl({ scale }: { scale: number }) {
  return (
    <ZoomButtons
      scale={scale}
      steps={STEPS}
      fitTitle="Fit the width"
      className="absolute bottom-3 left-2 z-20 flex flex-col-reverse items-center rounded-box border border-hairline bg-white/95"
    />
  );
}
