import type { CellBar } from '../sheet/sheet.ts';
import { mix } from './colour.ts';

/** The line at which bars that go both ways begin. */
export const BAR_AXIS = '#5B6F77';

/** The colour at the far end of a cell's bar: a paler one where it fades. */
export function barEnd({ colour, isGradient }: CellBar): string {
  return isGradient ? mix(colour, '#FFFFFF', 0.75) : colour;
}
