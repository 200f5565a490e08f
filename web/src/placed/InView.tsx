import { createContext, type ReactNode, useContext, useEffect, useRef, useState } from 'react';

/** Whether everything is drawn at once, as for printing. */
export const DrawAll = createContext(false);

/** How far around the screen long tables are drawn already. */
const AROUND = '1200px 0px';

/** Draws its content while it is near the screen; else it keeps its place. What must always be there is. */
export function InView(props: {
  /** Pixels of a header that is repeated, and of everything below it. */
  head: number;
  height: number;
  isAlways: boolean;
  children: ReactNode;
}) {
  const { head, height, isAlways, children } = props;
  const drawsAll = useContext(DrawAll);
  const box = useRef<HTMLDivElement>(null);
  const [isNear, setNear] = useState(false);
  useEffect(() => {
    if (drawsAll || isAlways || !box.current) return;
    const observer = new IntersectionObserver(
      (entries) => setNear(entries.some(({ isIntersecting }) => isIntersecting)),
      // What scrolls cuts off everything beyond it, whatever room around the window is asked for.
      { root: box.current.closest('[data-scroll]'), rootMargin: AROUND },
    );
    observer.observe(box.current);
    return () => observer.disconnect();
  }, [drawsAll, isAlways]);
  const isDrawn = drawsAll || isAlways || isNear;
  return (
    <div ref={box}>
      {isDrawn ? (
        children
      ) : (
        <>
          <div className="repeated-head" style={{ height: head }} />
          <div style={{ height }} />
        </>
      )}
    </div>
  );
}
