import { type Cell, type DelimitedReading, isoToSerial } from '@tether/core';

/** How numbers and dates are written in one text. */
export interface Writing {
  /** The decimal mark. */
  decimal: '.' | ',';
  /** Day or month first, for each column (from 0) of dates with slashes where it can be told. */
  slashOrder: Map<number, 'day first' | 'month first'>;
  dates: DelimitedReading['dates'];
}

const POINT = /^[+-]?(\d{1,3}(,\d{3})+|\d+)?(\.\d+)?([eE][+-]?\d+)?$/;
const COMMA = /^[+-]?(\d{1,3}(\.\d{3})+|\d+)?(,\d+)?([eE][+-]?\d+)?$/;
const SLASHED = /^(\d{1,2})\/(\d{1,2})\/(\d{4})$/;

/** Looks at the records for how numbers and dates are written. With a comma between fields the decimal mark is a point. */
export function guessWriting(
  records: readonly string[][],
  delimiter: string,
): Omit<Writing, 'dates'> {
  let points = 0;
  let commas = 0;
  const slashes = new Map<number, { first: number; second: number }>();
  for (const record of records) {
    record.forEach((field, column) => {
      if (/^[+-]?\d+\.\d+$/.test(field) && !/^\d{1,3}(\.\d{3})+$/.test(field)) points++;
      else if (/^[+-]?\d+,\d+$/.test(field)) commas++;
      const date = SLASHED.exec(field);
      if (date) {
        const most = slashes.get(column) ?? { first: 0, second: 0 };
        most.first = Math.max(most.first, Number(date[1]));
        most.second = Math.max(most.second, Number(date[2]));
        slashes.set(column, most);
      }
    });
  }
  const slashOrder: Writing['slashOrder'] = new Map();
  for (const [column, { first, second }] of slashes) {
    if (first > 12 && second <= 12) slashOrder.set(column, 'day first');
    else if (second > 12 && first <= 12) slashOrder.set(column, 'month first');
  }
  return { decimal: delimiter !== ',' && commas > points ? ',' : '.', slashOrder };
}

/** What a field means. Figures with leading zeros are texts, since they are numbers of things and not amounts. */
export function readField(
  field: string,
  column: number,
  writing: Writing,
): Pick<Cell, 'type' | 'value' | 'text'> | null {
  const trimmed = field.trim();
  if (trimmed === '') return null;
  const { decimal } = writing;
  const first = trimmed.charCodeAt(0);
  // Most fields are plain numbers or begin with a letter: both are told without a pattern.
  if (
    (first >= 0x30 && first <= 0x39) ||
    first === 0x2d ||
    first === 0x2b ||
    first === 0x2e ||
    first === 0x2c
  ) {
    const number = plainNumber(trimmed, decimal) ?? patternNumber(trimmed, decimal);
    if (number !== null && isExact(number, trimmed))
      return { type: 'number', value: number, text: field };
    const iso = writing.dates === 'as text' ? null : dateOf(trimmed, column, writing);
    if (iso !== null) return { type: 'date', value: iso, text: field };
  } else if ((trimmed.length === 4 || trimmed.length === 5) && /^(true|false)$/i.test(trimmed)) {
    return { type: 'boolean', value: trimmed.length === 4, text: field };
  }
  return { type: 'text', value: field, text: field };
}

/**
 * Whether a number can be held as it is written. A whole number of so many digits that some would be lost is the number of
 * a thing; one too large for any (over 1.8E+308) is none at all. Both stay texts.
 */
function isExact(number: number, text: string): boolean {
  if (!Number.isFinite(number)) return false;
  return Number.isSafeInteger(number) || !/^[+-]?\d+$/.test(text);
}

/** Digits with at most one decimal mark; null for everything else, zeros in front among it. */
function plainNumber(text: string, decimal: '.' | ','): number | null {
  const mark = decimal.charCodeAt(0);
  let at = text.charCodeAt(0) === 0x2d ? 1 : 0;
  const start = at;
  let point = -1;
  for (; at < text.length; at++) {
    const code = text.charCodeAt(at);
    if (code >= 0x30 && code <= 0x39) continue;
    if (code !== mark || point >= 0) return null;
    point = at;
  }
  const digits = (point < 0 ? at : point) - start;
  if (digits === 0 || point === at - 1) return null;
  if (digits > 1 && text.charCodeAt(start) === 0x30) return null;
  return Number(point >= 0 && decimal === ',' ? text.replace(',', '.') : text);
}

function patternNumber(text: string, decimal: '.' | ','): number | null {
  const isNumber = (decimal === '.' ? POINT : COMMA).test(text);
  if (!isNumber || !/\d/.test(text) || /^[+-]?0\d/.test(text)) return null;
  const plain =
    decimal === '.' ? text.replaceAll(',', '') : text.replaceAll('.', '').replace(',', '.');
  const number = Number(plain);
  return Number.isNaN(number) ? null : number;
}

/** ISO 8601 of a date: as it is (a space for the T), `31.12.2026`, or with slashes where the order is known. */
function dateOf(text: string, column: number, { slashOrder, dates }: Writing): string | null {
  if (text.length < 8) return null;
  const iso = /^(\d{4}-\d{2}-\d{2})(?:[T ](\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?)Z?)?$/.exec(text);
  if (iso) return real(iso[1]!, iso[2]);
  const dotted = /^(\d{1,2})\.(\d{1,2})\.(\d{4})$/.exec(text);
  if (dotted) return real(day(dotted[3]!, dotted[2]!, dotted[1]!));
  const order = dates === 'by column' ? slashOrder.get(column) : dates;
  const slashed = SLASHED.exec(text);
  if (!slashed || !order) return null;
  const [, first, second, year] = slashed as unknown as [string, string, string, string];
  return real(order === 'day first' ? day(year, second, first) : day(year, first, second));
}

function day(year: string, month: string, date: string): string {
  return `${year}-${month.padStart(2, '0')}-${date.padStart(2, '0')}`;
}

/** The date, when there is such a day, with its time. */
function real(date: string, time?: string): string | null {
  const parsed = new Date(`${date}T00:00:00Z`);
  if (Number.isNaN(parsed.getTime()) || parsed.toISOString().slice(0, 10) !== date) return null;
  if (Number.isNaN(isoToSerial(time ? `${date}T${time}` : date, '1900'))) return null;
  if (!time) return date;
  return `${date}T${time.length === 5 ? `${time}:00` : time}`;
}
