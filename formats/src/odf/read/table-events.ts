import { MAX_COLUMNS, MAX_ROWS, type TextRun } from '@tether/core';
import type { Attributes, XmlElement } from '../../package/xml.ts';
import type { XmlHandler, XmlScanner } from '../../package/xml-scanner.ts';

/** What stands in a cell beside its attributes. */
export interface CellContent {
  /** Paragraphs joined by line feeds. */
  text: string;
  /** Parts with the name of their text style; null where the text has none. */
  spans: { text: string; style: string | null }[] | null;
  link: string | null;
  note: string | null;
}

/** What a walk through the tables calls back, in the order of the file. Rows and columns count from 1. */
export interface TableVisitor {
  /** First and last row whose cells are wanted; of other rows cells are not told. */
  top: number;
  bottom: number;
  /** Whether the content of cells is wanted, or only whether there is some. */
  withContent: boolean;
  /** No row is wanted: they are passed over unread. */
  withoutRows?: boolean;
  /** A table begins; false passes over it. */
  table(name: string, attributes: Attributes): boolean;
  column?(from: number, to: number, attributes: Attributes): void;
  /** `to` counts the repeats (ODF 1.3 Part 3, 19.677), bounded by the sheet's last row. */
  row?(from: number, to: number, attributes: Attributes): void;
  cell(
    row: { from: number; to: number },
    column: { from: number; to: number },
    attributes: Attributes,
    content: CellContent,
  ): void;
  /** A table is at its end. */
  tableEnd?(): void;
  /** An element outside of cells that is asked for by `captures` is complete. */
  captured?(element: XmlElement): void;
}

const TABLE_SPACE = 'urn:oasis:names:tc:opendocument:xmlns:table:1.0';
/** What can follow a row that is passed over: another row, or the end of what rows stand in. */
const PAST_ROW = [
  '<table:table-row',
  '</table:table-row-group>',
  '</table:table-rows>',
  '</table:table-header-rows>',
  '<table:table-header-rows',
  '</table:table>',
  '<table:table ',
];
/** What can follow all rows of a table, or begin a table within one of its cells. */
const PAST_ROWS = [
  '</table:table>',
  '<table:named-expressions',
  '<calcext:conditional-formats',
  '<table:table ',
];
const WHITE = /[ \t\r\n]/;
const CAPTURED = new Set([
  'automatic-styles',
  'styles',
  'font-face-decls',
  'content-validations',
  'named-expressions',
  'database-ranges',
  'conditional-formats',
  'shapes',
]);
/** Elements within a cell whose text is not the cell's. */
const ASIDE = new Set([
  'table',
  'frame',
  'custom-shape',
  'g',
  'line',
  'rect',
  'ellipse',
  'control',
  'detective',
  'cell-range-source',
]);

/** Walks through the tables of an OpenDocument spreadsheet (ODF 1.3 Part 3, 9.1). */
export class TableEvents implements XmlHandler {
  /** Set by whoever has seen enough. */
  isDone = false;
  private inTable = false;
  private isWanted = false;
  private depth = 0;
  private row = { from: 0, to: 0 };
  private column = 0;
  private columnsAt = 0;
  private attributes: Attributes | null = null;
  private content: CellContent = empty();
  private paragraphs = 0;
  private inParagraph = false;
  private isParagraphEmpty = true;
  private isSpaceOwed = false;
  private readonly spans: (string | null)[] = [];
  private aside = 0;
  private inNote = false;
  private note = '';
  private capture: XmlElement[] = [];
  /** Whether the namespace has the prefix that the tags to skip to are written with. */
  private canSkip = false;
  private skipped: readonly string[] | null = null;
  /** Set by whoever runs the walk, so that what is not wanted can be passed over. */
  scanner: XmlScanner | null = null;

  constructor(
    private readonly visitor: TableVisitor,
    private readonly frameSeen?: (frame: XmlElement, at: { row: number; column: number }) => void,
  ) {}

  open(name: string, attributes: Attributes): void {
    if (this.capture.length > 0) {
      const element: XmlElement = { name, attributes, children: [], text: '' };
      this.capture.at(-1)!.children.push(element);
      this.capture.push(element);
      return;
    }
    if (this.attributes) {
      this.openInCell(name, attributes);
      return;
    }
    if (attributes['xmlns:table'] === TABLE_SPACE) this.canSkip = true;
    if (CAPTURED.has(name)) {
      this.capture = [{ name, attributes, children: [], text: '' }];
      return;
    }
    if (name === 'table') {
      this.depth++;
      if (this.depth > 1) return;
      this.inTable = true;
      this.row = { from: 0, to: 0 };
      this.columnsAt = 0;
      this.isWanted = this.visitor.table(attributes.name ?? '', attributes);
      if (!this.isWanted) this.skip(PAST_ROWS, 'table');
      return;
    }
    if (!this.inTable || !this.isWanted || this.depth > 1) return;
    if (name === 'table-cell' || name === 'covered-table-cell') {
      this.attributes = name === 'table-cell' ? attributes : { ...attributes, covered: 'true' };
      this.content = empty();
      this.paragraphs = 0;
    } else if (name === 'table-row') {
      const from = this.row.to + 1;
      this.row = {
        from,
        to: Math.min(MAX_ROWS, from - 1 + repeats(attributes, 'number-rows-repeated')),
      };
      this.column = 0;
      if (from <= MAX_ROWS) this.visitor.row?.(this.row.from, this.row.to, attributes);
      this.skipped = null;
      if (this.visitor.withoutRows) this.skip(PAST_ROWS, 'table');
      else if (this.row.to < this.visitor.top) this.skip(PAST_ROW);
    } else if (name === 'table-column') {
      const from = this.columnsAt + 1;
      this.columnsAt += repeats(attributes, 'number-columns-repeated');
      if (from <= MAX_COLUMNS)
        this.visitor.column?.(from, Math.min(MAX_COLUMNS, this.columnsAt), attributes);
    }
  }

  text(text: string): void {
    if (this.capture.length > 0) this.capture.at(-1)!.text += text;
    else if (this.inNote) {
      // Who noted it and when stands beside the paragraphs.
      if (this.inParagraph) this.note += text;
    } else if (this.inParagraph && this.aside === 0) this.addCollapsed(text);
  }

  close(name: string): void {
    if (this.capture.length > 0) {
      const element = this.capture.pop()!;
      if (this.capture.length > 0) return;
      if (element.name === 'frame')
        this.frameSeen?.(element, { row: this.row.from, column: this.column + 1 });
      else this.visitor.captured?.(element);
      return;
    }
    if (this.attributes) {
      this.closeInCell(name);
      return;
    }
    if (name === 'table' && this.depth > 0) {
      this.depth--;
      // A table within a cell that is passed over: on with what follows it.
      if (this.depth === 1 && this.skipped) this.scanner?.skipTo(this.skipped);
      if (this.depth > 0) return;
      this.skipped = null;
      if (this.isWanted) this.visitor.tableEnd?.();
      this.inTable = this.isWanted = false;
    }
  }

  private skip(tags: readonly string[], within?: string): void {
    if (!this.canSkip || !this.scanner) return;
    this.skipped = tags;
    this.scanner.skipTo(tags, within);
  }

  private openInCell(name: string, attributes: Attributes): void {
    if (this.aside > 0) {
      this.aside++;
    } else if (this.inNote) {
      if (name !== 'p') return;
      if (this.note !== '') this.note += '\n';
      this.inParagraph = true;
    } else if (name === 'annotation') {
      this.inNote = true;
      this.note = '';
    } else if (name === 'frame' && this.frameSeen) {
      this.capture = [{ name, attributes, children: [], text: '' }];
    } else if (ASIDE.has(name)) this.aside = 1;
    else if (name === 'p' || name === 'h') {
      if (this.paragraphs++ > 0) this.append('\n');
      this.inParagraph = true;
      this.isParagraphEmpty = true;
      this.isSpaceOwed = false;
    } else if (name === 'span') {
      this.spans.push(attributes['style-name'] ?? null);
      this.content.spans ??=
        this.content.text === '' ? [] : [{ text: this.content.text, style: null }];
    } else if (name === 's')
      this.add(' '.repeat(Math.min(1_000, Math.max(1, Number(attributes.c ?? 1) || 1))));
    else if (name === 'tab') this.add('\t');
    else if (name === 'line-break') this.add('\n');
    else if (name === 'a') this.content.link ??= attributes.href ?? null;
  }

  private closeInCell(name: string): void {
    if (this.aside > 0) {
      this.aside--;
    } else if (name === 'annotation') {
      this.inNote = false;
      this.content.note = this.note.trim() || null;
    } else if (this.inNote) {
      if (name === 'p') this.inParagraph = false;
    } else if (name === 'p' || name === 'h') this.inParagraph = this.isSpaceOwed = false;
    else if (name === 'span') this.spans.pop();
    else if (name === 'table-cell' || name === 'covered-table-cell') this.tellCell();
  }

  private tellCell(): void {
    const attributes = this.attributes!;
    this.attributes = null;
    const from = this.column + 1;
    this.column += repeats(attributes, 'number-columns-repeated');
    const { row, visitor } = this;
    if (from > MAX_COLUMNS || row.from > MAX_ROWS) return;
    if (row.to < visitor.top || row.from > visitor.bottom) return;
    visitor.cell(row, { from, to: Math.min(MAX_COLUMNS, this.column) }, attributes, this.content);
  }

  /**
   * Adds text in which runs of white space are one space, and none at the beginning and the end of a paragraph
   * (ODF 1.3 Part 3, 6.1.2). A space is owed until something follows it.
   */
  private addCollapsed(text: string): void {
    if (!WHITE.test(text)) {
      this.add(text);
      return;
    }
    const words = text.replace(/[ \t\r\n]+/g, ' ');
    if (words === '') return;
    if (words.startsWith(' ') && !this.isParagraphEmpty) this.isSpaceOwed = true;
    const body = words.trim();
    if (body === '') return;
    this.add(body);
    if (words.endsWith(' ')) this.isSpaceOwed = true;
  }

  private add(text: string): void {
    const owed = this.isSpaceOwed ? ' ' : '';
    this.isSpaceOwed = false;
    this.isParagraphEmpty = false;
    this.append(owed + text);
  }

  private append(text: string): void {
    if (!this.visitor.withContent) {
      // Whether there is any text is enough.
      if (this.content.text === '') this.content.text = text;
      return;
    }
    this.content.text += text;
    const { spans } = this.content;
    if (!spans) return;
    const style = this.spans.at(-1) ?? null;
    const last = spans.at(-1);
    if (last && last.style === style) last.text += text;
    else spans.push({ text, style });
  }
}

function empty(): CellContent {
  return { text: '', spans: null, link: null, note: null };
}

/** How often a row, column or cell stands: at least once, whatever is written (19.675, 19.677). */
function repeats(attributes: Attributes, name: string): number {
  const text = attributes[name];
  if (text === undefined) return 1;
  const number = Number(text);
  return Number.isFinite(number) && number >= 1 ? Math.floor(number) : 1;
}

/** Parts of a text with letters of their own, from its spans. */
export function runsOf(
  spans: CellContent['spans'],
  lettersOf: (style: string) => Omit<TextRun, 'text'>,
): TextRun[] | null {
  if (!spans) return null;
  const runs = spans.map(
    ({ text, style }): TextRun => ({ text, ...(style === null ? {} : lettersOf(style)) }),
  );
  return runs.some(({ letters, shift }) => letters ?? shift) ? runs : null;
}
