import { textWidth } from '../look/fonts/measure.ts';
import { CELL_PADDING, indentOf, PLAIN_LETTERS, type TableFit } from '../look/layout.ts';
import { showNumber } from '../sheet/number-format.ts';
import type { Cell, Dress, Letters } from '../sheet/sheet.ts';

/** Pixels that a mark beside the value takes. */
const ICON_ROOM = 16;

/**
 * The text that a cell shows in `width` pixels. A number or date is never cut, since a part of its digits reads as another
 * figure: under the format General decimals are rounded away as far as the column needs it, and what still does not fit,
 * and any other number format, shows as `#` signs (common practice). A number that is not zero never becomes one. Texts are
 * given as they are. What was not computed shows as a question mark where its words do not fit.
 */
export function fittedText(
  cell: Cell,
  dress: Dress | undefined,
  width: number,
  fit: TableFit,
): string {
  const isFigure = cell.type === 'number' || cell.type === 'date' || cell.type === 'uncomputed';
  if (!isFigure) return cell.text;
  if (dress?.rotation) return cell.text;
  const letters = dress?.letters ?? PLAIN_LETTERS;
  const room =
    width - CELL_PADDING[fit].x * 2 - indentOf(dress) - (cell.icon ? ICON_ROOM : 0) + SLACK;
  if (textWidth(cell.text, letters) <= room) return cell.text;
  if (cell.type === 'uncomputed') return '?';
  const isGeneral = cell.type === 'number' && (cell.format ?? 'General') === 'General';
  const rounded = isGeneral ? roundedInto(cell.text, Number(cell.value), letters, room) : null;
  if (rounded !== null) return rounded;
  return '#'.repeat(Math.max(1, Math.floor(room / textWidth('#', letters))));
}

/**
 * Whether a text in one line is longer than its cell: it is then cut at the cell's side, where it cannot go on over empty
 * neighbours, and that must be seen.
 */
export function isTextCut(
  cell: Cell,
  dress: Dress | undefined,
  width: number,
  fit: TableFit,
): boolean {
  if (cell.type !== 'text' || dress?.wrap || dress?.rotation) return false;
  const room = width - CELL_PADDING[fit].x * 2 - indentOf(dress) + SLACK;
  return textWidth(cell.text, dress?.letters ?? PLAIN_LETTERS) > room;
}

/** A line that is a pixel too long is not seen as cut. */
const SLACK = 1;

/** The number with as many of its decimals as fit; null where its whole part does not, or nothing but zeros would be left. */
function roundedInto(text: string, value: number, letters: Letters, room: number): string | null {
  const [mantissa = '', power] = text.split('E');
  const decimals = mantissa.split('.')[1]?.length ?? 0;
  for (let kept = decimals - 1; kept >= 0; kept--) {
    const shown =
      power === undefined
        ? withoutZeros(showNumber(value, kept === 0 ? '0' : `0.${'0'.repeat(kept)}`))
        : asPower(value, kept);
    if (textWidth(shown, letters) > room) continue;
    return /[1-9]/.test(shown) ? shown : null;
  }
  return null;
}

function withoutZeros(digits: string): string {
  return digits.includes('.') ? digits.replace(/\.?0+$/, '') : digits;
}

/** `1.2E+20`, as the format General shows very large and very small numbers. */
function asPower(value: number, decimals: number): string {
  const [mantissa = '', power = ''] = value.toExponential(decimals).split('e');
  return `${withoutZeros(mantissa)}E${power[0]}${power.slice(1).padStart(2, '0')}`;
}
