import { createContext, type ReactNode, useContext, useEffect, useRef, useState } from 'react';
import { whenIdle } from './when-idle.ts';

/** Whether everything is drawn at once, as for printing. */
export const DrawAll = createContext(false);

/** How far around the screen tables are drawn already. */
const AROUND = '1200px 0px';

/**
 * Draws its content while it is near the screen; else it keeps its place. What is to be found and read out from end to
 * end is drawn too, when there is nothing else to do, and stays; far from the screen the browser leaves it unpainted.
 */
export function InView(props: {
  /** Pixels across, of a header that is repeated, and of everything below it. */
  width: number;
  head: number;
  height: number;
  /** Whether that header stands over an earlier piece already: it is then no part of the table without its breaks. */
  isHeadRepeated: boolean;
  /** Whether it is drawn wherever it is, in time. */
  isKept: boolean;
  children: ReactNode;
}) {
  const { width, head, height, isHeadRepeated, isKept, children } = props;
  const drawsAll = useContext(DrawAll);
  const box = useRef<HTMLDivElement>(null);
  const [isNear, setNear] = useState(false);
  const [isReady, setReady] = useState(false);
  useEffect(() => {
    if (drawsAll || !box.current) return;
    const observer = new IntersectionObserver(
      (entries) => setNear(entries.some(({ isIntersecting }) => isIntersecting)),
      // What scrolls cuts off everything beyond it, whatever room around the window is asked for.
      { root: box.current.closest('[data-scroll]'), rootMargin: AROUND },
    );
    observer.observe(box.current);
    return () => observer.disconnect();
  }, [drawsAll]);
  useEffect(
    () => (isKept && !drawsAll ? whenIdle(() => setReady(true)) : undefined),
    [isKept, drawsAll],
  );
  const isDrawn = drawsAll || isNear || (isKept && isReady);
  return (
    <div
      ref={box}
      data-repeated={isHeadRepeated ? head : undefined}
      style={
        isDrawn && !drawsAll && !isNear
          ? {
              contentVisibility: 'auto',
              containIntrinsicSize: `${width}px ${height + head}px`,
            }
          : undefined
      }
    >
      {isDrawn ? children : <div style={{ height: head + height, width }} />}
    </div>
  );
}
