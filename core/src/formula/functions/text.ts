import { columnName, quoteSheet } from '../../sheet/address.ts';
import { showNumber, showText } from '../../sheet/number-format.ts';
import { dateIn } from '../date-text.ts';
import { BAD_VALUE, FormulaError, NOT_AVAILABLE, type Scalar, toNumber, toText } from '../value.ts';
import { wildcardSearch } from '../wildcard.ts';
import {
  type CallContext,
  type Fn,
  type Functions,
  must,
  number,
  numberOr,
  raise,
  single,
  text,
  truth,
  valuesOf,
  whole,
  whole32,
  wholeAt,
} from './call.ts';

/** The most letters that a cell holds (common practice). */
const MAX_LETTERS = 32_767;
const fitting = (said: string) => (said.length > MAX_LETTERS ? raise(BAD_VALUE) : said);

function search(isCaseBound: boolean): Fn {
  return ([wanted, within, from], context) => {
    const [needle, hay] = [text(wanted, context), text(within, context)];
    const start = whole32(from, context, 1) - 1;
    if (start < 0 || start > hay.length) return BAD_VALUE;
    const at = isCaseBound ? hay.indexOf(needle, start) : wildcardSearch(needle, hay, start);
    return at < start ? BAD_VALUE : at + 1;
  };
}

/** A number written with its thousands parted, as a percentage or as a date: what a person would type. */
function readValue(said: string): number | FormulaError {
  const plain = toNumber(said);
  if (!(plain instanceof FormulaError)) return plain;
  const trimmed = said.trim();
  if (/^[+-]?\d{1,3}(,\d{3})+(\.\d*)?%?$/.test(trimmed))
    return toNumber(trimmed.replaceAll(',', ''));
  return dateIn(trimmed) ?? BAD_VALUE;
}

/** Parts of a text before or behind the n-th place where any of the marks stands. */
function around(isBefore: boolean): Fn {
  return ([value, marks, which, ignoresCase, hasEnd, otherwise], context) => {
    const all = text(value, context);
    const isFree = numberOr(ignoresCase, context, 0) === 1;
    const hay = isFree ? all.toLowerCase() : all;
    const wanted = valuesOf([marks ?? null], context)
      .map((mark) => must(toText(mark)))
      .map((mark) => (isFree ? mark.toLowerCase() : mark));
    const nth = Math.trunc(numberOr(which, context, 1));
    if (nth === 0 || wanted.length === 0) return BAD_VALUE;
    if (wanted.includes('')) return isBefore === nth > 0 ? '' : all;
    const found: { from: number; to: number }[] = [];
    for (let at = 0; at < hay.length; ) {
      const mark = wanted.find((each) => hay.startsWith(each, at));
      if (mark === undefined) at++;
      else {
        found.push({ from: at, to: at + mark.length });
        at += mark.length;
      }
    }
    if (truth(hasEnd, context)) {
      if (nth > 0) found.push({ from: all.length, to: all.length });
      else found.unshift({ from: 0, to: 0 });
    }
    const place = found.at(nth > 0 ? nth - 1 : nth);
    if (!place || (nth > 0 && nth > found.length)) {
      return otherwise === undefined ? NOT_AVAILABLE : context.scalar(otherwise);
    }
    return isBefore ? all.slice(0, place.from) : all.slice(place.to);
  };
}

function splitBy(said: string, marks: readonly string[], isFree: boolean): string[] {
  const parts: string[] = [];
  const hay = isFree ? said.toLowerCase() : said;
  const wanted = (isFree ? marks.map((mark) => mark.toLowerCase()) : marks).filter(
    (mark) => mark !== '',
  );
  if (wanted.length === 0) return [said];
  let from = 0;
  for (let at = 0; at < hay.length; ) {
    const mark = wanted.find((each) => hay.startsWith(each, at));
    if (mark === undefined) at++;
    else {
      parts.push(said.slice(from, at));
      at += mark.length;
      from = at;
    }
  }
  parts.push(said.slice(from));
  return parts;
}

/** A number with so many decimals and, unless it is not wished, its thousands parted. */
function fixed(value: number, decimals: number, isPlain: boolean): string {
  const rounded = Number(`${Math.round(Number(`${Math.abs(value)}e${decimals}`))}e${-decimals}`);
  const said = rounded.toFixed(Math.max(0, decimals));
  const [whole, rest] = said.split('.') as [string, string?];
  const parted = isPlain ? whole : whole.replace(/\B(?=(\d{3})+$)/g, ',');
  return `${value < 0 && rounded !== 0 ? '-' : ''}${parted}${rest === undefined ? '' : `.${rest}`}`;
}

/** The signs 128 to 159 of the 8-bit set that workbooks count signs by (WHATWG Encoding, windows-1252). */
const HIGH_SIGNS = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';

const joinedBy = (marks: readonly string[], parts: readonly string[]) =>
  parts.reduce(
    (all, part, at) => (at === 0 ? part : all + (marks[(at - 1) % marks.length] ?? '') + part),
    '',
  );

const texts = (values: readonly Scalar[]) => values.map((value) => must(toText(value)));

/** Texts. */
export const TEXTS: Functions = {
  LEN: single(([value], context) => text(value, context).length),
  LEFT: single(([value, count], context) => {
    const n = whole32(count, context, 1);
    return n < 0 ? BAD_VALUE : text(value, context).slice(0, n);
  }),
  RIGHT: single(([value, count], context) => {
    const all = text(value, context);
    const n = whole32(count, context, 1);
    return n < 0 ? BAD_VALUE : all.slice(Math.max(0, all.length - n));
  }),
  MID: single(([value, from, count], context) => {
    const [start, n] = [whole32(from, context) - 1, whole32(count, context)];
    return start < 0 || n < 0 ? BAD_VALUE : text(value, context).slice(start, start + n);
  }),
  REPLACE: single(([value, from, count, now], context) => {
    const [all, start, n] = [
      text(value, context),
      whole32(from, context) - 1,
      whole32(count, context),
    ];
    if (start < 0 || n < 0) return BAD_VALUE;
    return fitting(all.slice(0, start) + text(now, context) + all.slice(start + n));
  }),
  UPPER: single(([value], context) => text(value, context).toUpperCase()),
  LOWER: single(([value], context) => text(value, context).toLowerCase()),
  PROPER: single(([value], context) =>
    text(value, context)
      .toLowerCase()
      .replace(
        /(^|[^\p{L}])(\p{L})/gu,
        (_, before: string, letter: string) => before + letter.toUpperCase(),
      ),
  ),
  TRIM: single(([value], context) =>
    text(value, context).replace(/ +/g, ' ').replace(/^ | $/g, ''),
  ),
  // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is cleaned away
  CLEAN: single(([value], context) => text(value, context).replace(/[\u0000-\u001f]/g, '')),
  EXACT: single(([a, b], context) => text(a, context) === text(b, context)),
  CONCATENATE: single((args, context) => fitting(args.map((arg) => text(arg, context)).join(''))),
  CONCAT: whole((args, context) => fitting(texts(valuesOf(args, context)).join(''))),
  TEXTJOIN: whole(([mark, skips, ...args], context) => {
    const marks = texts(valuesOf([mark ?? null], context));
    const skipsEmpty = truth(skips, context, true);
    const parts = texts(valuesOf(args, context)).filter((part) => !skipsEmpty || part !== '');
    return fitting(joinedBy(marks, parts));
  }),
  VALUE: single(([value], context) => {
    const scalar = context.scalar(value ?? null);
    return typeof scalar === 'string'
      ? readValue(scalar)
      : typeof scalar === 'boolean'
        ? BAD_VALUE
        : must(toNumber(scalar));
  }),
  NUMBERVALUE: single(([value, point, group], context) => {
    const decimal = text(point, context, '.')[0] ?? '.';
    const parting = text(group, context, ',')[0] ?? ',';
    const said = text(value, context).replace(/\s/g, '');
    if (said === '') return 0;
    const [whole = '', rest, ...more] = said.split(decimal);
    if (more.length > 0 || rest?.includes(parting)) return BAD_VALUE;
    const percents = /%*$/.exec(said)![0].length;
    const plain = `${whole.replaceAll(parting, '')}${rest === undefined ? '' : `.${rest}`}`.replace(
      /%+$/,
      '',
    );
    const result = toNumber(plain);
    return result instanceof FormulaError ? result : result / 100 ** percents;
  }),
  TEXT: single(([value, format], context) => {
    const scalar = context.scalar(value ?? null);
    const code = text(format, context);
    if (scalar instanceof FormulaError) return scalar;
    if (typeof scalar === 'boolean') return scalar ? 'TRUE' : 'FALSE';
    if (typeof scalar === 'string') {
      const asNumber = toNumber(scalar);
      return asNumber instanceof FormulaError ? showText(scalar, code) : showNumber(asNumber, code);
    }
    return showNumber(Number(scalar), code);
  }),
  FIXED: single(([value, decimals, isPlain], context) =>
    fixed(
      number(value, context),
      Math.trunc(numberOr(decimals, context, 2)),
      truth(isPlain, context),
    ),
  ),
  SUBSTITUTE: single(([value, old, now, which], context) => {
    const [all, from, to] = [text(value, context), text(old, context), text(now, context)];
    if (from === '') return all;
    if (which == null) return fitting(all.split(from).join(to));
    let left = whole32(which, context);
    if (left < 1) return BAD_VALUE;
    for (let at = all.indexOf(from); at >= 0; at = all.indexOf(from, at + from.length)) {
      if (--left === 0) return all.slice(0, at) + to + all.slice(at + from.length);
    }
    return all;
  }),
  REPT: single(([value, times], context) => {
    const [part, count] = [text(value, context), whole32(times, context)];
    return count < 0 || part.length * count > MAX_LETTERS ? BAD_VALUE : part.repeat(count);
  }),
  FIND: single(search(true)),
  SEARCH: single(search(false)),
  CHAR: single(([code], context) => {
    const n = whole32(code, context);
    if (n < 1 || n > 255) return BAD_VALUE;
    return n >= 128 && n <= 159 ? HIGH_SIGNS[n - 128]! : String.fromCharCode(n);
  }),
  CODE: single(([value], context) => {
    const first = text(value, context)[0];
    if (first === undefined) return BAD_VALUE;
    const high = HIGH_SIGNS.indexOf(first);
    const code = first.charCodeAt(0);
    return high >= 0 ? high + 128 : code < 256 ? code : 63;
  }),
  UNICHAR: single(([code], context) => {
    const n = whole32(code, context);
    return n < 1 || n > 0x10ffff || (n >= 0xd800 && n <= 0xdfff)
      ? BAD_VALUE
      : String.fromCodePoint(n);
  }),
  UNICODE: single(([value], context) => text(value, context).codePointAt(0) ?? BAD_VALUE),
  TEXTBEFORE: wholeAt([1], around(true)),
  TEXTAFTER: wholeAt([1], around(false)),
  TEXTSPLIT: wholeAt([1, 2], ([value, columns, rows, skips, ignoresCase, pad], context) => {
    const skipsEmpty = truth(skips, context);
    const isFree = numberOr(ignoresCase, context, 0) === 1;
    const marksOf = (arg: typeof columns) => (arg == null ? [] : texts(valuesOf([arg], context)));
    const kept = (parts: string[]) => (skipsEmpty ? parts.filter((part) => part !== '') : parts);
    const lines = kept(splitBy(text(value, context), marksOf(rows), isFree));
    const cells = lines.map((line) => kept(splitBy(line, marksOf(columns), isFree)));
    const width = Math.max(1, ...cells.map((row) => row.length));
    const filler = pad === undefined ? NOT_AVAILABLE : context.scalar(pad);
    return cells.map((row) => Array.from({ length: width }, (_, at): Scalar => row[at] ?? filler));
  }),
  ADDRESS: single(([row, column, kind, isA1, sheet], context: CallContext) => {
    const [r, c] = [whole32(row, context), whole32(column, context)];
    const how = Math.trunc(numberOr(kind, context, 1));
    if (r < 1 || c < 1 || c > 16_384 || r > 1_048_576 || how < 1 || how > 4) return BAD_VALUE;
    const [fixRow, fixColumn] = [how === 1 || how === 2, how === 1 || how === 3];
    const cell = truth(isA1, context, true)
      ? `${fixColumn ? '$' : ''}${columnName(c)}${fixRow ? '$' : ''}${r}`
      : `R${fixRow ? r : `[${r}]`}C${fixColumn ? c : `[${c}]`}`;
    if (sheet == null) return cell;
    return `${quoteSheet(text(sheet, context))}!${cell}`;
  }),
  HYPERLINK: single(([address, shown], context) =>
    shown == null ? text(address, context) : context.scalar(shown),
  ),
};
