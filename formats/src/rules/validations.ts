import { type Area, shiftFormula, type Validation } from '@tether/core';

/** A cell far from all sides of the sheet: formulas written for it can be compared whatever cell they were written for. */
const FAR = { row: 500_000, column: 8_000 };

/**
 * Joins checks that are one check written for each cell: the same in all but their place, with references that move along
 * with the cells. What it says is said for the first of the cells, as in a check on a range.
 */
export function joinValidations(validations: readonly Validation[]): Validation[] {
  const joined = new Map<string, Validation>();
  const corner = ({ areas: [first] }: Validation) => (first ? first.left * 2 ** 21 + first.top : 0);
  // From above to below, so that cells that follow one another meet and the first says what is said.
  for (const validation of [...validations].sort((a, b) => corner(a) - corner(b))) {
    const key = keyOf(validation);
    const known = joined.get(key);
    if (known) for (const area of validation.areas) addBelow(known.areas, area);
    else joined.set(key, { ...validation, areas: validation.areas.map((area) => ({ ...area })) });
  }
  return [...joined.values()];
}

function keyOf({ areas, operands, ...rest }: Validation): string {
  const [first] = areas;
  if (!first) return JSON.stringify([operands, rest]);
  const moved =
    rest.kind === 'list' && operands.length > 1
      ? operands
      : operands.map((text) => shiftFormula(text)(FAR.row - first.top, FAR.column - first.left));
  return JSON.stringify([moved, rest]);
}

function addBelow(areas: Area[], { top, left, bottom, right }: Area): void {
  const touching = areas.find(
    (area) => area.left === left && area.right === right && area.bottom + 1 === top,
  );
  const beside = areas.find(
    (area) => area.top === top && area.bottom === bottom && area.right + 1 === left,
  );
  if (touching) touching.bottom = bottom;
  else if (beside) beside.right = right;
  else areas.push({ top, left, bottom, right });
}
