import {
  type Area,
  type ConditionalFormat,
  type DefinedName,
  MAX_ROWS,
  type Occupancy,
  OccupancyBuilder,
  type SheetSummary,
  type Validation,
} from '@tether/core';
import {
  type Attributes,
  child,
  children,
  descendants,
  type XmlElement,
} from '../../package/xml.ts';
import { readFormats } from './conditions.ts';
import { fixedReference, parseOdfRange, plainFormula } from './formula.ts';
import type { OdfStyles } from './styles.ts';
import type { CellContent, TableVisitor } from './table-events.ts';

/** Sheets beyond this many are no workbook. */
const MAX_SHEETS = 10_000;
/** Areas of one check on entries that are kept apart. */
export const MAX_AREAS = 2_000;

/** A sheet as the walk through the whole file found it. */
export interface OdfSheet {
  name: string;
  state: SheetSummary['state'];
  /** Which cells are filled; null until the rows have been walked through. */
  occupancy: Occupancy | null;
  /** Its rows, those with one style and next to each other as one; known with the occupancy. */
  rows: { from: number; to: number; style: string | undefined; isHidden: boolean }[];
  columns: {
    from: number;
    to: number;
    style: string | undefined;
    cellStyle: string | undefined;
    isHidden: boolean;
  }[];
  conditions: ConditionalFormat[];
  validations: Map<string, Area[]>;
  isProtected: boolean;
  hasPassword: boolean;
  frames: { frame: XmlElement; row: number; column: number }[];
  shapes: XmlElement[];
}

/** What is said outside of the tables. */
export interface Found {
  names: DefinedName[];
  databases: { name: string; sheet: string; area: Area; headerRows: number }[];
  validations: Map<string, Omit<Validation, 'areas'>>;
}

/** Whether a cell has a formula and the file does not say its value: no program has computed it. */
export function isUncomputed(attributes: Attributes, text: string): boolean {
  const { formula, value } = attributes;
  if (formula === undefined || text !== '') return false;
  const type = attributes['value-type'];
  return type === undefined || (type === 'float' && value === undefined);
}

/** Whether a cell has a value: something is shown, or its type says so. */
function isFilled(attributes: Attributes, content: CellContent): boolean {
  if (isUncomputed(attributes, content.text)) return true;
  const type = attributes['value-type'];
  if (type === 'string') return content.text !== '' || (attributes['string-value'] ?? '') !== '';
  return (type !== undefined && type !== 'void') || content.text !== '';
}

/** The first walk through the file: what there is, and which cells are filled. */
export class SheetIndex implements TableVisitor, Found {
  readonly top = 1;
  readonly bottom = MAX_ROWS;
  readonly withContent = false;
  readonly sheets: OdfSheet[] = [];
  readonly names: DefinedName[] = [];
  readonly databases: Found['databases'] = [];
  readonly validations = new Map<string, Omit<Validation, 'areas'>>();
  private builder = new OccupancyBuilder();
  private endedSheets = 0;

  constructor(
    private readonly styles: OdfStyles,
    /** Only what stands around the rows: a long file is opened without reading them. */
    readonly withoutRows = false,
  ) {}

  private get sheet(): OdfSheet {
    return this.sheets.at(-1)!;
  }

  table(name: string, attributes: Attributes): boolean {
    if (this.sheets.length >= MAX_SHEETS) return false;
    this.builder = new OccupancyBuilder();
    this.sheets.push({
      name,
      state: this.styles.isShown(attributes['style-name']) ? 'visible' : 'hidden',
      occupancy: null,
      rows: [],
      columns: [],
      conditions: [],
      validations: new Map(),
      isProtected: attributes.protected === 'true',
      hasPassword: attributes['protection-key'] !== undefined,
      frames: [],
      shapes: [],
    });
    return true;
  }

  column(from: number, to: number, attributes: Attributes): void {
    this.sheet.columns.push({
      from,
      to,
      style: attributes['style-name'],
      cellStyle: attributes['default-cell-style-name'],
      isHidden: isCollapsed(attributes),
    });
  }

  row(from: number, to: number, attributes: Attributes): void {
    const { rows } = this.sheet;
    const [style, isHidden] = [attributes['style-name'], isCollapsed(attributes)];
    const last = rows.at(-1);
    if (last?.style === style && last?.isHidden === isHidden) last.to = to;
    else rows.push({ from, to, style, isHidden });
  }

  cell(
    row: { from: number; to: number },
    column: { from: number; to: number },
    attributes: Attributes,
    content: CellContent,
  ): void {
    const validation = attributes['content-validation-name'];
    if (validation !== undefined) {
      const areas = this.sheet.validations.get(validation) ?? [];
      this.sheet.validations.set(validation, areas);
      addArea(areas, { top: row.from, bottom: row.to, left: column.from, right: column.to });
    }
    if (!isFilled(attributes, content)) return;
    this.builder.addRun(row, column);
  }

  tableEnd(): void {
    if (!this.withoutRows) this.sheet.occupancy = this.builder.build();
    this.endedSheets++;
  }

  frame(frame: XmlElement, at: { row: number; column: number }): void {
    this.sheet.frames.push({ frame, ...at });
  }

  captured(element: XmlElement): void {
    switch (element.name) {
      case 'font-face-decls':
      case 'styles':
      case 'automatic-styles':
        this.styles.add(element);
        break;
      case 'content-validations':
        for (const each of children(element, 'content-validation')) {
          this.validations.set(each.attributes.name ?? '', parseValidation(each));
        }
        break;
      case 'named-expressions':
        // Those of a sheet stand within it, those of the file behind the last one.
        this.names.push(...readNames(element, this.inSheet()));
        break;
      case 'database-ranges':
        this.databases.push(...readDatabases(element));
        break;
      case 'conditional-formats':
        if (this.sheets.length > 0)
          this.sheet.conditions.push(...readFormats(element, this.styles));
        break;
      case 'shapes':
        if (this.sheets.length > 0) this.sheet.shapes.push(element);
        break;
    }
  }

  /** The sheet that the walk is in; null between and behind the sheets. */
  private inSheet(): string | null {
    return this.endedSheets < this.sheets.length ? this.sheet.name : null;
  }
}

/** Which cells of one sheet are filled, down to a row. */
export class OccupancyWalk implements TableVisitor {
  readonly top = 1;
  readonly withContent = false;
  readonly builder = new OccupancyBuilder();
  onDone = () => {};
  private isHere = false;

  constructor(
    private readonly sheet: string,
    readonly bottom: number,
  ) {}

  table(name: string): boolean {
    this.isHere = name === this.sheet;
    return this.isHere;
  }

  row(from: number): void {
    if (from > this.bottom) this.onDone();
  }

  cell(
    row: { from: number; to: number },
    column: { from: number; to: number },
    attributes: Attributes,
    content: CellContent,
  ): void {
    if (!isFilled(attributes, content)) return;
    this.builder.addRun({ from: row.from, to: Math.min(row.to, this.bottom) }, column);
  }

  tableEnd(): void {
    this.onDone();
  }
}

/** Adds an area to a list, joined with the last one where both make one. */
export function addArea(areas: Area[], area: Area): void {
  const last = areas.at(-1);
  if (
    last &&
    last.left === area.left &&
    last.right === area.right &&
    last.bottom + 1 === area.top
  ) {
    last.bottom = area.bottom;
  } else if (areas.length < MAX_AREAS) areas.push(area);
}

/** Whether a row or column is hidden, by hand or by a filter. */
export function isCollapsed({ visibility }: Attributes): boolean {
  return visibility === 'collapse' || visibility === 'filter';
}

function readNames(element: XmlElement, sheet: string | null): DefinedName[] {
  return element.children.flatMap(({ name, attributes }): DefinedName[] => {
    const own = attributes.name ?? '';
    if (name === 'named-range') {
      const range = parseOdfRange(attributes['cell-range-address'] ?? '');
      const refersTo = range ? fixedReference(range) : (attributes['cell-range-address'] ?? '');
      return [{ name: own, refersTo, sheet, hidden: false }];
    }
    if (name !== 'named-expression') return [];
    return [
      { name: own, refersTo: plainFormula(attributes.expression ?? ''), sheet, hidden: false },
    ];
  });
}

function readDatabases(element: XmlElement): Found['databases'] {
  return children(element, 'database-range').flatMap(({ attributes }) => {
    const range = parseOdfRange(attributes['target-range-address'] ?? '');
    const name = attributes.name ?? '';
    // Ranges that a program made for a filter and nobody named.
    if (!range?.sheet || name === '' || name.startsWith('__Anonymous')) return [];
    const headerRows = attributes['contains-header'] === 'false' ? 0 : 1;
    return [{ name, sheet: range.sheet, area: range.area, headerRows }];
  });
}

const VALIDATION_KINDS: [RegExp, Validation['kind']][] = [
  [/cell-content-is-whole-number\(\)/, 'whole'],
  [/cell-content-is-decimal-number\(\)/, 'decimal'],
  [/cell-content-is-in-list/, 'list'],
  [/cell-content-is-date\(\)/, 'date'],
  [/cell-content-is-time\(\)/, 'time'],
  [/cell-content-text-length/, 'textLength'],
  [/is-true-formula/, 'custom'],
];
const COMPARISONS: Record<string, string> = {
  '<': 'lessThan',
  '<=': 'lessThanOrEqual',
  '=': 'equal',
  '!=': 'notEqual',
  '>=': 'greaterThanOrEqual',
  '>': 'greaterThan',
};

/** A check on entries (ODF 1.3 Part 3, 9.4.5 and 19.603). */
function parseValidation(element: XmlElement): Omit<Validation, 'areas'> {
  const condition = (element.attributes.condition ?? '').replace(/^of:/, '');
  const kind = VALIDATION_KINDS.find(([pattern]) => pattern.test(condition))?.[1] ?? 'any';
  const between =
    /(?:cell-content|cell-content-text-length)-is-(not-)?between\(([\s\S]*)\)\s*$/.exec(condition);
  const compared =
    /(?:cell-content|cell-content-text-length)\(\)\s*(<=|>=|!=|<|>|=)\s*([\s\S]+)$/.exec(condition);
  const listed = /cell-content-is-in-(?:list|range)\(([\s\S]*)\)\s*$/.exec(condition);
  const formula = /is-true-formula\(([\s\S]*)\)\s*$/.exec(condition);
  const operands = between
    ? plainFormula(between[2]!).split(',')
    : compared
      ? [plainFormula(compared[2]!)]
      : listed
        ? listed[1]!.split(';').map((entry) => entry.trim().replace(/^"|"$/g, ''))
        : formula
          ? [plainFormula(formula[1]!)]
          : [];
  const error = child(element, 'error-message');
  const words = descendants(error, 'p').map(({ text }) => text);
  return {
    kind,
    comparison: between
      ? between[1]
        ? 'notBetween'
        : 'between'
      : (COMPARISONS[compared?.[1] ?? ''] ?? 'between'),
    operands: operands.map((operand) => operand.trim()),
    allowsBlank: element.attributes['allow-empty-cell'] !== 'false',
    message: [error?.attributes.title, ...words].filter(Boolean).join(': ') || null,
  };
}
