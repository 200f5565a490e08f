import { type Fault, fail, fault, ok, type Result } from '../fault.ts';
import { dateIn } from '../formula/date-text.ts';
import type { Cell, Validation } from '../sheet/sheet.ts';
import type { Edit } from './edits.ts';

/** How a person writes numbers and days. */
export interface Writing {
  decimal: '.' | ',';
  /** Which comes first in a day written with strokes or points. */
  dates: 'day first' | 'month first';
}

/**
 * What somebody typed into a cell, as the cell takes it: a share in one of shares, a day in one of days, a number where
 * numbers stand; a `'` in front makes a text of anything. Empty letters empty the cell. Faults: `entry-not-number`,
 * `entry-not-date`, `entry-not-truth`, where the cell holds such a thing and this is none.
 */
export function parseEntry(
  typed: string,
  cell: Pick<Cell, 'type' | 'format'> | undefined,
  writing: Writing,
): Result<Edit['value']> {
  if (typed.startsWith("'")) return ok(typed.slice(1));
  const text = typed.trim();
  if (text === '') return ok(null);
  const day = dayIn(text, writing);
  const number = numberIn(text, writing);
  switch (cell?.type) {
    case 'text':
      return ok(typed);
    case 'boolean':
      if (/^(true|false)$/i.test(text)) return ok(text.toLowerCase() === 'true');
      return fail('entry-not-truth', { typed: text });
    case 'date':
      return day === null ? fail('entry-not-date', { typed: text }) : ok(day);
    case 'number': {
      if (number === null) return fail('entry-not-number', { typed: text });
      const isShare = /%/.test(cell.format ?? '') && !text.includes('%');
      return ok(isShare ? Number((number / 100).toPrecision(15)) : number);
    }
    default:
      if (/^(true|false)$/i.test(text)) return ok(text.toLowerCase() === 'true');
      return ok(number ?? day ?? typed);
  }
}

/** A number as people write it: thousands parted, a sign of money or of per cent beside it, brackets for what is owed. */
function numberIn(text: string, { decimal }: Writing): number | null {
  const group = decimal === '.' ? ',' : '.';
  const isOwed = /^\(.*\)$/.test(text);
  const bare = (isOwed ? text.slice(1, -1) : text)
    .replace(/^([+-−]?)\s*[£$€¥]\s*/, '$1')
    .replace(/\s*[£$€¥]$/, '')
    .replace('−', '-')
    .trim();
  const parted = new RegExp(
    `^[+-]?\\d{1,3}(?:[${group}\\u00a0\\u202f ]\\d{3})+(?:[${decimal}]\\d*)?%?$`,
  );
  const plain = new RegExp(
    `^[+-]?(?:\\d+(?:[${decimal}]\\d*)?|[${decimal}]\\d+)(?:e[+-]?\\d+)?%?$`,
    'i',
  );
  if (!parted.test(bare) && !plain.test(bare)) return null;
  const isShare = bare.endsWith('%');
  const digits = bare
    .replace('%', '')
    .replaceAll(group, '')
    .replace(/[\u00a0\u202f ]/g, '')
    .replace(decimal, '.');
  const value = isShare ? Number((Number(digits) / 100).toPrecision(15)) : Number(digits);
  return Number.isFinite(value) ? (isOwed ? -value : value) : null;
}

function dayIn(text: string, { dates }: Writing): number | null {
  const known = dateIn(text);
  if (known !== null) return known;
  const match = /^(\d{1,2})[./](\d{1,2})[./](\d{4})$/.exec(text);
  if (!match) return null;
  const [day, month] = dates === 'day first' ? [match[1]!, match[2]!] : [match[2]!, match[1]!];
  return dateIn(`${match[3]}-${month}-${day}`);
}

/** Why a value may not stand in a cell, by the checks of its sheet; null where it may, or where that cannot be told here. */
export function refusedBy(
  validations: readonly Validation[],
  { row, column }: { row: number; column: number },
  value: Edit['value'],
): Fault | null {
  for (const check of validations) {
    const isMeant = check.areas.some(
      ({ top, left, bottom, right }) =>
        row >= top && row <= bottom && column >= left && column <= right,
    );
    if (!isMeant || (value === null && check.allowsBlank)) continue;
    const expected = notMet(check, value);
    if (expected === null) continue;
    return fault('entry-refused', { expected: check.message ?? expected });
  }
  return null;
}

const WORDS: Record<string, [string, (value: number, a: number, b: number) => boolean]> = {
  between: ['from {a} to {b}', (value, a, b) => value >= a && value <= b],
  notBetween: ['not from {a} to {b}', (value, a, b) => value < a || value > b],
  equal: ['{a}', (value, a) => value === a],
  notEqual: ['other than {a}', (value, a) => value !== a],
  greaterThan: ['above {a}', (value, a) => value > a],
  greaterThanOrEqual: ['{a} or more', (value, a) => value >= a],
  lessThan: ['below {a}', (value, a) => value < a],
  lessThanOrEqual: ['{a} or less', (value, a) => value <= a],
};
const NOUNS: Partial<Record<Validation['kind'], string>> = {
  whole: 'a whole number',
  decimal: 'a number',
  date: 'a day',
  time: 'a time',
  textLength: 'a text of a length',
};

/** What is expected instead; null where the check is met, or rests on cells that are not looked at here. */
function notMet({ kind, comparison, operands }: Validation, value: Edit['value']): string | null {
  if (kind === 'list') {
    // A range that was not read says nothing here.
    if (operands.length === 0 || (operands.length === 1 && /[!$:]/.test(operands[0]!))) return null;
    const said = String(value ?? '').toLowerCase();
    return operands.some((each) => each.toLowerCase() === said)
      ? null
      : `one of ${operands.join(', ')}`;
  }
  const noun = NOUNS[kind];
  const rule = WORDS[comparison];
  if (!noun || !rule) return null;
  const [a = Number.NaN, b = Number.NaN] = operands.map(Number);
  if (Number.isNaN(a)) return null;
  const measured = kind === 'textLength' ? String(value ?? '').length : value;
  const [words, holds] = rule;
  const expected = `${noun} ${words.replace('{a}', String(a)).replace('{b}', String(b))}`;
  if (typeof measured !== 'number') return expected;
  if (kind === 'whole' && !Number.isInteger(measured)) return expected;
  return holds(measured, a, b) ? null : expected;
}
