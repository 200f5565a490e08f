import { type ReactNode, useContext, useRef } from 'react';
import { Drawing, useIdleTurn, useNear } from './nearness.ts';

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
  const drawsAll = useContext(Drawing) === 'all';
  const box = useRef<HTMLDivElement>(null);
  const isNear = useNear(box);
  const hasTurn = useIdleTurn(isKept);
  const isDrawn = drawsAll || isNear || (isKept && hasTurn);
  return (
    <div
      ref={box}
      data-repeated={isHeadRepeated ? head : undefined}
      className={isDrawn && !isNear ? 'out-of-sight' : undefined}
      style={{ containIntrinsicSize: `${width}px ${height + head}px` }}
    >
      {isDrawn ? children : <div style={{ height: head + height, width }} />}
    </div>
  );
}
