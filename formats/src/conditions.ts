import {
  type Area,
  applyConditions,
  type CellValues,
  type ConditionalFormat,
  type DefinedName,
  type Formula,
  formulasOf,
  intersection,
  isoToSerial,
  looksAround,
  movedReference,
  ok,
  parseFormula,
  type Result,
  type Scalar,
  type Snapshot,
  scalarOf,
  union,
} from '@tether/core';

type Read = (sheet: string, area: Area) => Promise<Result<Snapshot>>;

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
      values.add(snapshot);
      continue;
    }
    const seen = await read(isHere ? snapshot.sheet : sheet, area);
    // A sheet that a formula names and that is not there leaves the formula without values, as in any program.
    if (seen.ok) values.add(seen.value);
    else if (seen.fault.code !== 'sheet-missing') return seen;
  }
  return ok(applyConditions(snapshot, near, { cells: values, now: serialNow(), name: formulaOf }));
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
  for (const { areas, condition } of formats) {
    if (looksAround(condition)) for (const area of areas) add(snapshot.sheet, area);
    const corner = {
      row: Math.min(...areas.map(({ top }) => top)),
      column: Math.min(...areas.map(({ left }) => left)),
    };
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

/** The values of what was read, for formulas. */
class Values implements CellValues {
  private readonly sheets = new Map<string, { cells: Map<number, Scalar>; box: Area | null }>();

  add({ sheet, cells }: Snapshot): void {
    const key = sheet.toLowerCase();
    const known = this.sheets.get(key) ?? { cells: new Map<number, Scalar>(), box: null };
    this.sheets.set(key, known);
    for (const cell of cells) {
      const value = scalarOf(cell);
      if (value === null) continue;
      const { row, column } = cell;
      known.cells.set(row * 16_384 + column, value);
      const here = { top: row, left: column, bottom: row, right: column };
      known.box = known.box ? union(known.box, here) : here;
    }
  }

  get(sheet: string, row: number, column: number): Scalar {
    return this.sheets.get(sheet.toLowerCase())?.cells.get(row * 16_384 + column) ?? null;
  }

  filled(sheet: string, area: Area): Area | null {
    const box = this.sheets.get(sheet.toLowerCase())?.box;
    return box ? intersection(area, box) : null;
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

/** This moment by the clock on the wall, as a serial number. */
function serialNow(): number {
  const now = new Date();
  const local = new Date(now.getTime() - now.getTimezoneOffset() * 60_000);
  return isoToSerial(local.toISOString().slice(0, 19), '1900');
}
