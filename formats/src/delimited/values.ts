import { type Cell, isoToSerial } from '@tether/core';

/** How numbers and dates are written in one text, found by looking. */
export interface Writing {
  /** The decimal mark. */
  decimal: '.' | ',';
  /** Day or month first, for each column (from 0) of dates with slashes where it can be told. */
  slashOrder: Map<number, 'day first' | 'month first'>;
}

const POINT = /^[+-]?(\d{1,3}(,\d{3})+|\d+)?(\.\d+)?([eE][+-]?\d+)?$/;
const COMMA = /^[+-]?(\d{1,3}(\.\d{3})+|\d+)?(,\d+)?([eE][+-]?\d+)?$/;
const SLASHED = /^(\d{1,2})\/(\d{1,2})\/(\d{4})$/;

/** Looks at the records for how numbers and dates are written. With a comma between fields the decimal mark is a point. */
export function guessWriting(records: readonly string[][], delimiter: string): Writing {
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
  { decimal, slashOrder }: Writing,
): Pick<Cell, 'type' | 'value' | 'text'> | null {
  const trimmed = field.trim();
  if (trimmed === '') return null;
  const text = field;
  const number = decimal === '.' ? POINT : COMMA;
  if (/\d/.test(trimmed) && number.test(trimmed) && !/^[+-]?0\d/.test(trimmed)) {
    const plain =
      decimal === '.' ? trimmed.replaceAll(',', '') : trimmed.replaceAll('.', '').replace(',', '.');
    return { type: 'number', value: Number(plain), text };
  }
  const iso = dateOf(trimmed, slashOrder.get(column));
  if (iso !== null) return { type: 'date', value: iso, text };
  if (/^(true|false)$/i.test(trimmed)) {
    return { type: 'boolean', value: trimmed.toLowerCase() === 'true', text };
  }
  return { type: 'text', value: field, text };
}

/** ISO 8601 of a date: as it is (a space for the T), `31.12.2026`, or with slashes where the order is known. */
function dateOf(text: string, order: 'day first' | 'month first' | undefined): string | null {
  const iso = /^(\d{4}-\d{2}-\d{2})(?:[T ](\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?)Z?)?$/.exec(text);
  if (iso) return real(iso[1]!, iso[2]);
  const dotted = /^(\d{1,2})\.(\d{1,2})\.(\d{4})$/.exec(text);
  if (dotted) return real(day(dotted[3]!, dotted[2]!, dotted[1]!));
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
