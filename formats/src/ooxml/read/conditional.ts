import {
  type Area,
  type Comparison,
  type Condition,
  type ConditionalFormat,
  type DressChange,
  type Period,
  parseReference,
  type Threshold,
} from '@tether/core';
import { child, children, descendants, truth, type XmlElement } from '../../package/xml.ts';
import { CHANGE, type StylesPart } from './styles.ts';

/** Reads the areas of an `sqref` (ECMA-376 Part 1, 18.18.76): references with spaces between. */
export function parseAreas(text: string | undefined): Area[] {
  return (text ?? '')
    .trim()
    .split(/\s+/)
    .flatMap((reference) => {
      const parsed = parseReference(reference);
      return parsed.ok ? [parsed.value.area] : [];
    });
}

const TEXT_RULES = {
  containsText: 'contains',
  notContainsText: 'notContains',
  beginsWith: 'begins',
  endsWith: 'ends',
} as const;

/**
 * The conditional formats of a sheet (18.3.1.18), with what the extension list adds to them: bars whose length and
 * negative colour are named, rules that look at other sheets, icon sets that came later.
 */
export function parseConditions(root: XmlElement, styles: StylesPart): ConditionalFormat[] {
  const extended = descendants(child(root, 'extLst'), 'conditionalFormatting');
  const additions = new Map<string, XmlElement>();
  for (const formatting of extended) {
    for (const rule of children(formatting, 'cfRule')) {
      if (rule.attributes.id) additions.set(rule.attributes.id, rule);
    }
  }
  const formats: ConditionalFormat[] = [];
  const used = new Set<string>();
  for (const formatting of children(root, 'conditionalFormatting')) {
    const areas = parseAreas(formatting.attributes.sqref);
    for (const rule of children(formatting, 'cfRule')) {
      const id = descendants(child(rule, 'extLst'), 'id')[0]?.text.trim();
      const addition = id === undefined ? undefined : additions.get(id);
      if (id !== undefined && addition) used.add(id);
      const format = parseRule(rule, areas, styles, addition);
      if (format) formats.push(format);
    }
  }
  for (const formatting of extended) {
    const areas = parseAreas(child(formatting, 'sqref')?.text);
    for (const rule of children(formatting, 'cfRule')) {
      if (used.has(rule.attributes.id ?? '')) continue;
      const format = parseRule(rule, areas, styles);
      if (format) formats.push(format);
    }
  }
  return formats;
}

function parseRule(
  rule: XmlElement,
  areas: Area[],
  styles: StylesPart,
  addition?: XmlElement,
): ConditionalFormat | null {
  const condition = parseCondition(rule, styles, addition);
  if (!condition || areas.length === 0) return null;
  const { priority, stopIfTrue } = rule.attributes;
  const index = rule.attributes[CHANGE.reference];
  const own = child(rule, CHANGE.element);
  const dress: DressChange =
    own !== undefined
      ? styles.readChange(own)
      : ((index === undefined ? undefined : styles.changes[Number(index)]) ?? {});
  return { areas, priority: Number(priority ?? 1e6), stops: truth(stopIfTrue), condition, dress };
}

/** Formulas of a rule: `formula` in the sheet's own rules, `f` in the extension's. */
function formulas(rule: XmlElement): string[] {
  return [...children(rule, 'formula'), ...children(rule, 'f')].map(({ text }) => text.trim());
}

function parseCondition(
  rule: XmlElement,
  styles: StylesPart,
  addition?: XmlElement,
): Condition | null {
  const { type, operator, rank, percent, bottom, text, timePeriod } = rule.attributes;
  const { aboveAverage, equalAverage, stdDev } = rule.attributes;
  switch (type) {
    case 'cellIs':
      return { kind: 'cell', comparison: operator as Comparison, operands: formulas(rule) };
    case 'expression':
      return { kind: 'formula', formula: formulas(rule)[0] ?? '' };
    case 'containsText':
    case 'notContainsText':
    case 'beginsWith':
    case 'endsWith':
      return text === undefined
        ? { kind: 'formula', formula: formulas(rule)[0] ?? '' }
        : { kind: 'text', where: TEXT_RULES[type], text };
    case 'containsBlanks':
    case 'notContainsBlanks':
      return { kind: 'blanks', isNegated: type === 'notContainsBlanks' };
    case 'containsErrors':
    case 'notContainsErrors':
      return { kind: 'errors', isNegated: type === 'notContainsErrors' };
    case 'timePeriod':
      return { kind: 'period', period: timePeriod as Period };
    case 'top10':
      return {
        kind: 'top',
        rank: Number(rank ?? 10),
        isPercent: truth(percent),
        isBottom: truth(bottom),
      };
    case 'aboveAverage':
      return {
        kind: 'average',
        isAbove: truth(aboveAverage, true),
        isEqualIn: truth(equalAverage),
        deviations: Number(stdDev ?? 0),
      };
    case 'duplicateValues':
    case 'uniqueValues':
      return { kind: 'duplicates', isUnique: type === 'uniqueValues' };
    case 'colorScale':
      return scale(rule, styles);
    case 'dataBar':
      return bar(rule, styles, addition);
    case 'iconSet':
      return icons(rule);
    default:
      return null;
  }
}

function threshold(cfvo: XmlElement): Threshold {
  const { type, val, gte } = cfvo.attributes;
  return {
    kind: (type ?? 'num') as Threshold['kind'],
    value: val ?? child(cfvo, 'f')?.text.trim() ?? '',
    ...(gte !== undefined && !truth(gte) ? { isReached: false } : {}),
  };
}

function scale(rule: XmlElement, styles: StylesPart): Condition | null {
  const element = child(rule, 'colorScale');
  const colours = children(element, 'color').map((each) => styles.palette.resolve(each));
  const stops = children(element, 'cfvo').flatMap((cfvo, index) => {
    const colour = colours[index];
    return colour === undefined ? [] : [{ threshold: threshold(cfvo), colour }];
  });
  return stops.length < 2 ? null : { kind: 'scale', stops };
}

/** A bar (18.3.1.28): from 10 to 90 per cent of the cell unless something else is said. */
function bar(rule: XmlElement, styles: StylesPart, addition?: XmlElement): Condition | null {
  const element = child(rule, 'dataBar');
  const more = child(addition ?? (element?.attributes.minLength ? undefined : rule), 'dataBar');
  const [min, max] = children(element, 'cfvo').map(threshold);
  const [richMin, richMax] = children(addition && more, 'cfvo').map(threshold);
  if (!min || !max) return null;
  const said = { ...element?.attributes, ...(addition ? more?.attributes : {}) };
  const colour =
    styles.palette.resolve(child(element, 'color')) ??
    styles.palette.resolve(child(element, 'fillColor')) ??
    '#638EC6';
  const sameNegative = truth(said.negativeBarColorSameAsPositive);
  return {
    kind: 'bar',
    min: richMin ?? min,
    max: richMax ?? max,
    colour,
    negativeColour: addition
      ? sameNegative
        ? colour
        : (styles.palette.resolve(child(more, 'negativeFillColor')) ?? '#FF0000')
      : colour,
    isGradient: addition ? truth(said.gradient, true) : true,
    showsValue: truth(said.showValue, true),
    shortest: Number(said.minLength ?? 10) / 100,
    longest: Number(said.maxLength ?? 90) / 100,
  };
}

function icons(rule: XmlElement): Condition | null {
  const element = child(rule, 'iconSet');
  const thresholds = children(element, 'cfvo').map(threshold);
  if (!element || thresholds.length < 2) return null;
  return {
    kind: 'icons',
    set: element.attributes.iconSet ?? '3TrafficLights1',
    thresholds,
    isReversed: truth(element.attributes.reverse),
    showsValue: truth(element.attributes.showValue, true),
  };
}
