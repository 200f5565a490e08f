import { child, type XmlElement } from '../../package/xml.ts';

/** Elements that are number formats (ODF 1.3 Part 3, 16.29). */
export const NUMBER_STYLES = [
  'number-style',
  'currency-style',
  'percentage-style',
  'date-style',
  'time-style',
  'boolean-style',
  'text-style',
] as const;

const COLOURS: Record<string, string> = {
  '#000000': 'Black',
  '#0000ff': 'Blue',
  '#00ffff': 'Cyan',
  '#00ff00': 'Green',
  '#ff00ff': 'Magenta',
  '#ff0000': 'Red',
  '#ffffff': 'White',
  '#ffff00': 'Yellow',
};

/**
 * The format code that a number style means. Conditions (`style:map`, 16.3) become its sections: a style for values
 * below zero that maps those from zero on to another style is the code `other;own`.
 */
export function formatCode(style: XmlElement, all: ReadonlyMap<string, XmlElement>): string {
  const own = section(style);
  const maps = style.children.filter(({ name }) => name === 'map');
  if (maps.length === 0) return own;
  const parts = maps.flatMap(({ attributes }) => {
    const other = all.get(attributes['apply-style-name'] ?? '');
    const condition = /^value\(\)\s*(<=|>=|!=|=|<|>)\s*(-?[\d.]+)$/.exec(
      attributes.condition ?? '',
    );
    if (!other || !condition) return [];
    return [{ sign: condition[1]!, bound: condition[2]!, code: section(other) }];
  });
  const [first, second] = parts;
  if (!first) return own;
  // `positive;negative` needs no condition written out, nor does `positive;negative;zero`.
  if (parts.length === 1 && first.bound === '0' && first.sign === '>=')
    return `${first.code};${own}`;
  if (
    second &&
    first.sign === '>' &&
    second.sign === '<' &&
    first.bound === '0' &&
    second.bound === '0'
  ) {
    return `${first.code};${second.code};${own}`;
  }
  const written = parts.map(
    ({ sign, bound, code }) => `[${sign === '!=' ? '<>' : sign}${bound}]${code}`,
  );
  return [...written.slice(0, 2), own].join(';');
}

/** One section of a code: the style's own parts in their order. */
function section(style: XmlElement): string {
  const isLoose =
    style.name === 'time-style' && style.attributes['truncate-on-overflow'] === 'false';
  const colour = COLOURS[child(style, 'text-properties')?.attributes.color?.toLowerCase() ?? ''];
  const code = style.children.map((part, index) => piece(part, isLoose, index === 0)).join('');
  const plain = code === '' && style.name === 'number-style' ? 'General' : code;
  return `${colour ? `[${colour}]` : ''}${plain}`;
}

function piece(part: XmlElement, isLoose: boolean, isFirst: boolean): string {
  const { style } = part.attributes;
  const isLong = style === 'long';
  switch (part.name) {
    case 'number':
      return number(part);
    case 'scientific-number':
      return `${number(part)}E+${'0'.repeat(count(part, 'min-exponent-digits', 2))}`;
    case 'fraction': {
      const whole = part.attributes['min-integer-digits'];
      const denominator =
        part.attributes['denominator-value'] ??
        '?'.repeat(count(part, 'min-denominator-digits', 1));
      const numerator = '?'.repeat(count(part, 'min-numerator-digits', 1));
      return `${whole === undefined ? '' : '# '}${numerator}/${denominator}`;
    }
    case 'currency-symbol':
      return quoted(part.text);
    case 'text':
      return quoted(part.text);
    case 'text-content':
      return '@';
    case 'boolean':
      return 'General';
    case 'fill-character':
      return `*${part.text || ' '}`;
    case 'day':
      return isLong ? 'dd' : 'd';
    case 'month':
      return part.attributes.textual === 'true' ? (isLong ? 'mmmm' : 'mmm') : isLong ? 'mm' : 'm';
    case 'year':
      return isLong ? 'yyyy' : 'yy';
    case 'day-of-week':
      return isLong ? 'dddd' : 'ddd';
    case 'hours':
      return isLoose && isFirst ? (isLong ? '[hh]' : '[h]') : isLong ? 'hh' : 'h';
    case 'minutes':
      return isLoose && isFirst ? (isLong ? '[mm]' : '[m]') : isLong ? 'mm' : 'm';
    case 'seconds': {
      const decimals = count(part, 'decimal-places', 0);
      return `${isLong ? 'ss' : 's'}${decimals > 0 ? `.${'0'.repeat(decimals)}` : ''}`;
    }
    case 'am-pm':
      return 'AM/PM';
    default:
      return '';
  }
}

function count(part: XmlElement, attribute: string, absent: number): number {
  const text = part.attributes[attribute];
  return text === undefined ? absent : Math.min(30, Math.max(0, Number(text) || 0));
}

/** Digits of a number (16.29.3): how many at least before and behind the point, and whether thousands are parted. */
function number(part: XmlElement): string {
  const { attributes } = part;
  if (
    attributes['decimal-places'] === undefined &&
    attributes['min-decimal-places'] === undefined
  ) {
    // Without a number of decimals as many are shown as the value has.
    if (attributes.grouping !== 'true' && count(part, 'min-integer-digits', 1) <= 1)
      return 'General';
  }
  const whole = count(part, 'min-integer-digits', 1);
  const decimals = count(part, 'decimal-places', 0);
  const least = Math.min(decimals, count(part, 'min-decimal-places', decimals));
  const isOpen = attributes['decimal-replacement'] === '';
  const tail = isOpen ? '#'.repeat(decimals) : '0'.repeat(least) + '#'.repeat(decimals - least);
  const thousands = '0'.repeat(whole).padStart(4, '#');
  const head =
    attributes.grouping === 'true'
      ? `${thousands.slice(0, -3)},${thousands.slice(-3)}`
      : '0'.repeat(whole) || '#';
  // Each thousand by which the value is divided for showing is a comma behind.
  const scale = ','.repeat(
    Math.round(Math.log10(Number(attributes['display-factor'] ?? 1)) / 3) || 0,
  );
  return `${head}${tail === '' ? '' : `.${tail}`}${scale}`;
}

function quoted(text: string): string {
  if (text === '') return '';
  // What a code shows as it is needs no quotes.
  return /^[ \-+/():$€£%.,]+$/.test(text) ? text : `"${text.replaceAll('"', '""')}"`;
}
