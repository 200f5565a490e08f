/** When something is done by the clock: every so many minutes, or at a time of day in a time zone. */
export type Timetable =
  | { every: number }
  | {
      /** Time of day, `07:30`. */
      at: string;
      days: 'daily' | 'weekdays';
      /** Name in the IANA Time Zone Database (RFC 6557), such as `Europe/London`. */
      zone: string;
    };

const MINUTE = 60_000;
const DAY = 24 * 60 * MINUTE;

/**
 * The first moment of the timetable after `after`, in milliseconds since 1970.
 *
 * *Every n minutes* counts whole steps of elapsed time, so that no clock change shifts it. A time of day that a clock
 * change skips is taken with the offset from before the change, one that it repeats is taken once, at its first
 * occurrence (RFC 5545, 3.3.5).
 */
export function nextTime(timetable: Timetable, after: number): number {
  if ('every' in timetable) {
    const step = timetable.every * MINUTE;
    return (Math.floor(after / step) + 1) * step;
  }
  const { at, days, zone } = timetable;
  const [hour, minute] = at.split(':').map(Number) as [number, number];
  const today = Math.floor(localTime(after, zone) / DAY) * DAY;
  // The day before as well: where clocks are turned over midnight, its hour may still be to come.
  for (let day = today - DAY; ; day += DAY) {
    const weekday = new Date(day).getUTCDay();
    if (days === 'weekdays' && (weekday === 0 || weekday === 6)) continue;
    const moment = momentOf(day + hour * 60 * MINUTE + minute * MINUTE, zone);
    if (moment > after) return moment;
  }
}

/** Whether a time zone is one that the platform knows. */
export function isTimeZone(zone: string): boolean {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: zone }).format(0) !== '';
  } catch {
    return false;
  }
}

const formatters = new Map<string, Intl.DateTimeFormat>();

/** The clock's reading in a zone, as if it were UTC. */
function localTime(moment: number, zone: string): number {
  let formatter = formatters.get(zone);
  if (!formatter) {
    formatter = new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      hourCycle: 'h23',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
    });
    formatters.set(zone, formatter);
  }
  const parts: Record<string, number> = {};
  for (const { type, value } of formatter.formatToParts(moment)) parts[type] = Number(value);
  const { year, month, day, hour, minute, second } = parts as Record<
    'year' | 'month' | 'day' | 'hour' | 'minute' | 'second',
    number
  >;
  return Date.UTC(year, month - 1, day, hour, minute, second);
}

/** The moment at which the clock in a zone reads `local` (as if it were UTC). */
function momentOf(local: number, zone: string): number {
  // The offsets a day before and after embrace any change between.
  const [before, after] = [local - DAY, local + DAY].map((near) => localTime(near, zone) - near);
  const found = [local - before!, local - after!]
    .filter((moment) => localTime(moment, zone) === local)
    .sort((a, b) => a - b);
  return found[0] ?? local - before!;
}
