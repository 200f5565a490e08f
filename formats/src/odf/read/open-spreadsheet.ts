import {
  type Area,
  type Band,
  chartName,
  columnName,
  cutSnapshot,
  type DefinedName,
  fail,
  findSheet,
  joinRowRuns,
  MAX_ROWS,
  type Occupancy,
  type Oddity,
  ok,
  type Result,
  type RowHeights,
  type RowRun,
  type SheetRules,
  type SheetSummary,
  type Snapshot,
  type SourceChart,
  type TableObject,
} from '@tether/core';
import { guard } from '../../package/guard.ts';
import { child, descendants, parseXml, type XmlElement } from '../../package/xml.ts';
import { countConditions, valuesOf, withConditions } from '../../rules/conditions.ts';
import type { OpenSource, SheetFormulas } from '../../source.ts';
import { readOdfChart } from './charts.ts';
import { formatsOfMaps } from './conditions.ts';
import { type Content, openFlat, openPacked, walk } from './content.ts';
import { parseOdfRange } from './formula.ts';
import { FormulaReading } from './formulas.ts';
import { Reading } from './reading.ts';
import { type Found, OccupancyWalk, type OdfSheet, SheetIndex } from './sheet-index.ts';
import { OdfStyles } from './styles.ts';
import { TableEvents } from './table-events.ts';

/** Height of a row about which nothing is said: that of ten-point letters (common practice). */
const USUAL_HEIGHT = 12.8;
const USUAL_WIDTH = 64;
/**
 * Opens an OpenDocument spreadsheet (ODF 1.3, ISO/IEC 26300), packed or flat. `shownPath` is the name that faults use.
 * Faults: those of `openWorkbook`.
 */
export async function openSpreadsheet(
  path: string,
  shownPath: string,
  { isFlat = /\.fods$/i.test(shownPath) } = {},
): Promise<Result<OpenSource>> {
  const content = isFlat ? await openFlat(path, shownPath) : await openPacked(path, shownPath);
  if (!content.ok) return content;
  const opened = await guard(shownPath, () => Spreadsheet.open(content.value, shownPath));
  if (!opened.ok) await content.value.close();
  return opened;
}

/** Of a file longer than this the rows are read only when something of them is asked for. */
const LONG = 4 << 20;

function eventsOf(index: SheetIndex): TableEvents {
  return new TableEvents(index, (frame, at) => index.frame(frame, at));
}

class Spreadsheet implements OpenSource {
  private tables: TableObject[] | null = null;

  private constructor(
    private readonly content: Content,
    private readonly shownPath: string,
    private readonly styles: OdfStyles,
    private all: OdfSheet[],
    private readonly found: Found,
  ) {}

  static async open(content: Content, shownPath: string): Promise<Result<OpenSource>> {
    const styles = new OdfStyles();
    const part = await content.part('styles.xml');
    if (!part.ok) return part;
    if (part.value) addStyles(styles, parseXml(part.value));
    const index = new SheetIndex(styles, content.size > LONG);
    const walked = await walk(content, eventsOf(index));
    if (!walked.ok) return walked;
    if (index.sheets.length === 0) return fail('source-not-workbook', { path: shownPath });
    return ok(new Spreadsheet(content, shownPath, styles, index.sheets, index));
  }

  get sheets(): SheetSummary[] {
    return this.all.map(({ name, state }) => ({ name, state }));
  }

  get names(): DefinedName[] {
    return this.found.names;
  }

  async readArea(sheet: string, area: Area, { look = true } = {}): Promise<Result<Snapshot>> {
    const bare = await this.readCells(sheet, area, look);
    if (!bare.ok || !look) return bare.ok ? ok(bare.value.snapshot) : bare;
    const { snapshot, mapped } = bare.value;
    const formats = [
      ...this.sheetNamed(snapshot.sheet)!.conditions,
      ...[...mapped].flatMap(([name, areas]) =>
        formatsOfMaps(this.styles.cell(name).maps, areas, this.styles),
      ),
    ];
    return guard(this.shownPath, () =>
      withConditions(snapshot, formats, this.names, async (other, wanted) => {
        const read = await this.readCells(other, wanted, false);
        return read.ok ? ok(valuesOf(read.value.snapshot)) : read;
      }),
    );
  }

  /** The cells of an area, and by their style the areas of those whose style has conditions. */
  private async readCells(
    sheet: string,
    area: Area,
    look: boolean,
  ): Promise<Result<{ snapshot: Snapshot; mapped: Map<string, Area[]> }>> {
    const found = this.sheetNamed(sheet);
    if (!found) return this.missing(sheet);
    return guard(this.shownPath, async () => {
      const reading = new Reading(found, area, look, this.styles);
      const events = new TableEvents(reading);
      reading.onDone = () => {
        events.isDone = true;
      };
      const walked = await walk(this.content, events);
      if (!walked.ok) return walked;
      const { digitWidth } = this.styles;
      const usual = widest(found.columns);
      const pixels = (style: string | undefined) =>
        Math.round(((this.styles.size('table-column', style) ?? USUAL_WIDTH * 0.75) * 96) / 72);
      const width = (style: string | undefined) => Number((pixels(style) / digitWidth).toFixed(4));
      const columnWidth = width(usual?.style);
      const rowHeight = USUAL_HEIGHT;
      const columns = found.columns.flatMap(({ from, to, style, isHidden }): Band[] => {
        const size = width(style);
        if (size === columnWidth && !isHidden) return [];
        const bands: Band[] = [];
        for (let index = Math.max(from, area.left); index <= Math.min(to, area.right); index++) {
          bands.push({
            index,
            ...(size === columnWidth ? {} : { size }),
            ...(isHidden ? { hidden: true } : {}),
          });
        }
        return bands;
      });
      const rows = reading.rows.flatMap(({ index, style, isHidden }): Band[] => {
        const differs = this.differingRow(style, isHidden, rowHeight);
        return differs ? [{ index, ...differs }] : [];
      });
      const whole: Snapshot = {
        sheet: found.name,
        area,
        cells: reading.cells,
        merges: reading.merges,
        columns: look ? columns : [],
        rows: look ? rows : [],
        dresses: this.styles.dresses,
        defaults: look
          ? { columnWidth, rowHeight, digitWidth }
          : { columnWidth: 0, rowHeight: 0, digitWidth: 0 },
      };
      return ok({ snapshot: cutSnapshot(whole, area), mapped: reading.mapped });
    });
  }

  /** What a row has that is not usual; null for one that has nothing. */
  private differingRow(
    style: string | undefined,
    isHidden: boolean,
    usual: number,
  ): Pick<RowRun, 'size' | 'hidden'> | null {
    const size = this.rowHeight(style);
    if (size === usual && !isHidden) return null;
    return { ...(size === usual ? {} : { size }), ...(isHidden ? { hidden: true } : {}) };
  }

  private rowHeight(style: string | undefined): number {
    return round(this.styles.size('table-row', style) ?? USUAL_HEIGHT);
  }

  async readRows(sheet: string): Promise<Result<RowHeights>> {
    const occupancy = await this.readOccupancy(sheet);
    if (!occupancy.ok) return occupancy;
    const { rows } = this.sheetNamed(sheet)!;
    // Every row names its height here: that of most rows is the usual one.
    const most = widest(rows);
    const usual = most ? this.rowHeight(most.style) : USUAL_HEIGHT;
    const runs = rows.flatMap(({ from, to, style, isHidden }) => {
      const differs = this.differingRow(style, isHidden, usual);
      return differs ? [{ from, to, ...differs }] : [];
    });
    return ok({ usual, runs: joinRowRuns(runs) });
  }

  readonly dateSystem = '1900';

  async readFormulas(sheet: string): Promise<Result<SheetFormulas>> {
    const found = this.sheetNamed(sheet);
    if (!found) return this.missing(sheet);
    return guard(this.shownPath, async () => {
      const reading = new FormulaReading(found.name);
      const events = new TableEvents(reading);
      reading.onDone = () => {
        events.isDone = true;
      };
      const walked = await walk(this.content, events);
      const { cells, arrays, isCut } = reading;
      return walked.ok ? ok({ cells, arrays, isCut }) : walked;
    });
  }

  async hasFormulas(): Promise<Result<boolean>> {
    return ok(true);
  }

  async readOccupancy(sheet: string, until = MAX_ROWS): Promise<Result<Occupancy>> {
    const found = this.sheetNamed(sheet);
    if (!found) return this.missing(sheet);
    if (found.occupancy) return ok(found.occupancy);
    return guard(this.shownPath, async () => {
      if (until >= MAX_ROWS) {
        const walked = await this.walkRows();
        return walked.ok ? ok(this.sheetNamed(sheet)!.occupancy!) : walked;
      }
      const visitor = new OccupancyWalk(found.name, until);
      const events = new TableEvents(visitor);
      visitor.onDone = () => {
        events.isDone = true;
      };
      const walked = await walk(this.content, events);
      return walked.ok ? ok(visitor.builder.build()) : walked;
    });
  }

  /** Walks through all rows of a long file, once, for what was left out when it was opened. */
  private async walkRows(): Promise<Result<null>> {
    if (this.all.every(({ occupancy }) => occupancy !== null)) return ok(null);
    const index = new SheetIndex(new OdfStyles());
    const walked = await walk(this.content, eventsOf(index));
    if (!walked.ok) return walked;
    this.all = this.all.map((sheet, at) => {
      const { occupancy, rows, validations, frames } = index.sheets[at] ?? sheet;
      return { ...sheet, occupancy, rows, validations, frames };
    });
    return ok(null);
  }

  async readTables(): Promise<Result<TableObject[]>> {
    if (this.tables) return ok(this.tables);
    const tables: TableObject[] = [];
    for (const { name, sheet, area, headerRows } of this.found.databases) {
      const bounded = { ...area, bottom: area.top, right: Math.min(area.right, area.left + 999) };
      const header = headerRows === 0 ? null : await this.readArea(sheet, bounded, { look: false });
      if (header && !header.ok) continue;
      const texts = new Map(header?.value.cells.map(({ column, text }) => [column, text]));
      const columns: string[] = [];
      for (let column = bounded.left; column <= bounded.right; column++) {
        columns.push(texts.get(column) ?? columnName(column));
      }
      tables.push({ name, sheet, area, headerRows, totalsRows: 0, columns });
    }
    this.tables = tables;
    return ok(tables);
  }

  async readCharts(): Promise<Result<SourceChart[]>> {
    return guard(this.shownPath, async () => {
      const rows = await this.walkRows();
      if (!rows.ok) return rows;
      const charts: SourceChart[] = [];
      for (const sheet of this.all) {
        let count = 0;
        const places = [
          ...sheet.frames,
          ...sheet.shapes.flatMap((shapes) =>
            descendants(shapes, 'frame').map((frame) => ({ frame, row: 0, column: 0 })),
          ),
        ];
        for (const { frame, row, column } of places) {
          const object = child(frame, 'object');
          if (!object) continue;
          const content = await this.objectOf(object);
          if (!content.ok) return content;
          const chart = content.value && readOdfChart(content.value);
          if (!chart) continue;
          count++;
          const end = parseOdfRange(frame.attributes['end-cell-address'] ?? '')?.area;
          charts.push({
            id: `${sheet.name}/${count}`,
            name: chartName(chart.title, frame.attributes.name, count),
            sheet: sheet.name,
            place: row > 0 ? placeOf({ row, column }, end) : null,
            ...chart,
          });
        }
      }
      return ok(charts);
    });
  }

  /** The content of an object within the document: a part of the package, or standing in the object itself. */
  private async objectOf(object: XmlElement): Promise<Result<XmlElement | null>> {
    const inline = child(object, 'document');
    if (inline) return ok(inline);
    const target = (object.attributes.href ?? '').replace(/^\.\//, '');
    if (target === '' || target.startsWith('..') || target.includes(':')) return ok(null);
    const part = await this.content.part(`${target}/content.xml`);
    if (!part.ok) return part;
    return ok(part.value && parseXml(part.value));
  }

  async readRules(sheet: string): Promise<Result<SheetRules>> {
    if (!this.sheetNamed(sheet)) return this.missing(sheet);
    const rows = await guard(this.shownPath, () => this.walkRows());
    if (!rows.ok) return rows;
    const found = this.sheetNamed(sheet)!;
    return ok({
      protection: { isProtected: found.isProtected, hasPassword: found.hasPassword },
      validations: [...found.validations].flatMap(([name, areas]) => {
        const rule = this.found.validations.get(name);
        return rule ? [{ ...rule, areas }] : [];
      }),
      conditions: countConditions(found.conditions),
      oddities: [],
    });
  }

  odditiesOf(): readonly Oddity[] {
    return [];
  }

  close(): Promise<void> {
    return this.content.close();
  }

  private sheetNamed(name: string): OdfSheet | undefined {
    return findSheet(this.all, name);
  }

  private missing(sheet: string) {
    return fail('sheet-missing', { sheet, sheets: this.all.map(({ name }) => name).join(', ') });
  }
}

function addStyles(styles: OdfStyles, root: XmlElement): void {
  for (const name of ['font-face-decls', 'styles', 'automatic-styles']) {
    const element = child(root, name);
    if (element) styles.add(element);
  }
}

function placeOf(from: { row: number; column: number }, end: Area | undefined): Area {
  return {
    top: from.row,
    left: from.column,
    bottom: Math.max(from.row, end?.top ?? from.row + 14),
    right: Math.max(from.column, end?.left ?? from.column + 7),
  };
}

function widest<T extends { from: number; to: number }>(runs: readonly T[]): T | undefined {
  return runs.reduce<T | undefined>(
    (most, each) => (!most || each.to - each.from > most.to - most.from ? each : most),
    undefined,
  );
}

function round(size: number): number {
  return Number(size.toFixed(2));
}
