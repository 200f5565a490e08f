import type { SheetHeadings, SheetOutline, SourceContents } from '@tether/contract';
import {
  type Area,
  detectBlocks,
  headerOf,
  occupiedArea,
  ok,
  parseReference,
  type Result,
} from '@tether/core';
import type { OpenSource } from '@tether/formats';

const MAX_BLOCKS = 40;

/** What is on every sheet of a source: used area, blocks, names with their range, table objects. */
export async function outlineOf(source: OpenSource): Promise<Result<Omit<SourceContents, 'hash'>>> {
  const sheets: SheetOutline[] = [];
  for (const sheet of source.sheets) {
    const occupancy = await source.readOccupancy(sheet.name);
    // A sheet that cannot be read says so when it is opened; the others are there all the same.
    const blocks = occupancy.ok ? detectBlocks(occupancy.value) : [];
    blocks.sort((a, b) => b.filled - a.filled);
    const titled = [];
    for (const block of blocks.slice(0, MAX_BLOCKS)) {
      titled.push({ ...block, title: await titleOf(source, sheet.name, block.area) });
    }
    const rules = await source.readRules(sheet.name);
    const rows = await source.readRows(sheet.name);
    sheets.push({
      ...sheet,
      fault: occupancy.ok ? null : occupancy.fault,
      usedArea: occupancy.ok ? occupiedArea(occupancy.value) : null,
      blocks: titled,
      rules: rules.ok ? rules.value : null,
      rows: rows.ok ? rows.value : { usual: 15, runs: [] },
    });
  }
  const tables = await source.readTables();
  if (!tables.ok) return tables;
  const names = source.names
    .filter(({ hidden }) => !hidden)
    .map((name) => {
      const parsed = parseReference(name.refersTo);
      const isRange = parsed.ok && parsed.value.sheet !== null;
      return {
        ...name,
        area: isRange ? { sheet: parsed.value.sheet!, area: parsed.value.area } : null,
      };
    });
  const charts = await source.readCharts();
  return ok({
    sheets,
    names,
    tables: tables.value,
    // Charts that cannot be read leave the cells as they are.
    charts: charts.ok ? charts.value : [],
    delimited: source.delimited ?? null,
  });
}

/** So many rows of a block show where its header stands. */
const LOOKED_AT_FOR_TITLE = 12;
const MAX_WIDTH = 200;

/** Rows of a title above the header of a block. */
async function titleOf(source: OpenSource, sheet: string, area: Area): Promise<number> {
  const bottom = Math.min(area.bottom, area.top + LOOKED_AT_FOR_TITLE - 1);
  const right = Math.min(area.right, area.left + MAX_WIDTH - 1);
  const head = await source.readArea(sheet, { ...area, bottom, right }, { look: false });
  return head.ok ? headerOf(head.value).title : 0;
}

/** Rows from the top of a sheet in which headers are looked for, and how much of them is kept. */
const LOOKED_AT = 200;
const MAX_SHEETS = 40;
const MAX_HEADERS = 60;
/** A longer text is a sentence, not a header. */
const MAX_LETTERS = 60;
/** Rows of a block in which its header may stand: a title may stand above it. */
const HEADER_ROWS = 5;

/** What stands at the head of the blocks of each sheet: of each block's first rows the one with the most texts. */
export async function headingsOf(source: OpenSource): Promise<SheetHeadings[]> {
  const headings: SheetHeadings[] = [];
  for (const { name } of source.sheets.slice(0, MAX_SHEETS)) {
    const occupancy = await source.readOccupancy(name, LOOKED_AT);
    const headers = new Set<string>();
    for (const { area } of occupancy.ok ? detectBlocks(occupancy.value).slice(0, 8) : []) {
      const bottom = Math.min(area.bottom, area.top + HEADER_ROWS - 1);
      const right = Math.min(area.right, area.left + MAX_HEADERS - 1);
      const read = await source.readArea(name, { ...area, bottom, right }, { look: false });
      if (!read.ok) continue;
      const rows = new Map<number, string[]>();
      for (const { row, type, text } of read.value.cells) {
        if (type !== 'text' || text.length > MAX_LETTERS) continue;
        rows.set(row, [...(rows.get(row) ?? []), text.trim()]);
      }
      const fullest = [...rows.values()].sort((a, b) => b.length - a.length)[0] ?? [];
      for (const text of fullest) if (headers.size < MAX_HEADERS) headers.add(text);
    }
    const fault = occupancy.ok ? {} : { fault: occupancy.fault };
    headings.push({ sheet: name, headers: [...headers], ...fault });
  }
  return headings;
}
