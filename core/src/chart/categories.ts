import { isoToSerial } from '../sheet/date.ts';
import { showNumber } from '../sheet/number-format.ts';

/** What stands along the axis of a chart. */
export interface Categories {
  labels: string[];
  /** Number format by which labels that are dates are shown; null where they are none. */
  dates: string | null;
}

/** A cell that names a point, as far as its label needs it. */
type NamingCell = { type: string; value: unknown; text: string; format?: string } | undefined;

const BY_MONTH = 'mmm yyyy';

/**
 * The labels of cells that name the points of a chart: their texts as the cells show them. Dates that step from month to
 * month and name the day all the same (2024-03-01, 2024-04-01) are said by month and year (common practice): the day is
 * the same each time and takes the room. `wanted` is a format that the chart itself has for its dates.
 */
export function categoriesOf(
  cells: readonly NamingCell[],
  wanted: string | null = null,
): Categories {
  const labels = cells.map((cell) => cell?.text ?? '');
  const filled = cells.filter((cell) => cell !== undefined && cell.type !== 'blank');
  if (filled.length === 0 || filled.some((cell) => cell!.type !== 'date')) {
    return { labels, dates: null };
  }
  const dates = wanted ?? (goesByMonth(filled) ? BY_MONTH : null);
  if (dates === null) return { labels, dates: formatOfDate(filled.at(-1)) };
  return {
    labels: cells.map((cell) =>
      cell?.type === 'date' ? showNumber(serialOf(cell), dates) : (cell?.text ?? ''),
    ),
    dates,
  };
}

/** How a date is shown that stands in line with a cell: as there, else by ISO 8601. */
export function formatOfDate(cell: NamingCell): string {
  if (cell?.format && cell.format !== 'General') return cell.format;
  return String(cell?.value ?? '').includes('T') ? 'yyyy-mm-dd hh:mm' : 'yyyy-mm-dd';
}

/** Whether dates are one of each month, each on the first day or each on the last, and shown with that day. */
function goesByMonth(cells: readonly NamingCell[]): boolean {
  if (cells.length < 2 || !cells.every(namesDay)) return false;
  const days = cells.map((cell) => String(cell!.value));
  const isFirst = days.every((day) => /-01(T00:00(:00)?)?$/.test(day));
  const isLast = cells.every((cell) => {
    const next = showNumber(serialOf(cell) + 1, 'd');
    return next === '1' && !String(cell!.value).includes('T');
  });
  const months = days.map((day) => Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7)));
  return (isFirst || isLast) && months.every((month, at) => at === 0 || month > months[at - 1]!);
}

function namesDay(cell: NamingCell): boolean {
  const bare = formatOfDate(cell).replace(/"[^"]*"|\[[^\]]*\]|\\./g, '');
  return /d/i.test(bare);
}

function serialOf(cell: NamingCell): number {
  return isoToSerial(String(cell!.value), '1900');
}
