import { isoToSerial, serialToIso } from '../../sheet/date.ts';
import { dateIn } from '../date-text.ts';
import { BAD_NUMBER, BAD_VALUE, type FormulaError, toText, type Value } from '../value.ts';
import {
  type CallContext,
  type Functions,
  must,
  number,
  numberOr,
  numbers,
  raise,
  single,
  text,
  truth,
  whole32,
  wholeAt,
} from './call.ts';

/** Serial of 9999-12-31, the last day there is. */
const LAST_DAY = 2_958_465;

interface Day {
  year: number;
  /** 1 to 12. */
  month: number;
  day: number;
}

/** The day of a serial number; the day 0 is the last of 1899 and counts as the 0th of January 1900 (common practice). */
function dayOf(serial: number): Day {
  const whole = Math.floor(serial);
  if (whole === 0) return { year: 1900, month: 1, day: 0 };
  const iso = whole < 0 ? null : serialToIso(whole, '1900');
  if (iso === null) return raise(BAD_NUMBER);
  const [year, month, day] = iso.slice(0, 10).split('-').map(Number) as [number, number, number];
  return { year, month, day };
}

function serialOf(year: number, month: number, day: number): number {
  const date = new Date(0);
  date.setUTCFullYear(year, month - 1, day);
  if (
    Number.isNaN(date.getTime()) ||
    date.getUTCFullYear() > 9999 ||
    date.getUTCFullYear() < 1900
  ) {
    return raise(BAD_NUMBER);
  }
  return isoToSerial(date.toISOString().slice(0, 10), '1900');
}

const lastOf = (year: number, month: number) => new Date(Date.UTC(year, month, 0)).getUTCDate();

/** 0 for Sunday to 6 for Saturday. The count of days makes the day 1 a Sunday. */
const weekdayOf = (serial: number) => (((Math.floor(serial) - 1) % 7) + 7) % 7;

/** An argument that is a date: its serial number or a text that names one. */
function dateArg(value: Value | undefined, context: CallContext): number {
  const scalar = context.scalar(value ?? null);
  if (typeof scalar === 'string') return Math.floor(dateIn(scalar) ?? number(scalar, context));
  return Math.floor(number(value, context));
}

const part = (of: (day: Day) => number) =>
  single(([value], context) => of(dayOf(dateOrNumber(value, context))));

function dateOrNumber(value: Value | undefined, context: CallContext): number {
  const scalar = context.scalar(value ?? null);
  if (typeof scalar === 'string') return dateIn(scalar) ?? number(scalar, context);
  return number(value, context);
}

const clock = (unit: number, wrap: number) =>
  single(([value], context) => {
    const serial = dateOrNumber(value, context);
    if (serial < 0) return BAD_NUMBER;
    const seconds = Math.round((serial - Math.floor(serial)) * 86_400);
    return Math.floor(seconds / unit) % wrap;
  });

function monthsOn(isEnd: boolean) {
  return single(([value, months], context) => {
    const { year, month, day } = dayOf(dateArg(value, context));
    const all = year * 12 + month - 1 + whole32(months, context);
    const [y, m] = [Math.floor(all / 12), (all % 12) + 1];
    const last = lastOf(y, m);
    return serialOf(y, m, isEnd ? last : Math.min(day, last));
  });
}

/** Days by years of twelve months of thirty days, by the rule of one side of the ocean or of the other (ODF 1.3 Part 4, 4.11.7). */
function days360(from: Day, to: Day, isEuropean: boolean): number {
  let [a, b] = [from.day, to.day];
  if (isEuropean) {
    a = Math.min(a, 30);
    b = Math.min(b, 30);
  } else {
    const isLast = ({ year, month, day }: Day) => day === lastOf(year, month);
    if (isLast(from)) a = 30;
    if (b === 31 && a >= 30) b = 30;
  }
  return (to.year - from.year) * 360 + (to.month - from.month) * 30 + b - a;
}

/** The 30/360 rule of fractions of years, in which ends of February count as the 30th. */
function days30(from: Day, to: Day): number {
  let [a, b] = [from.day, to.day];
  const isEndOfFebruary = ({ year, month, day }: Day) => month === 2 && day === lastOf(year, 2);
  if (isEndOfFebruary(from) && isEndOfFebruary(to)) b = 30;
  if (isEndOfFebruary(from)) a = 30;
  if (b === 31 && a >= 30) b = 30;
  if (a === 31) a = 30;
  return (to.year - from.year) * 360 + (to.month - from.month) * 30 + b - a;
}

const isLeap = (year: number) => lastOf(year, 2) === 29;

/** The part of a year between two days, by one of five ways of counting (ODF 1.3 Part 4, 4.11.7). */
function yearFraction(first: number, second: number, basis: number): number | FormulaError {
  const [low, high] = [Math.min(first, second), Math.max(first, second)];
  const [from, to] = [dayOf(low), dayOf(high)];
  switch (basis) {
    case 0:
      return days30(from, to) / 360;
    case 1:
      return (high - low) / yearLength(from, to);
    case 2:
      return (high - low) / 360;
    case 3:
      return (high - low) / 365;
    case 4:
      return days360(from, to, true) / 360;
    default:
      return BAD_NUMBER;
  }
}

/** How long a year is between two days: of a span up to a year whether it holds a leap day, of a longer one the mean. */
function yearLength(from: Day, to: Day): number {
  const isWithinYear =
    from.year === to.year ||
    (to.year === from.year + 1 &&
      (from.month > to.month || (from.month === to.month && from.day >= to.day)));
  if (isWithinYear) {
    if (from.year === to.year) return isLeap(from.year) ? 366 : 365;
    const isBeforeLeap = isLeap(from.year) && from.month <= 2;
    const isBehindLeap = isLeap(to.year) && (to.month > 2 || (to.month === 2 && to.day === 29));
    return isBeforeLeap || isBehindLeap ? 366 : 365;
  }
  let days = 0;
  for (let year = from.year; year <= to.year; year++) days += isLeap(year) ? 366 : 365;
  return days / (to.year - from.year + 1);
}

/** Which days of the week are free, from Monday, by a number or by seven signs. */
function weekend(value: Value | undefined, context: CallContext): boolean[] {
  const said = value == null ? 1 : context.scalar(value);
  if (typeof said === 'string') {
    if (!/^[01]{7}$/.test(said)) return raise(BAD_VALUE);
    return [...said].map((sign) => sign === '1');
  }
  const which = number(said as Value, context);
  const free = Array.from({ length: 7 }, () => false);
  if (which >= 1 && which <= 7) {
    free[(which + 4) % 7] = true;
    free[(which + 5) % 7] = true;
  } else if (which >= 11 && which <= 17) free[(which - 5) % 7] = true;
  else return raise(BAD_NUMBER);
  return free;
}

const SATURDAY_AND_SUNDAY = [false, false, false, false, false, true, true];
const fromMonday = (serial: number) => (weekdayOf(serial) + 6) % 7;

function holidaysIn(value: Value | undefined, context: CallContext): Set<number> {
  return new Set(value == null ? [] : numbers([value], context).map(Math.floor));
}

function workDays(
  from: number,
  to: number,
  free: readonly boolean[],
  holidays: Set<number>,
): number {
  const [low, high] = [Math.min(from, to), Math.max(from, to)];
  if (low < 0 || high > LAST_DAY) return raise(BAD_NUMBER);
  let count = 0;
  for (let day = low; day <= high; day++) {
    if (!free[fromMonday(day)] && !holidays.has(day)) count++;
  }
  return from <= to ? count : -count;
}

function workDay(
  from: number,
  days: number,
  free: readonly boolean[],
  holidays: Set<number>,
): number {
  if (free.every(Boolean)) return raise(BAD_VALUE);
  const step = Math.sign(days);
  let [day, left] = [from, Math.abs(days)];
  while (left > 0) {
    day += step;
    if (day < 0 || day > LAST_DAY) return raise(BAD_NUMBER);
    if (!free[fromMonday(day)] && !holidays.has(day)) left--;
  }
  return day;
}

/** The number of the week, whose first day is `start` (0 for Sunday); the first week is the one with the 1st of January. */
function weekNumber(serial: number, start: number): number {
  const { year } = dayOf(serial);
  const first = serialOf(year, 1, 1);
  const into = (weekdayOf(first) - start + 7) % 7;
  return Math.floor((Math.floor(serial) - first + into) / 7) + 1;
}

/** The number of the week by ISO 8601: weeks begin on Monday, the first is that with the year's first Thursday. */
function isoWeek(serial: number): number {
  const thursday = Math.floor(serial) - fromMonday(serial) + 3;
  const { year } = dayOf(thursday);
  return Math.floor((thursday - serialOf(year, 1, 1)) / 7) + 1;
}

const WEEK_STARTS: Record<number, number> = {
  1: 0,
  2: 1,
  11: 1,
  12: 2,
  13: 3,
  14: 4,
  15: 5,
  16: 6,
  17: 0,
};

function between(from: number, to: number, unit: string): number | FormulaError {
  if (from > to) return BAD_NUMBER;
  const [a, b] = [dayOf(from), dayOf(to)];
  const months = (b.year - a.year) * 12 + b.month - a.month - (b.day < a.day ? 1 : 0);
  switch (unit.toUpperCase()) {
    case 'Y':
      return Math.floor(months / 12);
    case 'M':
      return months;
    case 'D':
      return to - from;
    case 'YM':
      return ((months % 12) + 12) % 12;
    case 'MD': {
      if (b.day >= a.day) return b.day - a.day;
      const before = b.month === 1 ? lastOf(b.year - 1, 12) : lastOf(b.year, b.month - 1);
      return before - a.day + b.day;
    }
    case 'YD': {
      const year =
        b.month < a.month || (b.month === a.month && b.day < a.day) ? b.year - 1 : b.year;
      return to - serialOf(year, a.month, a.day);
    }
    default:
      return BAD_NUMBER;
  }
}

/** Days and times, as serial numbers of the 1900 system. */
export const DATES: Functions = {
  TODAY: single((_, { now }) => Math.floor(now)),
  NOW: single((_, { now }) => now),
  DATE: single(([year, month, day], context) => {
    const given = whole32(year, context);
    if (given < 0 || given > 9999) return BAD_NUMBER;
    // Years below 1900 count from 1900 (common practice).
    return serialOf(
      given < 1900 ? given + 1900 : given,
      whole32(month, context),
      whole32(day, context),
    );
  }),
  TIME: single(([hours, minutes, seconds], context) => {
    const total =
      whole32(hours, context) * 3_600 + whole32(minutes, context) * 60 + whole32(seconds, context);
    return total < 0 ? BAD_NUMBER : (total % 86_400) / 86_400;
  }),
  DATEVALUE: single(([value], context) => {
    const serial = dateIn(text(value, context));
    return serial === null ? BAD_VALUE : Math.floor(serial);
  }),
  TIMEVALUE: single(([value], context) => {
    const serial = dateIn(text(value, context));
    return serial === null ? BAD_VALUE : serial % 1;
  }),
  YEAR: part(({ year }) => year),
  MONTH: part(({ month }) => month),
  DAY: part(({ day }) => day),
  HOUR: clock(3_600, 24),
  MINUTE: clock(60, 60),
  SECOND: clock(1, 60),
  WEEKDAY: single(([value, kind], context) => {
    const from = whole32(kind, context, 1);
    const day = weekdayOf(dateArg(value, context));
    if (from === 3) return (day + 6) % 7;
    const start = WEEK_STARTS[from];
    return start === undefined ? BAD_NUMBER : ((day - start + 7) % 7) + 1;
  }),
  WEEKNUM: single(([value, kind], context) => {
    const from = whole32(kind, context, 1);
    if (from === 21) return isoWeek(dateArg(value, context));
    const start = WEEK_STARTS[from];
    return start === undefined ? BAD_NUMBER : weekNumber(dateArg(value, context), start);
  }),
  ISOWEEKNUM: single(([value], context) => isoWeek(dateArg(value, context))),
  EDATE: monthsOn(false),
  EOMONTH: monthsOn(true),
  DAYS: single(([to, from], context) => dateArg(to, context) - dateArg(from, context)),
  DAYS360: single(([from, to, isEuropean], context) =>
    days360(dayOf(dateArg(from, context)), dayOf(dateArg(to, context)), truth(isEuropean, context)),
  ),
  DATEDIF: single(([from, to, unit], context) =>
    between(
      dateArg(from, context),
      dateArg(to, context),
      must(toText(context.scalar(unit ?? null))),
    ),
  ),
  YEARFRAC: single(([from, to, basis], context) =>
    yearFraction(
      dateArg(from, context),
      dateArg(to, context),
      Math.trunc(numberOr(basis, context, 0)),
    ),
  ),
  NETWORKDAYS: wholeAt([2], ([from, to, holidays], context) =>
    workDays(
      dateArg(from, context),
      dateArg(to, context),
      SATURDAY_AND_SUNDAY,
      holidaysIn(holidays, context),
    ),
  ),
  'NETWORKDAYS.INTL': wholeAt([3], ([from, to, free, holidays], context) =>
    workDays(
      dateArg(from, context),
      dateArg(to, context),
      weekend(free, context),
      holidaysIn(holidays, context),
    ),
  ),
  WORKDAY: wholeAt([2], ([from, days, holidays], context) =>
    workDay(
      dateArg(from, context),
      whole32(days, context),
      SATURDAY_AND_SUNDAY,
      holidaysIn(holidays, context),
    ),
  ),
  'WORKDAY.INTL': wholeAt([3], ([from, days, free, holidays], context) =>
    workDay(
      dateArg(from, context),
      whole32(days, context),
      weekend(free, context),
      holidaysIn(holidays, context),
    ),
  ),
};
