import {
  BasicPlatform,
  type ChartConfiguration,
  Chart as ChartJs,
  LineElement,
  type Plugin,
} from 'chart.js';
import { useEffect, useRef, useState } from 'react';
import { Context } from 'svgcanvas';

/** Static faces: variable ones become pictures of letters in a printed file. */
const FAMILY = '"Source Sans 3", sans-serif';

/** Lines are kept as paths of the browser's own, which cannot be noted; those styled piece by piece are drawn by commands. */
const alongItsWay: Plugin = {
  id: 'along-its-way',
  beforeDatasetDraw(_, { meta: { dataset } }) {
    if (dataset instanceof LineElement) {
      const asItIs = { borderColor: () => undefined };
      dataset.options = Object.assign({}, dataset.options, { segment: asItIs });
    }
  },
};

/** A chart drawn as vectors, with its text as text: for paper. */
export function VectorChart(props: { configuration: ChartConfiguration; label: string }) {
  const { configuration, label } = props;
  const box = useRef<HTMLDivElement>(null);
  const [isDrawn, setDrawn] = useState(false);
  const [failed, setFailed] = useState<{ error: unknown } | null>(null);
  useEffect(() => {
    const host = box.current;
    if (!host) return;
    let chart: ChartJs | null = null;
    let isWanted = true;
    // Text is measured while it is drawn, so that its faces must be there.
    const faces = [400, 600].map((weight) => document.fonts.load(`${weight} 12px ${FAMILY}`));
    const draw = () => {
      if (!isWanted) return;
      // For all charts from here on: by now these faces are there.
      ChartJs.defaults.font.family = FAMILY;
      const { clientWidth: width, clientHeight: height } = host;
      const context = new Context(width, height);
      // What the drawing library asks of a canvas.
      const canvas = { width, height, style: {}, getContext: () => context };
      Object.assign(context, { canvas });
      const { options } = configuration;
      chart = new ChartJs(canvas as unknown as HTMLCanvasElement, {
        ...configuration,
        plugins: [...(configuration.plugins ?? []), alongItsWay],
        platform: BasicPlatform,
        options: {
          ...options,
          responsive: false,
          animation: false,
          devicePixelRatio: 1,
        },
      });
      const svg = context.getSvg();
      svg.setAttribute('viewBox', `0 0 ${width} ${height}`);
      host.replaceChildren(svg);
      setDrawn(true);
    };
    void Promise.allSettled(faces)
      .then(draw)
      .catch((error: unknown) => isWanted && setFailed({ error }));
    return () => {
      isWanted = false;
      chart?.destroy();
    };
  }, [configuration]);
  // What goes wrong in an effect that waits is told where the object is drawn, as everything else is.
  if (failed) throw failed.error;
  return (
    <div
      ref={box}
      role="img"
      aria-label={label}
      className="size-full"
      {...(isDrawn ? {} : { 'data-pending': true })}
    />
  );
}
