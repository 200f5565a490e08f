import type { DocumentLook, Snapshot, TableLook } from '@tether/core';
import { dressSnapshot, gridOf } from '@tether/core';
import { useMemo } from 'react';

const ROWS = 5;
const COLUMNS = 4;
const CELL = { width: 16, height: 8 };

/** A table in small: the fills, lines and letters of its first cells under a look, as a picture to choose by. */
export function LookPicture(props: {
  snapshot: Snapshot;
  look: TableLook;
  document: DocumentLook;
}) {
  const { snapshot, look, document } = props;
  const cells = useMemo(() => {
    const dressed = dressSnapshot(snapshot, { look, document, overrides: [] });
    return gridOf(dressed)
      .slice(0, ROWS)
      .flatMap((row, y) =>
        row.slice(0, COLUMNS).flatMap((cell, x) => {
          const dress = cell?.dress === undefined ? undefined : dressed.dresses[cell.dress];
          return cell ? [{ x, y, cell, dress }] : [];
        }),
      );
  }, [snapshot, look, document]);
  return (
    <svg
      aria-hidden
      width={CELL.width * COLUMNS}
      height={CELL.height * ROWS}
      viewBox={`0 0 ${CELL.width * COLUMNS} ${CELL.height * ROWS}`}
      className="max-w-full border border-hairline bg-white"
    >
      {cells.map(({ x, y, cell, dress }) => {
        const left = x * CELL.width;
        const top = y * CELL.height;
        const length = Math.min(CELL.width - 5, 3 + cell.text.length * 1.4);
        const isRight = cell.type === 'number' || cell.type === 'date';
        return (
          <g key={`${x},${y}`}>
            {dress?.fill && (
              <rect x={left} y={top} width={CELL.width} height={CELL.height} fill={dress.fill} />
            )}
            {dress?.bottom && (
              <rect
                x={left}
                y={top + CELL.height - 0.75}
                width={CELL.width}
                height={0.75}
                fill={dress.bottom.colour}
              />
            )}
            {cell.text !== '' && (
              <rect
                x={isRight ? left + CELL.width - 2.5 - length : left + 2.5}
                y={top + CELL.height / 2 - 0.75}
                width={length}
                height={dress?.letters.bold ? 2 : 1.25}
                fill={dress?.letters.colour ?? '#10242B'}
              />
            )}
          </g>
        );
      })}
    </svg>
  );
}
