import {
  type Area,
  applyTableStyles,
  type Cell,
  cutSnapshot,
  type DateSystem,
  type DefinedName,
  FormulaError,
  fail,
  findSheet,
  formatArea,
  holds,
  intersection,
  isoToSerial,
  MAX_ROWS,
  type Occupancy,
  OccupancyBuilder,
  type Oddity,
  ok,
  type Result,
  type RowHeights,
  type SheetRules,
  type SheetSummary,
  type Snapshot,
  type SourceChart,
  type StyledTable,
  SYSTEMS_APART,
  type TableObject,
} from '@tether/core';
import { guard } from '../../package/guard.ts';
import { PackageFile } from '../../package/package-file.ts';
import { countConditions, SheetValues, withConditions } from '../../rules/conditions.ts';
import type { OpenSource, SheetFormulas } from '../../source.ts';
import { readCharts } from './charts.ts';
import { arrayFormulasIn, FormulaReading, FormulaSearch } from './formulas.ts';
import { KnownWorkbook } from './known-workbook.ts';
import { placeKey, readNotes } from './notes.ts';
import { type Relationship, readRelationships, relationshipsOf } from './relationships.ts';
import { SharedStrings } from './shared-strings.ts';
import { CellBuilder, isUncomputed, numberDresses } from './sheet/cells.ts';
import { CellOrder, inOrder, OddCells } from './sheet/odd-cells.ts';
import { SharedFormulas, WaitingCell } from './sheet/shared-formulas.ts';
import { readSheetEvents } from './sheet/sheet-events.ts';
import {
  columnBands,
  EMPTY_FRAME,
  parseSheetFrame,
  type RowSize,
  rowBand,
  rowHeights,
  type SheetFrame,
} from './sheet/sheet-frame.ts';
import { OddSheet, SheetScan, type SheetVisitor } from './sheet/sheet-scan.ts';
import { parseStyles, type StylesPart } from './styles.ts';
import { readTables, type SheetTable } from './tables.ts';
import { unescapeText } from './text.ts';
import { parseWorkbook, type WorkbookPart } from './workbook.ts';

/**
 * Opens a workbook in Office Open XML (ECMA-376, transitional and strict). `shownPath` is the name that faults use. With
 * the `hash` of the file's bytes, what stands around the cells of its sheets is looked for once, however often the same
 * file is opened.
 * Faults: `source-missing`, `source-unreadable`, `source-empty`, `source-not-workbook`, `source-old-format`,
 * `source-password-protected`, `source-part-missing`, `source-damaged`, `source-too-large`.
 */
export async function openWorkbook(
  path: string,
  shownPath: string,
  { isBrowsed = false, hash = null }: { isBrowsed?: boolean; hash?: string | null } = {},
): Promise<Result<OpenSource>> {
  const file = await PackageFile.open(path, shownPath);
  if (!file.ok) return file;
  file.value.keepsUnpacked = isBrowsed;
  const opened = await guard(shownPath, () => Workbook.open(file.value, shownPath, hash));
  if (!opened.ok) await file.value.close();
  return opened;
}

/** More values than this are read anew each time they are looked at. */
const MAX_REMEMBERED = 500_000;

/** The parts that the workbook part leads to. */
interface MainParts {
  byId: Map<string, Relationship>;
  byType: Map<string, string>;
}

/** What every opening reads first. */
interface MainPart {
  workbook: WorkbookPart;
  parts: MainParts;
}

class Workbook implements OpenSource {
  private styles: StylesPart | null = null;
  private readonly strings: SharedStrings;
  private readonly occupancies = new Map<string, Occupancy>();
  private readonly rows = new Map<string, RowHeights>();
  private readonly odd = new Map<string, OddCells>();
  private readonly tables = new Map<string, Promise<Result<SheetTable[]>>>();
  /** Up to where a sheet that is kept unpacked was read last. */
  private readonly passed = new Map<string, { row: number; at: number }>();
  /** What conditional formats looked at last, by sheet part and area. */
  private readonly lookedAt = new Map<string, SheetValues>();

  private constructor(
    private readonly file: PackageFile,
    private readonly shownPath: string,
    private readonly workbook: WorkbookPart,
    private readonly parts: MainParts,
    private readonly known: KnownWorkbook,
  ) {
    this.strings = new SharedStrings(file, parts.byType.get('sharedStrings') ?? null);
  }

  static async open(
    file: PackageFile,
    shownPath: string,
    hash: string | null,
  ): Promise<Result<OpenSource>> {
    const known = new KnownWorkbook(hash, (part) => file.markOf(part));
    const main = known.recall<MainPart>('main part');
    if (main) return ok(new Workbook(file, shownPath, main.workbook, main.parts, known));
    const roots = await readRelationships(file, '');
    if (!roots.ok) return roots;
    const part = roots.value.find(({ type }) => type === 'officeDocument')?.target;
    if (!part) return fail('source-part-missing', { path: shownPath, part: 'the workbook part' });
    const bytes = await file.read(part);
    if (!bytes.ok) return bytes;
    const links = await readRelationships(file, part);
    if (!links.ok) return links;
    const inside = links.value.filter(({ external }) => !external);
    const read: MainPart = {
      workbook: parseWorkbook(bytes.value),
      parts: {
        byId: new Map(inside.map((link) => [link.id, link])),
        byType: new Map(inside.map(({ type, target }) => [type, target])),
      },
    };
    known.remember('main part', [relationshipsOf(''), part, relationshipsOf(part)], read);
    return ok(new Workbook(file, shownPath, read.workbook, read.parts, known));
  }

  get sheets(): SheetSummary[] {
    return this.workbook.sheets
      .filter((sheet) => this.hasCells(sheet.relationship))
      .map(({ name, state }) => ({ name, state }));
  }

  /** Sheets that are a chart, a dialogue or a program have no cells. */
  private hasCells(relationship: string): boolean {
    const type = this.parts.byId.get(relationship)?.type;
    return type === undefined || type === 'worksheet';
  }

  get names(): DefinedName[] {
    return this.workbook.names;
  }

  async readArea(
    sheet: string,
    area: Area,
    { look = true }: { look?: boolean } = {},
  ): Promise<Result<Snapshot>> {
    const bare = await this.readCells(sheet, area, look);
    if (!bare.ok || !look) return bare;
    const part = this.partOf(sheet);
    if (!part.ok) return part;
    return guard(this.shownPath, async () => {
      const frame = this.known.frameOf(part.value) ?? EMPTY_FRAME;
      const styled = await this.withTableStyles(bare.value, part.value);
      if (!styled.ok) return styled;
      const marked = await this.withMarks(styled.value, part.value, frame);
      if (!marked.ok) return marked;
      return withConditions(marked.value, frame.conditions, this.names, (other, wanted) =>
        this.readValues(other, wanted),
      );
    });
  }

  /** The cells of an area, without what conditional formats, links and notes add to them. */
  private async readCells(sheet: string, area: Area, look: boolean): Promise<Result<Snapshot>> {
    const part = this.partOf(sheet);
    if (!part.ok) return part;
    return guard(this.shownPath, async () => {
      const styles = await this.loadStyles();
      if (!styles.ok) return styles;
      const rich = look ? this.strings.rich : new Map<number, string>();
      const { dateSystem } = this.workbook;
      const builder = new CellBuilder(styles.value, this.strings.known, dateSystem, look, rich);
      // Most cells are built as they come; those that need a shared string or formula wait, their place kept free.
      const found: (Cell | null)[] = [];
      const waiting: WaitingCell[] = [];
      const rowSizes: RowSize[] = [];
      const indexes = new Set<number>();
      const formulas = new SharedFormulas();
      const odd = this.oddIn(part.value);
      let order = new CellOrder(odd);
      const visitor: SheetVisitor = {
        top: area.top,
        bottom: area.bottom,
        restart() {
          found.length = waiting.length = rowSizes.length = 0;
          order = new CellOrder(odd);
          indexes.clear();
          formulas.clear();
        },
        row: (...told) => rowSizes.push(told),
        cell(row, column, style, type, value, formula, shared) {
          if (shared !== null && formula) formulas.add(shared, formula, row, column);
          order.add(row, column, type, value);
          if (column < area.left || column > area.right) return;
          if (type === 'n' && typeof value === 'number' && (shared === null || formula)) {
            found.push(builder.buildNumber(row, column, style, value, formula));
            return;
          }
          if (type === 's' && typeof value === 'number') indexes.add(value);
          if (type === 's' || (shared !== null && !formula)) {
            const raw = { row, column, style, type, value, formula };
            waiting.push(new WaitingCell(raw, shared, found.push(null) - 1));
            return;
          }
          const cell = builder.build({ row, column, style, type, value, formula });
          if (cell) found.push(cell);
        },
      };
      const scanned = await this.scanSheet(part.value, visitor, look);
      if (!scanned.ok) return scanned;
      const strings = await this.strings.resolve(indexes);
      if (!strings.ok) return strings;
      const isUnknown = waiting.some((cell) => cell.lacksFormula && !formulas.has(cell.shared!));
      if (isUnknown && area.top > 1) {
        const above = formulas.visitorUntil(area.top - 1);
        const before = await this.scanSheet(part.value, above, false);
        if (!before.ok) return before;
      }
      for (const cell of waiting) {
        const { raw, shared, at } = cell;
        if (cell.lacksFormula) raw.formula = formulas.at(shared!, raw);
        found[at] = builder.build(raw);
      }
      const cells = found.includes(null)
        ? found.filter((cell) => cell !== null)
        : (found as Cell[]);
      const frame = this.known.frameOf(part.value) ?? EMPTY_FRAME;
      const whole: Snapshot = {
        sheet: findSheet(this.workbook.sheets, sheet)!.name,
        area,
        cells: [],
        merges: frame.merges,
        columns: columnBands(frame, area),
        rows: look
          ? rowSizes.flatMap(
              ([row, height, hidden]) =>
                rowBand(row, height, hidden, frame.defaults.rowHeight) ?? [],
            )
          : [],
        dresses: [],
        defaults: frame.defaults,
      };
      const ordered = order.isBroken ? inOrder(cells, odd) : cells;
      const dresses = numberDresses(ordered, styles.value.dresses);
      return ok({ ...cutSnapshot(whole, area), cells: ordered, dresses });
    });
  }

  /** Nothing but the values of an area, as formulas see them. */
  private async readValues(sheet: string, area: Area): Promise<Result<SheetValues>> {
    const part = this.partOf(sheet);
    if (!part.ok) return part;
    const styles = await this.loadStyles();
    if (!styles.ok) return styles;
    const key = `${part.value} ${formatArea(area)}`;
    const known = this.lookedAt.get(key);
    if (known) return ok(known);
    const { formats } = styles.value;
    const apart = this.workbook.dateSystem === '1904' ? SYSTEMS_APART : 0;
    let values = new SheetValues();
    let texts: { row: number; column: number; index: number }[] = [];
    const visitor: SheetVisitor = {
      top: area.top,
      bottom: area.bottom,
      restart() {
        values = new SheetValues();
        texts = [];
      },
      cell(row, column, style, type, value) {
        if (column < area.left || column > area.right || value === null || value === '') return;
        if (type === 's') texts.push({ row, column, index: Number(value) });
        else if (type === 'b') values.add(row, column, value === '1' || value === 'true');
        else if (type === 'e') values.add(row, column, new FormulaError(String(value)));
        else if (type === 'd') values.add(row, column, isoToSerial(String(value), '1900'));
        else if (typeof value === 'number' && apart > 0 && formats[style]?.isDate) {
          values.add(row, column, value + apart);
        } else values.add(row, column, typeof value === 'string' ? unescapeText(value) : value);
      },
    };
    const scanned = await this.scanSheet(part.value, visitor, false);
    if (!scanned.ok) return scanned;
    const strings = await this.strings.resolve(new Set(texts.map(({ index }) => index)));
    if (!strings.ok) return strings;
    for (const { row, column, index } of texts) {
      const text = strings.value.get(index);
      if (text) values.add(row, column, text);
    }
    if (values.cells.size <= MAX_REMEMBERED) {
      if (this.lookedAt.size >= 4) this.lookedAt.clear();
      this.lookedAt.set(key, values);
    }
    return ok(values);
  }

  private tablesOf(sheet: string, part: string): Promise<Result<SheetTable[]>> {
    const known = this.tables.get(part) ?? readTables(this.file, sheet, part);
    this.tables.set(part, known);
    return known;
  }

  /** The snapshot as the styles of its table objects dress it. */
  private async withTableStyles(snapshot: Snapshot, part: string): Promise<Result<Snapshot>> {
    const styles = await this.loadStyles();
    if (!styles.ok) return styles;
    const tables = await guard(this.shownPath, () => this.tablesOf(snapshot.sheet, part));
    // A table whose part cannot be read leaves its cells as they are: they are what counts.
    if (!tables.ok) return ok(snapshot);
    const styled = tables.value.flatMap(({ look, area, headerRows, totalsRows }): StyledTable[] => {
      const style = look && styles.value.tableStyle(look.style);
      return look && style ? [{ ...look, style, area, headerRows, totalsRows }] : [];
    });
    return ok(applyTableStyles(snapshot, styled));
  }

  /** The snapshot with the links and notes of its cells. */
  private async withMarks(
    snapshot: Snapshot,
    part: string,
    frame: SheetFrame,
  ): Promise<Result<Snapshot>> {
    const links = await readRelationships(this.file, part);
    if (!links.ok) return links;
    const notes = await readNotes(this.file, links.value);
    if (!notes.ok) return notes;
    const leading = frame.links.filter(({ area }) => intersection(area, snapshot.area));
    if (notes.value.size === 0 && leading.length === 0) return ok(snapshot);
    const targets = new Map(links.value.map(({ id, target }) => [id, target]));
    // Nearly all links are of one cell; a sheet may have one for each.
    const isOne = ({ area }: SheetFrame['links'][number]) =>
      area.top === area.bottom && area.left === area.right;
    const ofOne = new Map(
      leading.filter(isOne).map((link) => [placeKey(link.area.top, link.area.left), link]),
    );
    const ofMany = leading.filter((link) => !isOne(link));
    const cells = snapshot.cells.map((cell) => {
      const note = notes.value.get(placeKey(cell.row, cell.column));
      const link =
        ofOne.get(placeKey(cell.row, cell.column)) ?? ofMany.find(({ area }) => holds(area, cell));
      const target = link?.relationship == null ? undefined : targets.get(link.relationship);
      const address = target ?? (link?.place ? `#${link.place}` : undefined);
      if (note === undefined && address === undefined) return cell;
      return { ...cell, ...(address ? { link: address } : {}), ...(note ? { note } : {}) };
    });
    return ok({ ...snapshot, cells });
  }

  get dateSystem(): DateSystem {
    return this.workbook.dateSystem;
  }

  async readFormulas(sheet: string): Promise<Result<SheetFormulas>> {
    const part = this.partOf(sheet);
    if (!part.ok) return part;
    return guard<SheetFormulas>(this.shownPath, async () => {
      const reading = new FormulaReading();
      const scanned = await this.scanSheet(part.value, reading, false);
      if (!scanned.ok) return scanned;
      const strings = await this.strings.resolve(reading.indexes);
      if (!strings.ok) return strings;
      if (reading.isCut) return ok({ cells: [], arrays: [], isCut: true });
      const bytes = await this.file.read(part.value);
      if (!bytes.ok) return bytes;
      const cells = reading.cells(strings.value);
      return ok({ cells, arrays: arrayFormulasIn(bytes.value), isCut: reading.isCut });
    });
  }

  async hasFormulas(): Promise<Result<boolean>> {
    return guard(this.shownPath, async () => {
      for (const { relationship } of this.workbook.sheets) {
        const part = this.parts.byId.get(relationship);
        if (part?.type !== 'worksheet') continue;
        const search = new FormulaSearch();
        const scanned = await this.file.scan(part.target, (piece) => search.take(piece));
        if (!scanned.ok) return scanned;
        if (search.isFound) return ok(true);
      }
      return ok(false);
    });
  }

  async readOccupancy(sheet: string, until = MAX_ROWS): Promise<Result<Occupancy>> {
    const part = this.partOf(sheet);
    if (!part.ok) return part;
    const known = this.occupancies.get(part.value);
    if (known) return ok(known);
    return guard(this.shownPath, async () => {
      let builder = new OccupancyBuilder();
      let sizes: RowSize[] = [];
      const visitor: SheetVisitor = {
        top: 1,
        bottom: until,
        restart() {
          builder = new OccupancyBuilder();
          sizes = [];
        },
        row: (...told) => void sizes.push(told),
        cell(row, column, _style, type, value, formula, shared) {
          const isFilled = value !== null && value !== '';
          if (isFilled || isUncomputed(type, value, formula, shared)) builder.add(row, column);
        },
      };
      // Whoever reads to the end meets what stands there.
      const scanned = await this.scanSheet(part.value, visitor, until >= MAX_ROWS);
      if (!scanned.ok) return scanned;
      const occupancy = builder.build();
      if (until >= MAX_ROWS) {
        const frame = this.known.frameOf(part.value) ?? EMPTY_FRAME;
        this.occupancies.set(part.value, occupancy);
        this.rows.set(part.value, rowHeights(frame, sizes));
      }
      return ok(occupancy);
    });
  }

  async readRows(sheet: string): Promise<Result<RowHeights>> {
    const occupancy = await this.readOccupancy(sheet);
    if (!occupancy.ok) return occupancy;
    const part = this.partOf(sheet);
    return part.ok ? ok(this.rows.get(part.value)!) : part;
  }

  async readTables(): Promise<Result<TableObject[]>> {
    return guard(this.shownPath, async () => {
      const tables: TableObject[] = [];
      for (const { name } of this.workbook.sheets) {
        const part = this.partOf(name);
        // A sheet whose part is missing says so when it is read itself.
        if (!part.ok) continue;
        const found = await this.tablesOf(name, part.value);
        if (!found.ok) return found;
        tables.push(...found.value.map(({ look: _, ...table }) => table));
      }
      return ok(tables);
    });
  }

  async readCharts(): Promise<Result<SourceChart[]>> {
    return guard(this.shownPath, async () => {
      const styles = await this.loadStyles();
      if (!styles.ok) return styles;
      const charts: SourceChart[] = [];
      for (const { name, relationship } of this.workbook.sheets) {
        const part = this.parts.byId.get(relationship);
        if (!part || !['worksheet', 'chartsheet'].includes(part.type)) continue;
        const links = await readRelationships(this.file, part.target);
        if (!links.ok) return links;
        for (const { type, target, external } of links.value) {
          if (type !== 'drawing' || external) continue;
          const hasCells = part.type === 'worksheet';
          const { palette } = styles.value;
          const found = await readCharts(this.file, target, name, hasCells, palette);
          if (!found.ok) return found;
          charts.push(...found.value);
        }
      }
      return ok(charts);
    });
  }

  async readRules(sheet: string): Promise<Result<SheetRules>> {
    const part = this.partOf(sheet);
    if (!part.ok) return part;
    return guard(this.shownPath, async () => {
      const nothing: SheetVisitor = { top: MAX_ROWS, bottom: MAX_ROWS, restart() {}, cell() {} };
      const scanned = this.known.frameOf(part.value)
        ? ok(null)
        : await this.scanSheet(part.value, nothing, true);
      if (!scanned.ok) return scanned;
      const { protection, validations, conditions } = this.known.frameOf(part.value) ?? EMPTY_FRAME;
      return ok({
        protection,
        validations,
        conditions: countConditions(conditions),
        oddities: [...this.odditiesOf(sheet)],
      });
    });
  }

  odditiesOf(sheet: string): readonly Oddity[] {
    const part = this.partOf(sheet);
    return part.ok ? this.oddIn(part.value).all : [];
  }

  private oddIn(part: string): OddCells {
    const known = this.odd.get(part) ?? new OddCells();
    this.odd.set(part, known);
    return known;
  }

  close(): Promise<void> {
    return this.file.close();
  }

  private partOf(sheet: string): Result<string> {
    const found = findSheet(this.workbook.sheets, sheet);
    if (!found || !this.hasCells(found.relationship)) {
      return fail('sheet-missing', {
        sheet,
        sheets: this.sheets.map((each) => each.name).join(', '),
      });
    }
    const part = this.parts.byId.get(found.relationship);
    if (part) return ok(part.target);
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
    const needsFrame = withFrame && this.known.frameOf(part) === undefined;
    let scan = new SheetScan(visitor, needsFrame);
    let from = 0;
    try {
      const known = this.file.kept(part);
      const passed = this.passed.get(part);
      if (known && passed && passed.row < visitor.top && !needsFrame) {
        // The rows before these were passed over already; most often somebody scrolls down.
        scan = SheetScan.after(visitor, passed.row);
        from = passed.at;
        scan.take(known.subarray(from));
      } else {
        const scanned = await this.file.scan(part, (piece) => scan.take(piece));
        if (!scanned.ok) return scanned;
      }
      if (this.file.kept(part) && scan.passed.row > 0) {
        this.passed.set(part, { row: scan.passed.row, at: from + scan.passed.at });
      }
      if (scan.isComplete) {
        if (needsFrame) {
          const around = Buffer.from(`${scan.head}<sheetData/>${scan.tail}`);
          this.known.setFrame(part, parseSheetFrame(around, styles.value));
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
    if (needsFrame) this.known.setFrame(part, parseSheetFrame(bytes.value, styles.value));
    return ok(null);
  }

  private async loadStyles(): Promise<Result<StylesPart>> {
    this.styles ??= this.known.recall<StylesPart>('styles') ?? null;
    if (this.styles) return ok(this.styles);
    const styles = await this.optionalPart('styles');
    if (!styles.ok) return styles;
    const theme = await this.optionalPart('theme');
    if (!theme.ok) return theme;
    this.styles = parseStyles(styles.value, theme.value);
    const parts = ['styles', 'theme'].flatMap((type) => this.parts.byType.get(type) ?? []);
    this.known.remember('styles', parts, this.styles);
    return ok(this.styles);
  }

  /** A part the workbook may do without; one that is promised by a relationship must be there. */
  private async optionalPart(type: string): Promise<Result<Buffer | null>> {
    const part = this.parts.byType.get(type);
    return part === undefined ? ok(null) : this.file.read(part);
  }
}
