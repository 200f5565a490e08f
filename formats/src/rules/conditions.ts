import {
  type Area,
  applyConditions,
  type CellValues,
  type ConditionalFormat,
  type DefinedName,
  type Formula,
  formulasOf,
  intersection,
  looksAround,
  movedReference,
  ok,
  originOf,
  parseFormula,
  type Result,
  type Scalar,
  type SheetRules,
  type Snapshot,
  scalarOf,
  union,
  unknownIn,
} from '@tether/core';

import { serialNow } from '../now.ts';

/** Gives the values of an area of a sheet. */
type Read = (sheet: string, area: Area) => Promise<Result<SheetValues>>;

/**
 * The snapshot as its sheet's conditional formats dress it. What they look at beside the snapshot's own cells (the rest
 * of their areas, cells that a formula names) is read without its look, each sheet at most once.
 */
export async function withConditions(
  snapshot: Snapshot,
  formats: readonly ConditionalFormat[],
  names: readonly DefinedName[],
  read: Read,
): Promise<Result<Snapshot>> {
  const near = formats.filter(({ areas }) =>
    areas.some((area) => intersection(area, snapshot.area)),
  );
  if (near.length === 0) return ok(snapshot);
  const formulaOf = nameReader(names, snapshot.sheet);
  const values = new Values();
  for (const [sheet, area] of lookedAt(snapshot, near, formulaOf)) {
    const isHere = sheet === snapshot.sheet.toLowerCase();
    if (isHere && contains(snapshot.area, area)) {
      values.add(sheet, valuesOf(snapshot));
      continue;
    }
    const seen = await read(isHere ? snapshot.sheet : sheet, area);
    // A sheet that a formula names and that is not there leaves the formula without values, as in any program.
    if (seen.ok) values.add(sheet, seen.value);
    else if (seen.fault.code !== 'sheet-missing') return seen;
  }
  return ok(applyConditions(snapshot, near, { cells: values, now: serialNow(), name: formulaOf }));
}

/** How many conditional formats there are, and what in them cannot be followed. */
export function countConditions(
  conditions: readonly ConditionalFormat[],
): SheetRules['conditions'] {
  return { count: conditions.length, unknown: [...new Set(conditions.flatMap(unknownIn))] };
}

/** Of each sheet (by its name in small letters) the area that the formats look at. */
function lookedAt(
  snapshot: Snapshot,
  formats: readonly ConditionalFormat[],
  formulaOf: (name: string) => Formula | null,
): Map<string, Area> {
  const wanted = new Map<string, Area>();
  const add = (sheet: string, area: Area) => {
    const key = sheet.toLowerCase();
    const known = wanted.get(key);
    wanted.set(key, known ? union(known, area) : area);
  };
  for (const format of formats) {
    const { areas, condition } = format;
    if (looksAround(condition)) for (const area of areas) add(snapshot.sheet, area);
    const corner = originOf(format);
    const here = areas
      .map((area) => intersection(area, snapshot.area))
      .filter((area) => area !== null)
      .reduce(union);
    for (const text of formulasOf(condition)) {
      const seen = new Set<string>();
      const visit = (formula: Formula | null) => {
        if (!formula) return;
        for (const reference of formula.references) {
          const ends = [
            movedReference(reference, here.top - corner.row, here.left - corner.column),
            movedReference(reference, here.bottom - corner.row, here.right - corner.column),
          ];
          for (const area of ends) if (area) add(reference.sheet ?? snapshot.sheet, area);
        }
        for (const name of formula.names) {
          if (seen.has(name)) continue;
          seen.add(name);
          visit(formulaOf(name));
        }
      };
      visit(parseFormula(text));
    }
  }
  return wanted;
}

/** Finds what a defined name means on a sheet: the sheet's own names go before those of the whole source. */
function nameReader(
  names: readonly DefinedName[],
  sheet: string,
): (name: string) => Formula | null {
  const known = new Map<string, Formula | null>();
  return (name) => {
    const key = name.toLowerCase();
    if (!known.has(key)) {
      const same = names.filter((each) => each.name.toLowerCase() === key);
      const found =
        same.find((each) => each.sheet?.toLowerCase() === sheet.toLowerCase()) ??
        same.find((each) => each.sheet === null);
      known.set(key, found ? parseFormula(found.refersTo) : null);
    }
    return known.get(key)!;
  };
}

/** The values of cells that were read without anything else, by their place. */
export class SheetValues {
  readonly cells = new Map<number, Scalar>();
  box: Area | null = null;

  add(row: number, column: number, value: Scalar): void {
    if (value === null) return;
    this.cells.set(row * 16_384 + column, value);
    const { box } = this;
    if (!box) {
      this.box = { top: row, left: column, bottom: row, right: column };
      return;
    }
    if (row < box.top) box.top = row;
    if (row > box.bottom) box.bottom = row;
    if (column < box.left) box.left = column;
    if (column > box.right) box.right = column;
  }
}

/** The values of a snapshot's cells. */
export function valuesOf({ cells }: Snapshot): SheetValues {
  const values = new SheetValues();
  for (const cell of cells) values.add(cell.row, cell.column, scalarOf(cell));
  return values;
}

/** The values of what was read, for formulas. */
class Values implements CellValues {
  private readonly sheets = new Map<string, SheetValues>();

  add(sheet: string, values: SheetValues): void {
    this.sheets.set(sheet.toLowerCase(), values);
  }

  get(sheet: string, row: number, column: number): Scalar {
    return this.sheets.get(sheet.toLowerCase())?.cells.get(row * 16_384 + column) ?? null;
  }

  filled(sheet: string, area: Area): Area | null {
    const box = this.sheets.get(sheet.toLowerCase())?.box;
    return box ? intersection(area, box) : null;
  }

  each(
    sheet: string,
    area: Area,
    visit: (value: Scalar, row: number, column: number) => void,
  ): void {
    for (const [place, value] of this.sheets.get(sheet.toLowerCase())?.cells ?? []) {
      // Column 16,384 makes a place of the next row's column 0.
      const column = place % 16_384 || 16_384;
      const row = (place - column) / 16_384;
      if (row < area.top || row > area.bottom || column < area.left || column > area.right)
        continue;
      visit(value, row, column);
    }
  }
}

function contains(outer: Area, inner: Area): boolean {
  return (
    inner.top >= outer.top &&
    inner.left >= outer.left &&
    inner.bottom <= outer.bottom &&
    inner.right <= outer.right
  );
}
