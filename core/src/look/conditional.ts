import { evaluate, type Formula, parseFormula, type Scope } from '../formula/evaluate.ts';
import { percentile } from '../formula/functions/statistics.ts';
import {
  type CellValues,
  compareScalars,
  FormulaError,
  type Scalar,
  toText,
} from '../formula/value.ts';
import { type Area, holds, intersection } from '../sheet/address.ts';
import { isoToSerial } from '../sheet/date.ts';
import { showNumber } from '../sheet/number-format.ts';
import type { Cell, CellBar, CellIcon, Dress, Letters, Snapshot } from '../sheet/sheet.ts';
import { mix } from './colour.ts';

/** What a conditional format changes of a cell's dress where it applies; what it does not name stays. */
export interface DressChange extends Partial<Omit<Dress, 'letters'>> {
  letters?: Partial<Letters>;
  /** Number format code. */
  format?: string;
}

/** How values are compared (ECMA-376 Part 1, 18.18.15). */
export type Comparison =
  | 'lessThan'
  | 'lessThanOrEqual'
  | 'equal'
  | 'notEqual'
  | 'greaterThanOrEqual'
  | 'greaterThan'
  | 'between'
  | 'notBetween';

/** A time that dates are compared with (18.18.82). */
export type Period =
  | 'today'
  | 'yesterday'
  | 'tomorrow'
  | 'last7Days'
  | 'lastWeek'
  | 'thisWeek'
  | 'nextWeek'
  | 'lastMonth'
  | 'thisMonth'
  | 'nextMonth';

/** A value on a scale: where a colour, a bar's end or an icon begins (18.3.1.11). */
export interface Threshold {
  kind: 'min' | 'max' | 'num' | 'percent' | 'percentile' | 'formula' | 'autoMin' | 'autoMax';
  /** A number or a formula, empty for the ends. */
  value: string;
  /** For icons: whether a value equal to the threshold has reached it. */
  isReached?: boolean;
}

/** What decides whether, or how, a conditional format shows (ECMA-376 Part 1, 18.3.1.10 and 18.18.12). */
export type Condition =
  | { kind: 'cell'; comparison: Comparison; operands: string[] }
  | { kind: 'formula'; formula: string }
  | { kind: 'text'; where: 'contains' | 'notContains' | 'begins' | 'ends'; text: string }
  | { kind: 'blanks' | 'errors'; isNegated: boolean }
  | { kind: 'period'; period: Period }
  | { kind: 'top'; rank: number; isPercent: boolean; isBottom: boolean }
  | { kind: 'average'; isAbove: boolean; isEqualIn: boolean; deviations: number }
  | { kind: 'duplicates'; isUnique: boolean }
  | { kind: 'scale'; stops: { threshold: Threshold; colour: string }[] }
  | {
      kind: 'bar';
      min: Threshold;
      max: Threshold;
      colour: string;
      negativeColour: string;
      isGradient: boolean;
      showsValue: boolean;
      /** Shares of the cell's width that the shortest and the longest bar take. */
      shortest: number;
      longest: number;
    }
  | {
      kind: 'icons';
      set: string;
      thresholds: Threshold[];
      isReversed: boolean;
      showsValue: boolean;
    };

/** One conditional format. */
export interface ConditionalFormat {
  areas: Area[];
  /** The cell that its references are written for; absent for the upper left one of all areas. */
  origin?: { row: number; column: number };
  /** Lower goes first. */
  priority: number;
  /** What comes after it is not looked at where it applies. */
  stops: boolean;
  condition: Condition;
  /** How cells are dressed; nothing for scales, bars and icons, which dress by value. */
  dress: DressChange;
}

/** What evaluating conditional formats rests on besides the cells. */
export interface ConditionalScope {
  cells: CellValues;
  /** Serial number of this moment, for `TODAY()` and periods. */
  now: number;
  name?: (name: string) => Formula | null;
}

/** Cells of an area beyond which empty ones are not looked at: a whole column may be conditional. */
const MAX_EMPTY = 40_000;

/** What in a formula cannot be followed here: all that it looks at must be known before it is evaluated. */
const notFollowed = ({ unknown, dynamic, tables }: Formula): string[] => [
  ...unknown,
  ...dynamic,
  ...tables.map(({ table, columns }) => `${table}[${columns.join(':')}]`),
];

/** The functions and references in a conditional format that cannot be evaluated here; empty for most. */
export function unknownIn({ condition }: ConditionalFormat): string[] {
  return formulasOf(condition).flatMap((text) => {
    const formula = parseFormula(text);
    return formula ? notFollowed(formula) : [text];
  });
}

/** The cell that the references of a format are written for (18.3.1.10; common practice where nothing is said). */
export function originOf({ areas, origin }: ConditionalFormat): { row: number; column: number } {
  return (
    origin ?? {
      row: Math.min(...areas.map(({ top }) => top)),
      column: Math.min(...areas.map(({ left }) => left)),
    }
  );
}

/** The formulas that a condition has. */
export function formulasOf(condition: Condition): string[] {
  switch (condition.kind) {
    case 'cell':
      return condition.operands;
    case 'formula':
      return [condition.formula];
    case 'scale':
      return condition.stops.flatMap(({ threshold }) => thresholdFormulas([threshold]));
    case 'bar':
      return thresholdFormulas([condition.min, condition.max]);
    case 'icons':
      return thresholdFormulas(condition.thresholds);
    default:
      return [];
  }
}

function thresholdFormulas(thresholds: Threshold[]): string[] {
  return thresholds.flatMap(({ kind, value }) =>
    kind === 'formula' ||
    (kind !== 'min' && kind !== 'max' && value !== '' && Number.isNaN(Number(value)))
      ? [value]
      : [],
  );
}

/** Whether a condition looks at all cells of its areas, not only at the one it is evaluated for. */
export function looksAround({ kind }: Condition): boolean {
  return ['top', 'average', 'duplicates', 'scale', 'bar', 'icons'].includes(kind);
}

/** The snapshot with its conditional formats applied: dresses, bars and icons as the source shows them at this moment. */
export function applyConditions(
  snapshot: Snapshot,
  formats: readonly ConditionalFormat[],
  scope: ConditionalScope,
): Snapshot {
  const rules = [...formats]
    .sort((a, b) => a.priority - b.priority)
    .map((format) => new Rule(format, snapshot.sheet, scope));
  const near = rules.filter(({ areas }) => areas.some((area) => intersection(area, snapshot.area)));
  if (near.length === 0) return snapshot;
  const wardrobe = new Wardrobe(snapshot.dresses);
  const cells = withEmptyCells(snapshot, near).flatMap(
    (cell) => dressed(cell, near, wardrobe) ?? [],
  );
  return { ...snapshot, cells, dresses: wardrobe.dresses };
}

/** The cells with the empty ones that a conditional format may dress. */
function withEmptyCells(snapshot: Snapshot, rules: readonly Rule[]): Cell[] {
  const known = new Set(snapshot.cells.map(({ row, column }) => row * 16_384 + column));
  const added: Cell[] = [];
  const last = snapshot.cells.at(-1)?.row ?? snapshot.area.top;
  for (const { areas, dressesEmpty } of rules) {
    if (!dressesEmpty) continue;
    for (const area of areas) {
      const wanted = intersection(area, {
        ...snapshot.area,
        bottom: Math.max(snapshot.area.top, Math.min(snapshot.area.bottom, last + 200)),
      });
      if (!wanted) continue;
      for (let row = wanted.top; row <= wanted.bottom; row++) {
        for (let column = wanted.left; column <= wanted.right; column++) {
          const key = row * 16_384 + column;
          if (known.has(key)) continue;
          if (added.length >= MAX_EMPTY) return inOrder(snapshot.cells, added);
          known.add(key);
          added.push({ row, column, type: 'blank', value: '', text: '' });
        }
      }
    }
  }
  return inOrder(snapshot.cells, added);
}

function inOrder(cells: Cell[], added: Cell[]): Cell[] {
  if (added.length === 0) return cells;
  return [...cells, ...added].sort((a, b) => a.row - b.row || a.column - b.column);
}

/** The cell as the rules dress it; null for an empty one that none of them touches. */
function dressed(cell: Cell, rules: readonly Rule[], wardrobe: Wardrobe): Cell | null {
  let change: DressChange = {};
  let bar: CellBar | undefined;
  let icon: CellIcon | undefined;
  let hidesValue = false;
  let isTouched = false;
  for (const rule of rules) {
    const effect = rule.effectOn(cell);
    if (!effect) continue;
    isTouched = true;
    // What a rule that goes first has said is not said again by a later one.
    if (effect.change) {
      change = {
        ...effect.change,
        ...change,
        letters: { ...effect.change.letters, ...change.letters },
      };
    }
    bar ??= effect.bar;
    icon ??= effect.icon;
    hidesValue ||= effect.hidesValue ?? false;
    if (rule.stops) break;
  }
  if (!isTouched) return cell.type === 'blank' && cell.dress === undefined ? null : cell;
  const { format, ...look } = change;
  const shown: Cell = { ...cell };
  if (format !== undefined && typeof cell.value === 'number') {
    shown.text = showNumber(cell.value, format);
    shown.format = format;
  }
  if (hidesValue) shown.text = '';
  if (bar) shown.bar = bar;
  if (icon) shown.icon = icon;
  if (Object.keys(look).length > 0) shown.dress = wardrobe.change(cell.dress, look);
  return shown;
}

/** The dresses of a snapshot and those that come about by changing them, each once. */
export class Wardrobe {
  readonly dresses: Dress[];
  private readonly known = new Map<string, number>();
  private readonly plain: Dress;

  constructor(dresses: readonly Dress[]) {
    this.dresses = [...dresses];
    this.plain = dresses[0] ?? { letters: { family: 'Calibri', size: 11 } };
    for (const [index, dress] of dresses.entries()) this.known.set(JSON.stringify(dress), index);
  }

  change(index: number | undefined, { letters, ...rest }: DressChange): number {
    const before = index === undefined ? { letters: this.plain.letters } : this.dresses[index]!;
    const dress: Dress = { ...before, ...rest, letters: { ...before.letters, ...letters } };
    const key = JSON.stringify(dress);
    let at = this.known.get(key);
    if (at === undefined) {
      at = this.dresses.push(dress) - 1;
      this.known.set(key, at);
    }
    return at;
  }
}

interface Effect {
  change?: DressChange;
  bar?: CellBar;
  icon?: CellIcon;
  hidesValue?: boolean;
}

/** A conditional format made ready: formulas read once, what needs all cells of the areas counted once. */
class Rule {
  readonly areas: Area[];
  readonly stops: boolean;
  readonly dressesEmpty: boolean;
  private readonly condition: Condition;
  private readonly formulas: (Formula | null)[];
  private readonly origin: { row: number; column: number };
  private gathered: { numbers: number[]; counts: Map<string, number> } | null = null;
  private readonly limits = new Map<Threshold, number | null>();
  private topLimit: number | null | undefined;

  constructor(
    private readonly format: ConditionalFormat,
    private readonly sheet: string,
    private readonly scope: ConditionalScope,
  ) {
    this.areas = format.areas;
    this.stops = format.stops;
    this.condition = format.condition;
    this.formulas = formulasOf(format.condition).map(parseFormula);
    this.origin = originOf(format);
    this.dressesEmpty =
      Object.keys(format.dress).length > 0 &&
      ['cell', 'formula', 'blanks', 'text', 'errors'].includes(format.condition.kind);
  }

  /** What the rule does to a cell, or null. */
  effectOn(cell: Cell): Effect | null {
    if (!this.areas.some((area) => holds(area, cell))) return null;
    const value = scalarOf(cell);
    switch (this.condition.kind) {
      case 'scale':
        return this.scale(this.condition.stops, value);
      case 'bar':
        return this.bar(this.condition, value);
      case 'icons':
        return this.icon(this.condition, value);
      default:
        return this.applies(cell, value) ? { change: this.format.dress } : null;
    }
  }

  private applies(cell: Cell, value: Scalar): boolean {
    const { condition } = this;
    switch (condition.kind) {
      case 'cell':
        return compares(
          value,
          condition.comparison,
          this.formulas.map((formula) => this.evaluate(formula, cell)),
        );
      case 'formula': {
        const result = this.evaluate(this.formulas[0]!, cell);
        return typeof result === 'number' ? result !== 0 : result === true;
      }
      case 'text': {
        const text = value instanceof FormulaError ? '' : String(toText(value)).toLowerCase();
        const wanted = condition.text.toLowerCase();
        if (condition.where === 'begins') return text.startsWith(wanted);
        if (condition.where === 'ends') return text.endsWith(wanted);
        return text.includes(wanted) === (condition.where === 'contains');
      }
      case 'blanks': {
        const isBlank = value === null || (typeof value === 'string' && value.trim() === '');
        return isBlank !== condition.isNegated;
      }
      case 'errors':
        return value instanceof FormulaError !== condition.isNegated;
      case 'period':
        return (
          cell.type === 'date' && isInPeriod(value as number, condition.period, this.scope.now)
        );
      case 'top':
        return this.isTop(condition, value);
      case 'average':
        return this.isBeyondAverage(condition, value);
      case 'duplicates': {
        if (value === null || value instanceof FormulaError) return false;
        const count = this.gather().counts.get(keyOf(value)) ?? 0;
        return condition.isUnique ? count === 1 : count > 1;
      }
      default:
        return false;
    }
  }

  private evaluate(
    formula: Formula | null,
    { row, column }: { row: number; column: number },
  ): Scalar {
    if (!formula || notFollowed(formula).length > 0) return null;
    const { cells, now, name } = this.scope;
    const scope: Scope = { sheet: this.sheet, row, column, origin: this.origin, cells, now };
    if (name) scope.name = name;
    return evaluate(formula, scope);
  }

  /** All values of the areas, gathered once. */
  private gather() {
    if (this.gathered) return this.gathered;
    const numbers: number[] = [];
    const counts = new Map<string, number>();
    const seen = new Set<number>();
    for (const area of this.areas) {
      this.scope.cells.each(this.sheet, area, (value, row, column) => {
        if (this.areas.length > 1) {
          const place = row * 16_384 + column;
          if (seen.has(place)) return;
          seen.add(place);
        }
        if (value === null || value instanceof FormulaError) return;
        if (typeof value === 'number') numbers.push(value);
        const key = keyOf(value);
        counts.set(key, (counts.get(key) ?? 0) + 1);
      });
    }
    this.gathered = { numbers, counts };
    return this.gathered;
  }

  private isTop(condition: Extract<Condition, { kind: 'top' }>, value: Scalar): boolean {
    if (typeof value !== 'number') return false;
    if (this.topLimit === undefined) {
      const sorted = [...this.gather().numbers].sort((a, b) =>
        condition.isBottom ? a - b : b - a,
      );
      const share = Math.floor((sorted.length * condition.rank) / 100);
      const count = condition.isPercent ? Math.max(1, share) : condition.rank;
      this.topLimit = sorted[Math.min(count, sorted.length) - 1] ?? null;
    }
    if (this.topLimit === null) return false;
    return condition.isBottom ? value <= this.topLimit : value >= this.topLimit;
  }

  private isBeyondAverage(
    condition: Extract<Condition, { kind: 'average' }>,
    value: Scalar,
  ): boolean {
    const { numbers } = this.gather();
    if (typeof value !== 'number' || numbers.length === 0) return false;
    const mean = numbers.reduce((sum, each) => sum + each, 0) / numbers.length;
    // Which deviation is meant the standard does not say; that of a whole population is taken.
    const spread = Math.sqrt(
      numbers.reduce((sum, each) => sum + (each - mean) ** 2, 0) / numbers.length,
    );
    const bound = mean + (condition.isAbove ? 1 : -1) * condition.deviations * spread;
    if (condition.isEqualIn && value === bound) return true;
    return condition.isAbove ? value > bound : value < bound;
  }

  /** The number that a threshold stands for among the values of the areas. */
  private limit(threshold: Threshold): number | null {
    const known = this.limits.get(threshold);
    if (known !== undefined) return known;
    const found = this.findLimit(threshold);
    this.limits.set(threshold, found);
    return found;
  }

  private findLimit({ kind, value }: Threshold): number | null {
    const { numbers } = this.gather();
    if (numbers.length === 0) return null;
    const min = numbers.reduce((a, b) => Math.min(a, b));
    const max = numbers.reduce((a, b) => Math.max(a, b));
    switch (kind) {
      case 'min':
        return min;
      case 'max':
        return max;
      case 'autoMin':
        return Math.min(0, min);
      case 'autoMax':
        return Math.max(0, max);
    }
    let given = value.trim() === '' ? Number.NaN : Number(value);
    if (Number.isNaN(given)) {
      const result = this.evaluate(parseFormula(value), this.origin);
      if (typeof result !== 'number') return null;
      given = result;
    }
    if (kind === 'percent') return min + ((max - min) * given) / 100;
    if (kind === 'percentile') {
      const found = percentile(numbers, given / 100);
      return typeof found === 'number' ? found : null;
    }
    return given;
  }

  private scale(stops: { threshold: Threshold; colour: string }[], value: Scalar): Effect | null {
    if (typeof value !== 'number') return null;
    const limits = stops.map(({ threshold }) => this.limit(threshold));
    if (limits.some((limit) => limit === null)) return null;
    const known = limits as number[];
    let upper = known.findIndex((limit) => value <= limit);
    if (upper < 0) upper = known.length - 1;
    const lower = Math.max(0, upper - 1);
    const [from, to] = [known[lower]!, known[upper]!];
    const share = to === from ? 1 : Math.min(1, Math.max(0, (value - from) / (to - from)));
    return {
      change: {
        fill: mix(stops[lower]!.colour, stops[upper]!.colour, upper === lower ? 0 : share),
      },
    };
  }

  private bar(condition: Extract<Condition, { kind: 'bar' }>, value: Scalar): Effect | null {
    if (typeof value !== 'number') return null;
    const [min, max] = [this.limit(condition.min), this.limit(condition.max)];
    if (min === null || max === null) return null;
    const { shortest, longest, colour, negativeColour, isGradient } = condition;
    const hidesValue = !condition.showsValue;
    const bounded = Math.min(max, Math.max(min, value));
    // Below and above zero the bar starts at the axis between them.
    const hasAxis = min < 0 && max > 0;
    const at = (x: number) => (max === min ? 1 : (x - min) / (max - min));
    const ends = hasAxis
      ? [at(Math.min(0, bounded)), at(Math.max(0, bounded))]
      : max <= 0 && min < 0
        ? [at(bounded), 1]
        : [0, shortest + (longest - shortest) * at(bounded)];
    const bar: CellBar = {
      from: precise(ends[0]!),
      to: precise(ends[1]!),
      colour: value < 0 ? negativeColour : colour,
      ...(isGradient ? { isGradient } : {}),
      ...(hasAxis ? { axis: precise(at(0)) } : {}),
    };
    return { bar, hidesValue };
  }

  private icon(condition: Extract<Condition, { kind: 'icons' }>, value: Scalar): Effect | null {
    if (typeof value !== 'number') return null;
    const { thresholds, set, isReversed, showsValue } = condition;
    let index = 0;
    for (const [place, threshold] of thresholds.entries()) {
      if (place === 0) continue;
      const limit = this.limit(threshold);
      if (limit === null) return null;
      if (threshold.isReached === false ? value > limit : value >= limit) index = place;
    }
    const last = thresholds.length - 1;
    return {
      icon: { set, index: isReversed ? last - index : index },
      hidesValue: !showsValue,
    };
  }
}

function precise(share: number): number {
  return Number(share.toFixed(4));
}

function keyOf(value: number | string | boolean): string {
  return `${typeof value}:${String(value).toLowerCase()}`;
}

/** A cell's value as formulas see it: dates are serial numbers. */
export function scalarOf(cell: Pick<Cell, 'type' | 'value'> | undefined): Scalar {
  if (!cell || cell.type === 'blank' || cell.type === 'uncomputed') return null;
  if (cell.type === 'error') return new FormulaError(String(cell.value));
  if (cell.type === 'date') return isoToSerial(String(cell.value), '1900');
  return cell.value;
}

function compares(
  value: Scalar,
  comparison: Comparison,
  [first, second]: (Scalar | undefined)[],
): boolean {
  if (first === undefined || value instanceof FormulaError || first instanceof FormulaError)
    return false;
  const order = compareScalars(value, first) as number;
  switch (comparison) {
    case 'lessThan':
      return order < 0;
    case 'lessThanOrEqual':
      return order <= 0;
    case 'equal':
      return order === 0;
    case 'notEqual':
      return order !== 0;
    case 'greaterThanOrEqual':
      return order >= 0;
    case 'greaterThan':
      return order > 0;
  }
  if (second === undefined || second instanceof FormulaError) return false;
  const other = compareScalars(value, second) as number;
  const isBetween = Math.min(order, other) <= 0 && Math.max(order, other) >= 0;
  return comparison === 'between' ? isBetween : !isBetween;
}

/** Whether a day lies in a period, seen from now. Weeks begin on Sunday (18.18.82; common practice). */
function isInPeriod(serial: number, period: Period, now: number): boolean {
  const [day, today] = [Math.floor(serial), Math.floor(now)];
  // Serial 1 was a Sunday in the numbering of dates after February 1900.
  const week = (each: number) => Math.floor((each - 1) / 7);
  const month = (each: number) => {
    const date = new Date(Date.UTC(1899, 11, 30) + each * 86_400_000);
    return date.getUTCFullYear() * 12 + date.getUTCMonth();
  };
  switch (period) {
    case 'today':
      return day === today;
    case 'yesterday':
      return day === today - 1;
    case 'tomorrow':
      return day === today + 1;
    case 'last7Days':
      return day > today - 7 && day <= today;
    case 'lastWeek':
      return week(day) === week(today) - 1;
    case 'thisWeek':
      return week(day) === week(today);
    case 'nextWeek':
      return week(day) === week(today) + 1;
    case 'lastMonth':
      return month(day) === month(today) - 1;
    case 'thisMonth':
      return month(day) === month(today);
    case 'nextMonth':
      return month(day) === month(today) + 1;
  }
}
