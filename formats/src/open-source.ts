import {
  type Area,
  type Band,
  cutSnapshot,
  type DefinedName,
  fail,
  filledArea,
  findSheet,
  ok,
  type Result,
  type SheetSummary,
  type Snapshot,
} from '@tether/core';
import { readRelationships } from './ooxml/relationships.ts';
import { parseStyles, type StylesPart } from './ooxml/styles.ts';
import { parseSharedStrings } from './ooxml/text.ts';
import { parseWorkbook, type WorkbookPart } from './ooxml/workbook.ts';
import { type ParsedSheet, parseWorksheet } from './ooxml/worksheet.ts';
import { PackageFile } from './package-file.ts';
import { XmlError } from './xml.ts';

/** A source opened for reading. Everything asked of one opening comes from the same state of the file. */
export interface OpenSource {
  sheets: SheetSummary[];
  names: DefinedName[];
  /** What `area` of a sheet holds and how it looks. Faults: `sheet-missing` and those of `openSource`. */
  readArea(sheet: string, area: Area): Promise<Result<Snapshot>>;
  /** The smallest area that holds every value of the sheet, null for an empty sheet. */
  usedArea(sheet: string): Promise<Result<Area | null>>;
  close(): Promise<void>;
}

/**
 * Opens the workbook at `path` (Office Open XML, ECMA-376 transitional and strict). `shownPath` is the name that faults
 * use. Faults: `source-missing`, `source-unreadable`, `source-empty`, `source-not-workbook`, `source-old-format`,
 * `source-password-protected`, `source-part-missing`, `source-damaged`, `source-too-large`.
 */
export async function openSource(path: string, shownPath = path): Promise<Result<OpenSource>> {
  const file = await PackageFile.open(path, shownPath);
  if (!file.ok) return file;
  const opened = await guard(shownPath, () => Workbook.open(file.value, shownPath));
  if (!opened.ok) await file.value.close();
  return opened;
}

class Workbook implements OpenSource {
  private styles: StylesPart | null = null;
  private strings: string[] | null = null;
  private readonly parsed = new Map<string, ParsedSheet>();

  private constructor(
    private readonly file: PackageFile,
    private readonly shownPath: string,
    private readonly workbook: WorkbookPart,
    private readonly parts: { byId: Map<string, string>; byType: Map<string, string> },
  ) {}

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

  async readArea(sheet: string, area: Area): Promise<Result<Snapshot>> {
    const parsed = await this.sheet(sheet);
    if (!parsed.ok) return parsed;
    const { snapshot, columnRuns } = parsed.value;
    const columns: Band[] = [];
    for (const { from, to, size, hidden } of columnRuns) {
      for (let index = Math.max(from, area.left); index <= Math.min(to, area.right); index++) {
        columns.push({
          index,
          ...(size === undefined ? {} : { size }),
          ...(hidden ? { hidden } : {}),
        });
      }
    }
    return ok(cutSnapshot({ ...snapshot, columns }, area));
  }

  async usedArea(sheet: string): Promise<Result<Area | null>> {
    const parsed = await this.sheet(sheet);
    return parsed.ok ? ok(filledArea(parsed.value.snapshot)) : parsed;
  }

  close(): Promise<void> {
    return this.file.close();
  }

  private async sheet(name: string): Promise<Result<ParsedSheet>> {
    const found = findSheet(this.workbook.sheets, name);
    if (!found) {
      const sheets = this.workbook.sheets.map((each) => each.name).join(', ');
      return fail('sheet-missing', { sheet: name, sheets });
    }
    const known = this.parsed.get(found.name);
    if (known) return ok(known);
    return guard(this.shownPath, async () => {
      const part = this.parts.byId.get(found.relationship);
      if (!part) {
        return fail('source-part-missing', {
          path: this.shownPath,
          part: `the part of sheet ${found.name}`,
        });
      }
      const bytes = await this.file.read(part);
      if (!bytes.ok) return bytes;
      const styles = await this.loadStyles();
      if (!styles.ok) return styles;
      const strings = await this.loadStrings();
      if (!strings.ok) return strings;
      const sheet = parseWorksheet(bytes.value, {
        name: found.name,
        strings: strings.value,
        styles: styles.value,
        dateSystem: this.workbook.dateSystem,
      });
      this.parsed.set(found.name, sheet);
      return ok(sheet);
    });
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

  private async loadStrings(): Promise<Result<string[]>> {
    if (this.strings) return ok(this.strings);
    const bytes = await this.optionalPart('sharedStrings');
    if (!bytes.ok) return bytes;
    this.strings = bytes.value ? parseSharedStrings(bytes.value) : [];
    return ok(this.strings);
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
