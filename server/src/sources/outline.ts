import type { SheetOutline, SourceContents } from '@tether/contract';
import { detectBlocks, occupiedArea, ok, parseReference, type Result } from '@tether/core';
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
    sheets.push({
      ...sheet,
      usedArea: occupancy.ok ? occupiedArea(occupancy.value) : null,
      blocks: blocks.slice(0, MAX_BLOCKS),
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
  return ok({ sheets, names, tables: tables.value });
}
