import { fail, ok, type Result } from '../../fault.ts';
import { isoToSerial, serialToIso } from '../../sheet/date.ts';

/** Evenly spaced values made of what a series holds, and how its times go on. */
export interface Timeline {
  values: number[];
  /** Serial of a step counted from the first; null for a series without times. */
  timeAt: (step: number) => number | null;
  /** What was done to make it even. */
  notes: string[];
}

/** More steps without a value than this share, and nothing can be said (common practice). */
const MOST_MISSING = 0.3;
/** A time this far from its place, in steps, is not evenly spaced. */
const CLOSE = 0.12;

/**
 * Puts values in even steps of time: in order, several of one time as their mean, missing ones between their neighbours
 * on a straight line. Times are serials in days; null in them leaves the value out. A series without times is taken in
 * its order. Faults: `forecast-no-numbers`, `forecast-irregular`.
 */
export function makeTimeline(
  times: readonly (number | null)[] | null,
  values: readonly (number | null)[],
): Result<Timeline> {
  const notes: string[] = [];
  if (!values.some((value) => value !== null)) return fail('forecast-no-numbers');
  if (!times) {
    return ok({ values: filled(trimmed(values), notes), timeAt: () => null, notes });
  }
  const points = values.flatMap((value, at) => {
    const time = times[at];
    return time === null || time === undefined ? [] : [{ time, value }];
  });
  const untimed = values.filter((value, at) => value !== null && times[at] === null).length;
  if (untimed > 0) notes.push(`${count(untimed, 'value')} without a time left out.`);
  if (points.some(({ time }, at) => at > 0 && time < points[at - 1]!.time)) {
    notes.push('The times were put in order.');
    points.sort((a, b) => a.time - b.time);
  }
  const means = meansByTime(points, notes);
  if (means.length < 2) return fail('forecast-no-numbers');
  const steps = stepsOf(means.map(({ time }) => time));
  if (!steps) return fail('forecast-irregular');
  const last = steps.index.at(-1)!;
  const even = new Array<number | null>(last + 1).fill(null);
  means.forEach(({ value }, at) => {
    even[steps.index[at]!] = value;
  });
  const known = trimmed(even);
  const offset = even.findIndex((value) => value !== null);
  const missing = known.filter((value) => value === null).length;
  if (missing > known.length * MOST_MISSING) return fail('forecast-irregular');
  return ok({
    values: filled(known, notes),
    timeAt: (step) => steps.timeAt(step + offset),
    notes,
  });
}

interface Point {
  time: number;
  value: number | null;
}

function meansByTime(points: readonly Point[], notes: string[]): Point[] {
  const means: Point[] = [];
  let doubled = 0;
  for (let at = 0; at < points.length; ) {
    let end = at;
    // Times that differ by less than a second are one.
    while (end < points.length && points[end]!.time - points[at]!.time < 1 / 86_400) end++;
    const values = points.slice(at, end).flatMap(({ value }) => (value === null ? [] : [value]));
    doubled += Math.max(0, values.length - 1);
    const mean =
      values.length === 0 ? null : values.reduce((sum, value) => sum + value, 0) / values.length;
    means.push({ time: points[at]!.time, value: mean });
    at = end;
  }
  if (doubled > 0) {
    const verb = doubled === 1 ? 'has' : 'have';
    notes.push(`${count(doubled, 'value')} ${verb} the time of another: their mean is taken.`);
  }
  return means;
}

/** Which step each time is, counted from the first, and the time of any step: whole months, or steps of one length. */
function stepsOf(
  times: readonly number[],
): { index: number[]; timeAt: (step: number) => number } | null {
  const months = monthsOf(times);
  if (months) return months;
  const [first] = times as [number];
  const gaps = times.slice(1).map((time, at) => time - times[at]!);
  const step = [...gaps].sort((a, b) => a - b)[Math.floor((gaps.length - 1) / 2)]!;
  const index = times.map((time) => Math.round((time - first) / step));
  const isEven = times.every(
    (time, at) =>
      Math.abs(first + index[at]! * step - time) <= CLOSE * step &&
      (at === 0 || index[at]! > index[at - 1]!),
  );
  // A step that was measured between shown times is a hair off; over many steps that would add up.
  const exact = (times.at(-1)! - first) / index.at(-1)!;
  return isEven ? { index, timeAt: (at) => first + at * exact } : null;
}

/** Times that are the same day of several months, or all the last of theirs. */
function monthsOf(times: readonly number[]) {
  const days = times.map((time) => serialToIso(time, '1900'));
  if (times.some((time) => !Number.isInteger(time)) || days.some((day) => day === null))
    return null;
  const parts = days.map((day) => day!.split('-').map(Number) as [number, number, number]);
  const areEnds = parts.every(([year, month, day]) => day === daysIn(year, month));
  const [[firstYear, firstMonth, firstDay]] = parts as [[number, number, number]];
  if (!areEnds && parts.some(([, , day]) => day !== firstDay)) return null;
  const counts = parts.map(([year, month]) => (year - firstYear) * 12 + month - firstMonth);
  const gaps = counts.slice(1).map((month, at) => month - counts[at]!);
  if (gaps.some((gap) => gap < 1)) return null;
  const step = [...gaps].sort((a, b) => a - b)[Math.floor((gaps.length - 1) / 2)]!;
  if (counts.some((month) => month % step !== 0)) return null;
  return {
    index: counts.map((month) => month / step),
    timeAt: (at: number) => {
      const month = firstMonth - 1 + at * step;
      const [year, inYear] = [firstYear + Math.floor(month / 12), (((month % 12) + 12) % 12) + 1];
      const day = areEnds ? daysIn(year, inYear) : Math.min(firstDay, daysIn(year, inYear));
      const two = (part: number) => String(part).padStart(2, '0');
      return isoToSerial(`${year}-${two(inYear)}-${two(day)}`, '1900');
    },
  };
}

function daysIn(year: number, month: number): number {
  return new Date(Date.UTC(year, month, 0)).getUTCDate();
}

/** Without the empty steps before the first value and behind the last. */
function trimmed(values: readonly (number | null)[]): (number | null)[] {
  const first = values.findIndex((value) => value !== null);
  return values.slice(first, values.findLastIndex((value) => value !== null) + 1);
}

/** Empty steps lie on the straight line between their neighbours. */
function filled(values: readonly (number | null)[], notes: string[]): number[] {
  const missing = values.filter((value) => value === null).length;
  if (missing > 0) {
    notes.push(
      `${count(missing, 'value')} missing: set on the line between ${missing === 1 ? 'its' : 'their'} neighbours.`,
    );
  }
  return values.map((value, at) => {
    if (value !== null) return value;
    const before = values.findLastIndex((each, index) => index < at && each !== null);
    const after = values.findIndex((each, index) => index > at && each !== null);
    const share = (at - before) / (after - before);
    return values[before]! + share * (values[after]! - values[before]!);
  });
}

function count(n: number, word: string): string {
  return `${n} ${word}${n === 1 ? '' : 's'}`;
}
