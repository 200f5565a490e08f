import type { Area } from '@tether/core';

/** The cells of the sheet that are picked in an object, by their indices into its area. */
export function pickedArea(
  area: Area,
  { row, column }: { row: number | null; column: number | null },
): Area {
  return {
    top: row === null ? area.top : area.top + row,
    bottom: row === null ? area.bottom : area.top + row,
    left: column === null ? area.left : area.left + column,
    right: column === null ? area.right : area.left + column,
  };
}
