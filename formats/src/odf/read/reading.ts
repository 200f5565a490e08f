import {
  type Area,
  type Cell,
  intersection,
  isoToSerial,
  MAX_COLUMNS,
  MAX_ROWS,
  NOT_COMPUTED,
  serialToIso,
  showNumber,
} from '@tether/core';
import type { Attributes } from '../../package/xml.ts';
import { fixedReference, parseOdfRange, plainFormula } from './formula.ts';
import { addArea, isCollapsed, isUncomputed, MAX_AREAS, type OdfSheet } from './sheet-index.ts';
import type { CellStyle, OdfStyles } from './styles.ts';
import { type CellContent, runsOf, type TableVisitor } from './table-events.ts';

/** The cells of an area. */
export class Reading implements TableVisitor {
  readonly top: number;
  readonly bottom: number;
  readonly withContent = true;
  readonly cells: Cell[] = [];
  readonly merges: Area[] = [];
  readonly rows: { index: number; style: string | undefined; isHidden: boolean }[] = [];
  readonly mapped = new Map<string, Area[]>();
  onDone = () => {};
  private isHere = false;
  private rowStyle: string | undefined;

  constructor(
    private readonly sheet: OdfSheet,
    private readonly area: Area,
    private readonly look: boolean,
    private readonly styles: OdfStyles,
  ) {
    this.top = area.top;
    this.bottom = area.bottom;
  }

  table(name: string): boolean {
    this.isHere = name === this.sheet.name;
    return this.isHere;
  }

  row(from: number, to: number, attributes: Attributes): void {
    if (from > this.area.bottom) {
      this.onDone();
      return;
    }
    this.rowStyle = attributes['default-cell-style-name'];
    const isHidden = isCollapsed(attributes);
    const style = attributes['style-name'];
    for (let index = Math.max(from, this.top); index <= Math.min(to, this.bottom); index++) {
      this.rows.push({ index, style, isHidden });
    }
  }

  tableEnd(): void {
    this.onDone();
  }

  cell(
    row: { from: number; to: number },
    column: { from: number; to: number },
    attributes: Attributes,
    content: CellContent,
  ): void {
    const { area } = this;
    const [across, down] = [
      span(attributes, 'number-columns-spanned'),
      span(attributes, 'number-rows-spanned'),
    ];
    if (across > 1 || down > 1) {
      this.merges.push({
        top: row.from,
        left: column.from,
        bottom: row.from + down - 1,
        right: column.from + across - 1,
      });
    }
    const here = intersection(area, {
      top: row.from,
      bottom: row.to,
      left: column.from,
      right: column.to,
    });
    if (!here) return;
    const own = attributes['style-name'] ?? this.rowStyle;
    const value = rawValue(attributes, content);
    if (!value && !this.look) return;
    for (let r = here.top; r <= here.bottom; r++) {
      for (let c = here.left; c <= here.right; c++) {
        const name = own ?? this.columnStyle(c) ?? 'Default';
        const style = this.styles.cell(name);
        if (this.look && style.maps.length > 0) {
          const areas = this.mapped.get(name) ?? [];
          this.mapped.set(name, areas);
          if (areas.length < MAX_AREAS) addArea(areas, { top: r, bottom: r, left: c, right: c });
        }
        const cell = this.build(r, c, value, style, attributes, content);
        if (cell) this.cells.push(cell);
      }
    }
  }

  private columnStyle(column: number): string | undefined {
    return this.sheet.columns.find(({ from, to }) => column >= from && column <= to)?.cellStyle;
  }

  private build(
    row: number,
    column: number,
    raw: RawValue | null,
    style: CellStyle,
    attributes: Attributes,
    content: CellContent,
  ): Cell | null {
    if (!raw) {
      if (!style.isSeen) return null;
      return { row, column, type: 'blank', value: '', text: '', dress: style.dress };
    }
    const cell: Cell = { row, column, ...shown(raw, style, content.text) };
    if (attributes.formula) cell.formula = plainFormula(attributes.formula);
    if (style.code !== 'General') cell.format = style.code;
    if (!this.look) return cell;
    cell.dress = style.dress;
    const { letters } = this.styles.dresses[style.dress]!;
    const runs =
      cell.type === 'text'
        ? runsOf(content.spans, (name) => this.styles.textLetters(name, letters))
        : null;
    if (runs) cell.runs = runs;
    if (content.link)
      cell.link = content.link.startsWith('#') ? plainPlace(content.link) : content.link;
    if (content.note) cell.note = content.note;
    return cell;
  }
}

/** `#Counts.A1` as `#Counts!A1`. */
function plainPlace(link: string): string {
  const range = parseOdfRange(link.slice(1));
  return range ? `#${fixedReference(range).replaceAll('$', '')}` : link;
}

function span(attributes: Attributes, name: string): number {
  const number = Number(attributes[name] ?? 1);
  return Number.isFinite(number) && number > 1
    ? Math.min(Math.floor(number), name.includes('row') ? MAX_ROWS : MAX_COLUMNS)
    : 1;
}

/** What a cell says of its value. */
export type RawValue =
  | { type: 'number' | 'serial'; value: number }
  | { type: 'date'; iso: string }
  | { type: 'boolean'; value: boolean }
  | { type: 'text' | 'error' | 'uncomputed'; value: string };

const ERROR = /^(#(DIV\/0!|N\/A|NAME\?|NULL!|NUM!|REF!|VALUE!)|Err:\d+)$/;

/** The value that a cell's attributes give it (ODF 1.3 Part 3, 19.387 to 19.391); null for an empty cell. */
export function rawValue(attributes: Attributes, content: CellContent): RawValue | null {
  const type = attributes['value-type'];
  const { text } = content;
  // How errors are kept the standard leaves open: as what is shown, or named by an extension.
  if (
    attributes['calcext:value-type'] === 'error' ||
    (attributes.formula !== undefined && ERROR.test(text))
  ) {
    return { type: 'error', value: text || '#VALUE!' };
  }
  if (isUncomputed(attributes, text)) return { type: 'uncomputed', value: '' };
  switch (type) {
    case 'float':
    case 'percentage':
    case 'currency': {
      const value = Number(attributes.value);
      return attributes.value === undefined || Number.isNaN(value)
        ? asText(text)
        : { type: 'number', value };
    }
    case 'date': {
      const iso = attributes['date-value'] ?? '';
      const serial = isoToSerial(iso, '1900');
      if (Number.isNaN(serial)) return asText(text || iso);
      return { type: 'date', iso: serialToIso(serial, '1900') ?? iso };
    }
    case 'time': {
      const value = timeSerial(attributes['time-value'] ?? '');
      return value === null ? asText(text) : { type: 'serial', value };
    }
    case 'boolean':
      return { type: 'boolean', value: attributes['boolean-value'] === 'true' };
    default:
      return asText(text || attributes['string-value'] || '');
  }
}

function asText(text: string): RawValue | null {
  return text === '' ? null : { type: 'text', value: text };
}

/** A duration (`PT12H30M00S`) as a share of a day. */
function timeSerial(text: string): number | null {
  const match = /^(-)?P(?:(\d+)D)?T?(?:(\d+)H)?(?:(\d+)M)?(?:(\d+(?:[.,]\d+)?)S)?$/.exec(text);
  if (!match) return null;
  const [, sign, days = '0', hours = '0', minutes = '0', seconds = '0'] = match;
  const total = Number(hours) * 3_600 + Number(minutes) * 60 + Number(seconds.replace(',', '.'));
  const serial = Number(days) + total / 86_400;
  return sign ? -serial : serial;
}

/** Type, value and shown text: the text the file shows, made by the format where it shows none. */
function shown(
  raw: RawValue,
  { code, isDate }: CellStyle,
  text: string,
): Pick<Cell, 'type' | 'value' | 'text'> {
  switch (raw.type) {
    case 'number':
      return { type: 'number', value: raw.value, text: text || showNumber(raw.value, code) };
    case 'serial': {
      const iso = isDate ? serialToIso(raw.value, '1900') : null;
      const seen = text || showNumber(raw.value, code === 'General' ? 'hh:mm:ss' : code);
      return iso === null
        ? { type: 'number', value: raw.value, text: seen }
        : { type: 'date', value: iso, text: seen };
    }
    case 'date': {
      const serial = isoToSerial(raw.iso, '1900');
      return {
        type: 'date',
        value: raw.iso,
        text: text || (isDate ? showNumber(serial, code) : raw.iso),
      };
    }
    case 'boolean':
      return { type: 'boolean', value: raw.value, text: text || (raw.value ? 'TRUE' : 'FALSE') };
    case 'uncomputed':
      return { type: 'uncomputed', value: '', text: NOT_COMPUTED };
    default:
      return { type: raw.type, value: raw.value, text: raw.value };
  }
}
