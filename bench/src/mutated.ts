import type { Area, Cell } from '@tether/core';

/** Something that people do to a sheet. */
export const OPERATIONS = [
  'insert rows',
  'delete rows',
  'move a row',
  'move the block',
  'sort',
  'edit cells',
  'rename the sheet',
  'rename a header',
  'insert columns',
  'delete a column',
  'move a column',
  'copy the block',
] as const;
type Operation = (typeof OPERATIONS)[number];

type Value = string | number | null;

/** A sheet by its values; `area` is where the block stands that is followed, from 1. */
interface Sheet {
  name: string;
  grid: Value[][];
  area: Area | null;
}

/** A workbook before and after some operations, with the area before and where it stands then. */
export interface Case {
  operations: Operation[];
  before: { sheet: string; names: string[]; cells: Cell[]; area: Area };
  after: { sheet: string; cells: Cell[] }[];
  truth: { sheet: string; area: Area };
}

export function randomFrom(seed: number): () => number {
  let state = seed;
  return () => {
    // Mulberry32 (common practice).
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

const WORDS = [
  'creek',
  'sluice',
  'reed',
  'samphire',
  'breach',
  'weir',
  'bank',
  'pool',
  'tide',
  'ebb',
];
const HEADS = [
  'Plot',
  'Species',
  'Planted',
  'Surviving',
  'Cover',
  'Area',
  'Depth',
  'Boat',
  'Counted',
  'Note',
];

/** A case of a number: the same one for the same number. */
export function makeCase(number: number): Case {
  const random = randomFrom(number * 7_919 + 13);
  const below = (most: number) => Math.floor(random() * most);
  const between = (least: number, most: number) => least + below(most - least + 1);
  const sheets = [blockSheet('Counts'), otherSheet('Notes')];
  if (below(2) === 0) sheets.push(otherSheet('Costs'));
  const [own] = sheets as [Sheet, ...Sheet[]];
  const before = {
    sheet: own.name,
    names: sheets.map(({ name }) => name),
    cells: cellsOf(own.grid),
    area: { ...own.area! },
  };
  const operations: Operation[] = [];
  const count = between(1, 8);
  for (let nth = 0; nth < count; nth++) {
    const operation = OPERATIONS[below(OPERATIONS.length)]!;
    if (apply(operation)) operations.push(operation);
  }
  return {
    operations,
    before,
    after: sheets.map(({ name, grid }) => ({ sheet: name, cells: cellsOf(grid) })),
    truth: { sheet: own.name, area: trimmed(own.grid, own.area!) },
  };

  function figure(): Value {
    const kind = below(10);
    if (kind < 6) return between(0, 2_000);
    if (kind < 8) return Math.round(random() * 10_000) / 100;
    if (kind < 9) return `${WORDS[below(WORDS.length)]} ${between(1, 40)}`;
    return between(0, 3);
  }

  function blockSheet(name: string): Sheet {
    const [rows, columns] = [between(4, 40), between(3, 9)];
    const [top, left] = [between(1, 6), between(1, 4)];
    const grid: Value[][] = [];
    if (top > 2 && below(3) > 0) put(grid, 1, left, `${name} of ${WORDS[below(WORDS.length)]}`);
    const heads = [...HEADS].sort(() => random() - 0.5);
    for (let column = 0; column < columns; column++) put(grid, top, left + column, heads[column]!);
    for (let row = 1; row <= rows; row++) {
      for (let column = 0; column < columns; column++) {
        const value = column === 0 ? `SC-${String(row).padStart(2, '0')}` : figure();
        put(grid, top + row, left + column, value);
      }
    }
    const area = { top, left, bottom: top + rows, right: left + columns - 1 };
    // Another table below or beside it, of the same plots or not.
    if (below(2) === 0) {
      const isBelow = below(2) === 0;
      const [at, beside] = isBelow
        ? [area.bottom + between(2, 4), left]
        : [top, area.right + between(2, 3)];
      for (let row = 0; row < between(3, 10); row++) {
        for (let column = 0; column < 3; column++) {
          const value = row === 0 ? `Sum ${column}` : column === 0 ? `SC-0${row}` : figure();
          put(grid, at + row, beside + column, value);
        }
      }
    }
    return { name, grid, area };
  }

  function otherSheet(name: string): Sheet {
    const grid: Value[][] = [];
    for (let row = 1; row <= between(3, 20); row++) {
      for (let column = 1; column <= 4; column++) {
        put(
          grid,
          row,
          column,
          row === 1 ? `${name} ${column}` : column === 1 ? `SC-${row}` : figure(),
        );
      }
    }
    return { name, grid, area: null };
  }

  function apply(operation: Operation): boolean {
    const { grid } = own;
    const area = own.area!;
    const height = area.bottom - area.top + 1;
    const width = area.right - area.left + 1;
    switch (operation) {
      case 'insert rows': {
        const [at, many] = [between(1, area.bottom + 3), between(1, 4)];
        while (grid.length < at - 1) grid.push([]);
        const isFilled = below(3) > 0 && at > area.top && at <= area.bottom;
        const fresh = Array.from({ length: many }, (_, nth) => {
          const row: Value[] = [];
          if (isFilled) {
            for (let column = area.left; column <= area.right; column++) {
              row[column - 1] = column === area.left ? `NEW-${number}-${nth}` : figure();
            }
          }
          return row;
        });
        grid.splice(at - 1, 0, ...fresh);
        if (at <= area.top) area.top += many;
        if (at <= area.bottom) area.bottom += many;
        return true;
      }
      case 'delete rows': {
        // Not the header, and not most of it.
        if (height < 6) return false;
        const many = between(1, Math.max(1, Math.floor(height / 5)));
        const at = between(area.top + 1, area.bottom - many + 1);
        grid.splice(at - 1, many);
        area.bottom -= many;
        return true;
      }
      case 'move a row': {
        const [from, to] = [between(area.top + 1, area.bottom), between(area.top + 1, area.bottom)];
        const [row] = grid.splice(from - 1, 1);
        grid.splice(to - 1, 0, row!);
        return from !== to;
      }
      case 'move the block': {
        const [down, across] = [grid.length + between(2, 6), between(1, 12)];
        const [top, left] = [down, across];
        for (let row = 0; row < height; row++) {
          for (let column = 0; column < width; column++) {
            const [from, at] = [area.top + row - 1, area.left + column - 1];
            put(grid, top + row, left + column, grid[from]?.[at] ?? null);
            if (grid[from]) grid[from][at] = null;
          }
        }
        Object.assign(area, { top, left, bottom: top + height - 1, right: left + width - 1 });
        return true;
      }
      case 'sort': {
        const column = between(area.left, area.right) - 1;
        const rows = grid
          .slice(area.top, area.bottom)
          .map((row) =>
            Array.from({ length: width }, (_, at) => row?.[area.left - 1 + at] ?? null),
          );
        const at = column - area.left + 1;
        rows.sort((a, b) => compare(a[at]!, b[at]!));
        rows.forEach((row, nth) => {
          row.forEach((value, across) => {
            put(grid, area.top + 1 + nth, area.left + across, value);
          });
        });
        return true;
      }
      case 'edit cells': {
        const share = random() * 0.3;
        for (let row = area.top + 1; row <= area.bottom; row++) {
          for (let column = area.left; column <= area.right; column++) {
            if (random() < share) put(grid, row, column, figure());
          }
        }
        return true;
      }
      case 'rename the sheet':
        own.name = `${own.name} ${between(2, 99)}`;
        return true;
      case 'rename a header':
        put(grid, area.top, between(area.left, area.right), `Renamed ${between(1, 99)}`);
        return true;
      case 'insert columns': {
        const [at, many] = [between(1, area.right + 2), between(1, 2)];
        const isFilled = below(2) === 0 && at > area.left && at <= area.right;
        for (const [index, row] of grid.entries()) {
          if (!row) continue;
          while (row.length < at - 1) row.push(null);
          const isWithin = index + 1 >= area.top && index + 1 <= area.bottom;
          const fresh = Array.from({ length: many }, (_, nth): Value => {
            if (!isFilled || !isWithin) return null;
            return index + 1 === area.top ? `Added ${nth}` : figure();
          });
          row.splice(at - 1, 0, ...fresh);
        }
        if (at <= area.left) area.left += many;
        if (at <= area.right) area.right += many;
        return true;
      }
      case 'delete a column': {
        if (width < 4) return false;
        const at = between(area.left + 1, area.right);
        for (const row of grid) row?.splice(at - 1, 1);
        area.right -= 1;
        return true;
      }
      case 'move a column': {
        const [from, to] = [between(area.left, area.right), between(area.left, area.right)];
        for (let row = area.top - 1; row < area.bottom; row++) {
          const cells = grid[row] ?? [];
          while (cells.length < area.right) cells.push(null);
          const [cell] = cells.splice(from - 1, 1);
          cells.splice(to - 1, 0, cell ?? null);
          grid[row] = cells;
        }
        return from !== to;
      }
      case 'copy the block': {
        const target = below(3) === 0 ? sheets[1]!.grid : grid;
        const isBeside = below(2) === 0;
        const widest = Math.max(0, ...target.map((row) => row?.length ?? 0));
        const top = isBeside ? between(1, 6) : target.length + between(2, 5);
        const left = isBeside ? widest + between(2, 4) : between(1, 6);
        for (let row = 0; row < height; row++) {
          for (let column = 0; column < width; column++) {
            const value = grid[area.top + row - 1]?.[area.left + column - 1] ?? null;
            put(target, top + row, left + column, value);
          }
        }
        return true;
      }
    }
  }
}

/** An area without empty lines at its edges: nothing says that they belong to it. */
function trimmed(grid: readonly Value[][], area: Area): Area {
  const { top, bottom, left, right } = area;
  const made = { top: bottom, bottom: top, left: right, right: left };
  for (let row = top; row <= bottom; row++) {
    for (let column = left; column <= right; column++) {
      if ((grid[row - 1]?.[column - 1] ?? null) === null) continue;
      made.top = Math.min(made.top, row);
      made.bottom = Math.max(made.bottom, row);
      made.left = Math.min(made.left, column);
      made.right = Math.max(made.right, column);
    }
  }
  return made;
}

function compare(a: Value, b: Value): number {
  if (typeof a === 'number' && typeof b === 'number') return a - b;
  if (typeof a === 'number') return -1;
  if (typeof b === 'number') return 1;
  return String(a ?? '').localeCompare(String(b ?? ''));
}

function put(grid: Value[][], row: number, column: number, value: Value): void {
  while (grid.length < row) grid.push([]);
  const cells = grid[row - 1]!;
  while (cells.length < column) cells.push(null);
  cells[column - 1] = value;
}

function cellsOf(grid: readonly Value[][]): Cell[] {
  const cells: Cell[] = [];
  grid.forEach((row, r) => {
    (row ?? []).forEach((value, c) => {
      if (value === null || value === undefined) return;
      cells.push({
        ...{ row: r + 1, column: c + 1, value, text: String(value) },
        type: typeof value === 'number' ? 'number' : 'text',
      });
    });
  });
  return cells;
}
