import {
  type Area,
  type Cell,
  cutSnapshot,
  type DefinedName,
  fail,
  findSheet,
  MAX_ROWS,
  type Occupancy,
  OccupancyBuilder,
  ok,
  type Result,
  type SheetSummary,
  type Snapshot,
  type TableObject,
} from '@tether/core';
import { PackageFile } from '../package-file.ts';
import type { OpenSource } from '../source.ts';
import { XmlError } from '../xml.ts';
import { CellBuilder, type RawCell } from './cells.ts';
import { readRelationships } from './relationships.ts';
import { SharedStrings } from './shared-strings.ts';
import { readSheetEvents } from './sheet-events.ts';
import { columnBands, parseSheetFrame, rowBand, type SheetFrame } from './sheet-frame.ts';
import { OddSheet, SheetScan, type SheetVisitor } from './sheet-scan.ts';
import { parseStyles, type StylesPart } from './styles.ts';
import { readTables } from './tables.ts';
import { parseWorkbook, type WorkbookPart } from './workbook.ts';

/**
 * Opens a workbook in Office Open XML (ECMA-376, transitional and strict). `shownPath` is the name that faults use.
 * Faults: `source-missing`, `source-unreadable`, `source-empty`, `source-not-workbook`, `source-old-format`,
 * `source-password-protected`, `source-part-missing`, `source-damaged`, `source-too-large`.
 */
export async function openWorkbook(path: string, shownPath: string): Promise<Result<OpenSource>> {
  const file = await PackageFile.open(path, shownPath);
  if (!file.ok) return file;
  const opened = await guard(shownPath, () => Workbook.open(file.value, shownPath));
  if (!opened.ok) await file.value.close();
  return opened;
}

/** Stands in where a sheet's frame was not asked for. */
const EMPTY_FRAME: SheetFrame = {
  columnRuns: [],
  merges: [],
  defaults: { columnWidth: 0, rowHeight: 0, digitWidth: 0 },
};

class Workbook implements OpenSource {
  private styles: StylesPart | null = null;
  private readonly strings: SharedStrings;
  private readonly frames = new Map<string, SheetFrame>();
  private readonly occupancies = new Map<string, Occupancy>();
  private tables: TableObject[] | null = null;

  private constructor(
    private readonly file: PackageFile,
    private readonly shownPath: string,
    private readonly workbook: WorkbookPart,
    private readonly parts: { byId: Map<string, string>; byType: Map<string, string> },
  ) {
    this.strings = new SharedStrings(file, parts.byType.get('sharedStrings') ?? null);
  }

  static async open(file: PackageFile, shownPath: string): Promise<Result<OpenSource>> {
    const roots = await readRelationships(file, '');
    if (!roots.ok) return roots;
    const main = roots.value.find(({ type }) => type === 'officeDocument')?.target;
    if (!main) return fail('source-part-missing', { path: shownPath, part: 'the workbook part' });
    const bytes = await file.read(main);
    if (!bytes.ok) return bytes;
    const links = await readRelationships(file, main);
    if (!links.ok) return links;
    const inside = links.value.filter(({ external }) => !external);
    return ok(
      new Workbook(file, shownPath, parseWorkbook(bytes.value), {
        byId: new Map(inside.map(({ id, target }) => [id, target])),
        byType: new Map(inside.map(({ type, target }) => [type, target])),
      }),
    );
  }

  get sheets(): SheetSummary[] {
    return this.workbook.sheets.map(({ name, state }) => ({ name, state }));
  }

  get names(): DefinedName[] {
    return this.workbook.names;
  }

  async readArea(
    sheet: string,
    area: Area,
    { look = true }: { look?: boolean } = {},
  ): Promise<Result<Snapshot>> {
    const part = this.partOf(sheet);
    if (!part.ok) return part;
    return guard(this.shownPath, async () => {
      const styles = await this.loadStyles();
      if (!styles.ok) return styles;
      const raw: RawCell[] = [];
      const rowSizes: [number, string | undefined, string | undefined][] = [];
      const indexes = new Set<number>();
      const visitor: SheetVisitor = {
        top: area.top,
        bottom: area.bottom,
        restart() {
          raw.length = rowSizes.length = 0;
          indexes.clear();
        },
        row: (...told) => rowSizes.push(told),
        cell(row, column, style, type, value, formula) {
          if (column < area.left || column > area.right) return;
          raw.push({ row, column, style, type, value, formula });
          if (type === 's' && typeof value === 'number') indexes.add(value);
        },
      };
      const scanned = await this.scanSheet(part.value, visitor, look);
      if (!scanned.ok) return scanned;
      const strings = await this.strings.resolve(indexes);
      if (!strings.ok) return strings;
      const { dateSystem } = this.workbook;
      const builder = new CellBuilder(styles.value, strings.value, dateSystem, look);
      const cells: Cell[] = [];
      for (const each of raw) {
        const cell = builder.build(each);
        if (cell) cells.push(cell);
      }
      const frame = this.frames.get(part.value) ?? EMPTY_FRAME;
      const whole: Snapshot = {
        sheet: findSheet(this.workbook.sheets, sheet)!.name,
        area,
        cells,
        merges: frame.merges,
        columns: columnBands(frame, area),
        rows: look
          ? rowSizes.flatMap(
              ([row, height, hidden]) =>
                rowBand(row, height, hidden, frame.defaults.rowHeight) ?? [],
            )
          : [],
        dresses: styles.value.dresses,
        defaults: frame.defaults,
      };
      return ok(cutSnapshot(whole, area));
    });
  }

  async readOccupancy(sheet: string, until = MAX_ROWS): Promise<Result<Occupancy>> {
    const part = this.partOf(sheet);
    if (!part.ok) return part;
    const known = this.occupancies.get(part.value);
    if (known) return ok(known);
    return guard(this.shownPath, async () => {
      let builder = new OccupancyBuilder();
      const visitor: SheetVisitor = {
        top: 1,
        bottom: until,
        restart() {
          builder = new OccupancyBuilder();
        },
        cell(row, column, _style, _type, value) {
          if (value !== null && value !== '') builder.add(row, column);
        },
      };
      const scanned = await this.scanSheet(part.value, visitor, false);
      if (!scanned.ok) return scanned;
      const occupancy = builder.build();
      if (until >= MAX_ROWS) this.occupancies.set(part.value, occupancy);
      return ok(occupancy);
    });
  }

  async readTables(): Promise<Result<TableObject[]>> {
    if (this.tables) return ok(this.tables);
    return guard(this.shownPath, async () => {
      const tables: TableObject[] = [];
      for (const { name } of this.workbook.sheets) {
        const part = this.partOf(name);
        // A sheet whose part is missing says so when it is read itself.
        if (!part.ok) continue;
        const found = await readTables(this.file, name, part.value);
        if (!found.ok) return found;
        tables.push(...found.value);
      }
      this.tables = tables;
      return ok(tables);
    });
  }

  close(): Promise<void> {
    return this.file.close();
  }

  private partOf(sheet: string): Result<string> {
    const found = findSheet(this.workbook.sheets, sheet);
    if (!found) {
      const sheets = this.workbook.sheets.map((each) => each.name).join(', ');
      return fail('sheet-missing', { sheet, sheets });
    }
    const part = this.parts.byId.get(found.relationship);
    if (part) return ok(part);
    return fail('source-part-missing', {
      path: this.shownPath,
      part: `the part of sheet ${found.name}`,
    });
  }

  /** Lets the visitor see the wanted rows of a sheet part; with `withFrame` its frame is known afterwards. */
  private async scanSheet(
    part: string,
    visitor: SheetVisitor,
    withFrame: boolean,
  ): Promise<Result<null>> {
    const styles = await this.loadStyles();
    if (!styles.ok) return styles;
    const { normal } = styles.value;
    const needsFrame = withFrame && !this.frames.has(part);
    const scan = new SheetScan(visitor, needsFrame);
    try {
      const scanned = await this.file.scan(part, (piece) => scan.take(piece));
      if (!scanned.ok) return scanned;
      if (scan.isComplete) {
        if (needsFrame) {
          const around = Buffer.from(`${scan.head}<sheetData/>${scan.tail}`);
          this.frames.set(part, parseSheetFrame(around, normal));
        }
        return ok(null);
      }
    } catch (error) {
      if (!(error instanceof OddSheet)) throw error;
    }
    const bytes = await this.file.read(part);
    if (!bytes.ok) return bytes;
    visitor.restart();
    readSheetEvents(bytes.value, visitor);
    if (needsFrame) this.frames.set(part, parseSheetFrame(bytes.value, normal));
    return ok(null);
  }

  private async loadStyles(): Promise<Result<StylesPart>> {
    if (this.styles) return ok(this.styles);
    const styles = await this.optionalPart('styles');
    if (!styles.ok) return styles;
    const theme = await this.optionalPart('theme');
    if (!theme.ok) return theme;
    this.styles = parseStyles(styles.value, theme.value);
    return ok(this.styles);
  }

  /** A part the workbook may do without; one that is promised by a relationship must be there. */
  private async optionalPart(type: string): Promise<Result<Buffer | null>> {
    const part = this.parts.byType.get(type);
    return part === undefined ? ok(null) : this.file.read(part);
  }
}

/** Turns what a scan of malformed XML throws into a fault. */
async function guard<T>(path: string, work: () => Promise<Result<T>>): Promise<Result<T>> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof XmlError) {
      return fail('source-damaged', { path, detail: 'one of its parts is not well-formed XML' });
    }
    throw error;
  }
}
