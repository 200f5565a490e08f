/** The two ways of counting days in a workbook (ECMA-376 Part 1, 18.17.4.1). */
export type DateSystem = '1900' | '1904';

const DAY = 86_400_000;
/** Serial of 9999-12-31 in the 1900 system, the last day there is (ECMA-376 Part 1, 18.17.4.1). */
const LAST_DAY = 2_958_465;
/** Serial of 1904-01-01 in the 1900 system: what lies between the two. */
export const SYSTEMS_APART = 1462;

/**
 * ISO 8601 form of a serial date-time, to the millisecond where there is one.
 *
 * In the 1900 system serial 1 is 1900-01-01 and 60 is 1900-02-29, a day that never was: the standard keeps it so that
 * 61 is 1900-03-01 (ECMA-376 Part 1, 18.17.4.1). It is given as `1900-02-29`. In the 1904 system serial 0 is
 * 1904-01-01. A serial of the 1900 system below 1 has no date and gives the time of day alone, `HH:MM:SS`.
 * Null for serials that name no day (negative, or after 9999-12-31).
 */
export function serialToIso(serial: number, system: DateSystem): string | null {
  // Half a millisecond up, so that a time stored as a binary fraction does not read as 11:59:59.999.
  const total = Math.round(serial * DAY);
  const day = Math.floor(total / DAY);
  if (!(total >= 0 && day <= LAST_DAY)) return null;
  const time = isoTime(total - day * DAY);
  if (system === '1900' && day === 0) return time;
  const date = system === '1904' ? isoDay(day + SYSTEMS_APART) : isoDay(day);
  if (date === null) return null;
  return total === day * DAY ? date : `${date}T${time}`;
}

function isoDay(serial1900: number): string | null {
  if (serial1900 === 60) return '1900-02-29';
  // Before the day that never was the count runs one ahead of the calendar.
  const days = serial1900 < 60 ? serial1900 + 1 : serial1900;
  const date = new Date(Date.UTC(1899, 11, 30) + days * DAY);
  return date.getUTCFullYear() > 9999 ? null : date.toISOString().slice(0, 10);
}

function isoTime(milliseconds: number): string {
  const text = new Date(milliseconds).toISOString().slice(11, 23);
  return text.endsWith('.000') ? text.slice(0, 8) : text;
}

/** Serial of an ISO 8601 date, date-time or time; NaN when it is none. The inverse of `serialToIso`. */
export function isoToSerial(iso: string, system: DateSystem): number {
  const match =
    /^(?:(\d{4})-(\d{2})-(\d{2}))?(?:T?(\d{2}):(\d{2})(?::(\d{2}(?:\.\d+)?))?)?Z?$/.exec(iso);
  if (!match || iso === '' || (!match[1] && !match[4])) return Number.NaN;
  const [, year, month, day, hours = '0', minutes = '0', seconds = '0'] = match;
  const time = (Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds)) / 86_400;
  if (!year) return time;
  let whole: number;
  if (`${year}-${month}-${day}` === '1900-02-29') whole = 60;
  else {
    const days =
      (Date.UTC(Number(year), Number(month) - 1, Number(day)) - Date.UTC(1899, 11, 30)) / DAY;
    whole = days <= 60 ? days - 1 : days;
  }
  return (system === '1904' ? whole - SYSTEMS_APART : whole) + time;
}
