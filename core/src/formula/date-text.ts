import { isoToSerial } from '../sheet/date.ts';

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/**
 * The serial number of a date or time in a text that can be read in one way only: ISO 8601 forms, days with the month's
 * name, times. Null for others: `1/2/2026` is two different days in two countries.
 */
export function dateIn(text: string): number | null {
  const trimmed = text.trim();
  const clock = /^(.*?)\s*\b(\d{1,2}):(\d{2})(?::(\d{2}(?:\.\d+)?))?\s*(am|pm)?$/i.exec(trimmed);
  let time = 0;
  let day = trimmed;
  if (clock) {
    const [, rest, hours, minutes, seconds = '0', half] = clock;
    let hour = Number(hours);
    if (half) {
      if (hour < 1 || hour > 12) return null;
      hour = (hour % 12) + (half.toLowerCase() === 'pm' ? 12 : 0);
    }
    if (Number(minutes) > 59 || Number(seconds) >= 60) return null;
    time = (hour * 3_600 + Number(minutes) * 60 + Number(seconds)) / 86_400;
    day = rest!.replace(/T$/, '').trim();
    if (day === '') return time;
  }
  const serial = dayIn(day);
  return serial === null ? null : serial + time;
}

function dayIn(text: string): number | null {
  const iso = /^(\d{4})[-/](\d{1,2})[-/](\d{1,2})$/.exec(text);
  if (iso) return serialOf(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const named =
    /^(\d{1,2})[-\s.]+([a-z]{3,9})\.?[-\s,]+(\d{2}|\d{4})$/i.exec(text) ??
    swapped(/^([a-z]{3,9})\.?\s+(\d{1,2}),?\s+(\d{4})$/i.exec(text));
  if (!named) return null;
  const month = MONTHS.indexOf(named[2]!.slice(0, 3).toLowerCase()) + 1;
  if (month === 0) return null;
  const year = Number(named[3]);
  // Two digits from 30 on are the last century (common practice).
  return serialOf(
    named[3]!.length > 2 ? year : year + (year < 30 ? 2000 : 1900),
    month,
    Number(named[1]),
  );
}

function swapped(match: RegExpExecArray | null): string[] | null {
  return match ? [match[0], match[2]!, match[1]!, match[3]!] : null;
}

function serialOf(year: number, month: number, day: number): number | null {
  const date = new Date(Date.UTC(year, month - 1, day));
  if (date.getUTCMonth() !== month - 1 || year < 1900) return null;
  return isoToSerial(date.toISOString().slice(0, 10), '1900');
}
