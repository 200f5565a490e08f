import type {
  Area,
  Comparison,
  Condition,
  ConditionalFormat,
  Dress,
  DressChange,
  Threshold,
} from '@tether/core';
import { child, children, type XmlElement } from '../../package/xml.ts';
import { parseOdfRange, parseOdfRanges, plainFormula } from './formula.ts';
import { colour, type OdfStyles, type StyleMap } from './styles.ts';

const SIGNS: Record<string, Comparison> = {
  '<': 'lessThan',
  '<=': 'lessThanOrEqual',
  '=': 'equal',
  '!=': 'notEqual',
  '<>': 'notEqual',
  '>=': 'greaterThanOrEqual',
  '>': 'greaterThan',
};

/**
 * Reads a condition: as the standard writes it (`cell-content()>=60`, `is-true-formula(…)`, ODF 1.3 Part 3, 19.468), and
 * as several programs write it in their extension (`>=60`, `formula-is(…)`, `top-elements(3)`). Null for what is none.
 */
export function parseCondition(text: string): Condition | null {
  const bare = text
    .trim()
    .replace(/^of:/, '')
    .replace(/^cell-content\(\)\s*/, '');
  const sign = /^(<=|>=|!=|<>|<|>|=)\s*([\s\S]+)$/.exec(bare);
  if (sign) {
    return { kind: 'cell', comparison: SIGNS[sign[1]!]!, operands: [plainFormula(sign[2]!)] };
  }
  const call = /^([a-z-]+)(?:\(([\s\S]*)\))?$/.exec(bare);
  if (!call) return null;
  const name = call[1]!.replace(/^cell-content-/, '');
  const operands = splitArguments(call[2] ?? '').map(plainFormula);
  const [first = ''] = operands;
  const word = /^"([\s\S]*)"$/.exec(first)?.[1]?.replaceAll('""', '"') ?? first;
  switch (name) {
    case 'is-true-formula':
    case 'formula-is':
      return { kind: 'formula', formula: plainFormula(call[2] ?? '') };
    case 'is-between':
    case 'between':
      return { kind: 'cell', comparison: 'between', operands };
    case 'is-not-between':
    case 'not-between':
      return { kind: 'cell', comparison: 'notBetween', operands };
    case 'duplicate':
    case 'unique':
      return { kind: 'duplicates', isUnique: name === 'unique' };
    case 'top-elements':
    case 'bottom-elements':
    case 'top-percent':
    case 'bottom-percent':
      return {
        kind: 'top',
        rank: Number(first) || 10,
        isPercent: name.endsWith('percent'),
        isBottom: name.startsWith('bottom'),
      };
    case 'above-average':
    case 'below-average':
    case 'above-equal-average':
    case 'below-equal-average':
      return {
        kind: 'average',
        isAbove: name.startsWith('above'),
        isEqualIn: name.includes('equal'),
        deviations: 0,
      };
    case 'begins-with':
      return { kind: 'text', where: 'begins', text: word };
    case 'ends-with':
      return { kind: 'text', where: 'ends', text: word };
    case 'contains-text':
      return { kind: 'text', where: 'contains', text: word };
    case 'not-contains-text':
      return { kind: 'text', where: 'notContains', text: word };
    case 'is-error':
    case 'is-no-error':
      return { kind: 'errors', isNegated: name === 'is-no-error' };
    default:
      return null;
  }
}

/** Parts arguments at commas and semicolons that stand in no brackets and no quotes. */
function splitArguments(text: string): string[] {
  const parts: string[] = [];
  let depth = 0;
  let inQuotes = false;
  let from = 0;
  for (let at = 0; at < text.length; at++) {
    const letter = text[at];
    if (letter === '"') inQuotes = !inQuotes;
    if (inQuotes) continue;
    if (letter === '(' || letter === '[' || letter === '{') depth++;
    else if (letter === ')' || letter === ']' || letter === '}') depth--;
    else if ((letter === ',' || letter === ';') && depth === 0) {
      parts.push(text.slice(from, at));
      from = at + 1;
    }
  }
  const last = text.slice(from);
  return parts.length === 0 && last.trim() === ''
    ? []
    : [...parts, last].map((part) => part.trim());
}

/** The conditional formats that stand in a table of their own, as several programs write them. */
export function readFormats(element: XmlElement, styles: OdfStyles): ConditionalFormat[] {
  const formats: ConditionalFormat[] = [];
  for (const format of children(element, 'conditional-format')) {
    const areas = parseOdfRanges(format.attributes['target-range-address'] ?? '').map(
      ({ area }) => area,
    );
    if (areas.length === 0) continue;
    for (const rule of format.children) {
      const condition = ruleOf(rule);
      if (!condition) continue;
      const style = rule.attributes['apply-style-name'];
      formats.push({
        areas,
        ...originAt(rule.attributes['base-cell-address'] ?? null),
        priority: formats.length + 1,
        // Of the conditions on the same cells the first that is met decides (16.3).
        stops: rule.name === 'condition',
        condition,
        dress: style === undefined ? {} : changeOf(style, styles),
      });
    }
  }
  return formats;
}

function ruleOf(rule: XmlElement): Condition | null {
  switch (rule.name) {
    case 'condition':
      return parseCondition(rule.attributes.value ?? '');
    case 'color-scale': {
      const stops = children(rule, 'color-scale-entry').flatMap((entry) => {
        const shown = colour(entry.attributes.color);
        return shown ? [{ threshold: threshold(entry), colour: shown }] : [];
      });
      return stops.length < 2 ? null : { kind: 'scale', stops };
    }
    case 'data-bar': {
      const [min, max] = children(rule, 'formatting-entry').map(threshold);
      const { attributes } = rule;
      const shown = colour(attributes['positive-color']) ?? '#638EC6';
      return {
        kind: 'bar',
        min: min ?? { kind: 'autoMin', value: '' },
        max: max ?? { kind: 'autoMax', value: '' },
        colour: shown,
        negativeColour: colour(attributes['negative-color']) ?? '#FF0000',
        isGradient: attributes.gradient !== 'false',
        showsValue: attributes['show-value'] !== 'false',
        shortest: Number(attributes['min-length'] ?? 0) / 100,
        longest: Number(attributes['max-length'] ?? 100) / 100,
      };
    }
    case 'icon-set': {
      const thresholds = children(rule, 'formatting-entry').map(threshold);
      if (thresholds.length < 2) return null;
      const { attributes } = rule;
      return {
        kind: 'icons',
        set: attributes['icon-set-type'] ?? '3TrafficLights1',
        thresholds,
        isReversed: false,
        showsValue: attributes['show-value'] !== 'false',
      };
    }
    default:
      return null;
  }
}

const THRESHOLDS: Record<string, Threshold['kind']> = {
  minimum: 'min',
  maximum: 'max',
  number: 'num',
  percent: 'percent',
  percentile: 'percentile',
  formula: 'formula',
  'auto-minimum': 'autoMin',
  'auto-maximum': 'autoMax',
};

function threshold({ attributes }: XmlElement): Threshold {
  const kind = THRESHOLDS[attributes.type ?? ''] ?? 'num';
  const value = attributes.value ?? '';
  return { kind, value: kind === 'formula' ? plainFormula(value) : value };
}

/** The conditional formats of cells whose style has maps, as the standard has them. */
export function formatsOfMaps(
  maps: readonly StyleMap[],
  areas: Area[],
  styles: OdfStyles,
): ConditionalFormat[] {
  return maps.flatMap((map, index): ConditionalFormat[] => {
    const condition = parseCondition(map.condition);
    if (!condition) return [];
    return [
      {
        areas,
        ...originAt(map.base),
        priority: 1_000 + index,
        stops: true,
        condition,
        dress: changeOf(map.style, styles),
      },
    ];
  });
}

/** The cell that a condition's references are written for, where it is named (ODF 1.3 Part 3, 19.469). */
function originAt(address: string | null): Pick<ConditionalFormat, 'origin'> {
  const area = address === null ? null : parseOdfRange(address)?.area;
  return area ? { origin: { row: area.top, column: area.left } } : {};
}

/** What a style that a condition applies changes: everything the style says itself. */
function changeOf(name: string, styles: OdfStyles): DressChange {
  const said = styles.chain('table-cell', name).filter((style) => style.name === 'style');
  // What comes from the styles that all cells share is no change.
  const own =
    said.length > 1 ? said.filter(({ attributes }) => attributes.name !== 'Default') : said;
  const kinds = new Set(own.flatMap((style) => style.children.map((each) => each.name)));
  const attributesOf = (kind: string) =>
    Object.assign({}, ...own.map((style) => child(style, kind)?.attributes ?? {})) as Record<
      string,
      string
    >;
  const dress = styles.dressOf(name);
  const change: DressChange = {};
  if (kinds.has('table-cell-properties')) {
    const cell = attributesOf('table-cell-properties');
    for (const key of ['fill', 'top', 'right', 'bottom', 'left'] as const) {
      if (dress[key] !== undefined) Object.assign(change, { [key]: dress[key] });
    }
    if (cell['background-color'] === 'transparent') delete change.fill;
  }
  if (kinds.has('text-properties')) {
    const text = attributesOf('text-properties');
    const letters: Partial<Dress['letters']> = {};
    if (text.color && dress.letters.colour) letters.colour = dress.letters.colour;
    if (text['font-weight']) letters.bold = dress.letters.bold ?? false;
    if (text['font-style']) letters.italic = dress.letters.italic ?? false;
    if (text['text-underline-style']) letters.underline = dress.letters.underline ?? false;
    if (text['text-line-through-style']) letters.strike = dress.letters.strike ?? false;
    if (Object.keys(letters).length > 0) change.letters = letters;
  }
  const code = styles.cell(name).code;
  if (own.some(({ attributes }) => attributes['data-style-name'] !== undefined))
    change.format = code;
  return change;
}
