import { type Area, intersection } from '../sheet/address.ts';
import type { BorderLine, Cell, Dress, Snapshot } from '../sheet/sheet.ts';
import { type DressChange, Wardrobe } from './conditional.ts';

/** Parts of a table that a table style dresses (ECMA-376 Part 1, 18.18.93), in the order in which later ones go over earlier. */
export const STYLE_PARTS = [
  'wholeTable',
  'firstColumnStripe',
  'secondColumnStripe',
  'firstRowStripe',
  'secondRowStripe',
  'lastColumn',
  'firstColumn',
  'headerRow',
  'totalRow',
  'firstHeaderCell',
  'lastHeaderCell',
  'firstTotalCell',
  'lastTotalCell',
] as const;
export type StylePart = (typeof STYLE_PARTS)[number];

/** What a style says of one part: its outer lines are those of the part, the inner ones stand between its cells. */
export interface PartDress extends DressChange {
  horizontalLine?: BorderLine;
  verticalLine?: BorderLine;
  /** Rows or columns of a stripe; 1 when absent. */
  size?: number;
}

export type SheetTableStyle = Partial<Record<StylePart, PartDress>>;

/** A table object with the style that dresses its cells (18.5.1.5). */
export interface StyledTable {
  area: Area;
  headerRows: number;
  totalsRows: number;
  style: SheetTableStyle;
  firstColumn: boolean;
  lastColumn: boolean;
  rowStripes: boolean;
  columnStripes: boolean;
}

/** The most empty cells that styles may dress in one snapshot. */
const MAX_EMPTY = 40_000;

/**
 * The snapshot as the styles of its tables dress it. A style lies under what cells say themselves: a fill, a line, a weight or
 * a colour of their own stays.
 */
export function applyTableStyles(snapshot: Snapshot, tables: readonly StyledTable[]): Snapshot {
  const near = tables.flatMap((table) => {
    const seen = intersection(table.area, snapshot.area);
    return seen ? [{ dresser: new Dresser(table), seen }] : [];
  });
  if (near.length === 0) return snapshot;
  const wardrobe = new Wardrobe(snapshot.dresses);
  const places = new Set(snapshot.cells.map(({ row, column }) => row * 16_385 + column));
  const empty: Cell[] = [];
  for (const { seen } of near) {
    for (let row = seen.top; row <= seen.bottom; row++) {
      for (let column = seen.left; column <= seen.right; column++) {
        if (places.has(row * 16_385 + column) || empty.length >= MAX_EMPTY) continue;
        empty.push({ row, column, type: 'blank', value: '', text: '' });
      }
    }
  }
  const dressed = [...snapshot.cells, ...empty].flatMap((cell): Cell[] => {
    const found = near.find(
      ({ seen }) =>
        cell.row >= seen.top &&
        cell.row <= seen.bottom &&
        cell.column >= seen.left &&
        cell.column <= seen.right,
    );
    const isNew = cell.type === 'blank' && cell.dress === undefined;
    if (!found) return [cell];
    const change = found.dresser.at(cell.row, cell.column);
    // An empty cell is seen by a fill or a line alone.
    if (isNew && !change.fill && !SIDES.some((side) => change[side])) return [];
    const own = cell.dress === undefined ? undefined : snapshot.dresses[cell.dress];
    const dress = wardrobe.change(cell.dress, own ? under(change, own) : change);
    return [dress === cell.dress ? cell : { ...cell, dress }];
  });
  if (empty.length > 0) dressed.sort((a, b) => a.row - b.row || a.column - b.column);
  return { ...snapshot, cells: dressed, dresses: wardrobe.dresses };
}

const SIDES = ['top', 'right', 'bottom', 'left'] as const;

/** What of a change the cell does not say itself. */
function under(change: DressChange, own: Dress): DressChange {
  const left: DressChange = {};
  if (change.fill && !own.fill) left.fill = change.fill;
  for (const side of SIDES) if (change[side] && !own[side]) left[side] = change[side];
  const letters: DressChange['letters'] = {};
  const { bold, italic, underline, strike, colour } = change.letters ?? {};
  if (bold !== undefined && !own.letters.bold) letters.bold = bold;
  if (italic !== undefined && !own.letters.italic) letters.italic = italic;
  if (underline !== undefined && !own.letters.underline) letters.underline = underline;
  if (strike !== undefined && !own.letters.strike) letters.strike = strike;
  // White letters are for the style's fill; on one of the cell's own they would be lost.
  if (colour !== undefined && !own.letters.colour && !(own.fill && change.fill)) {
    letters.colour = colour;
  }
  if (Object.keys(letters).length > 0) left.letters = letters;
  return left;
}

/** A part as it holds for one row or column: whether the cell stands at its edges. */
interface Reaches {
  part: StylePart;
  isFirst: boolean;
  isLast: boolean;
}

/** The same text for rows, or columns, that stand in the same places of the same parts. */
function keyFor(place: number, known: Map<number, string>, parts: () => Reaches[]): string {
  let key = known.get(place);
  if (key === undefined) {
    key = parts()
      .map(({ part, isFirst, isLast }) => `${part}${isFirst}${isLast}`)
      .join();
    known.set(place, key);
  }
  return key;
}

/** Finds what a table's style says of a cell; rows and columns in the same place of their parts are worked out once. */
class Dresser {
  private readonly known = new Map<string, DressChange>();
  private readonly rowKeys = new Map<number, string>();
  private readonly columnKeys = new Map<number, string>();

  constructor(private readonly table: StyledTable) {}

  at(row: number, column: number): DressChange {
    const rowKey = keyFor(row, this.rowKeys, () => this.rowParts(row));
    const columnKey = keyFor(column, this.columnKeys, () => this.columnParts(column));
    const key = `${rowKey} ${columnKey}`;
    let change = this.known.get(key);
    if (!change) {
      change = this.changeAt(row, column);
      this.known.set(key, change);
    }
    return change;
  }

  /** Where a row stands in each part that has rows. */
  private rowParts(row: number): Reaches[] {
    const { area, headerRows, totalsRows, rowStripes, style } = this.table;
    const whole = { isFirst: row === area.top, isLast: row === area.bottom };
    const parts: Reaches[] = [{ part: 'wholeTable', ...whole }];
    const body = { top: area.top + headerRows, bottom: area.bottom - totalsRows };
    if (row < body.top) {
      return [
        ...parts,
        { part: 'headerRow', isFirst: whole.isFirst, isLast: row === body.top - 1 },
      ];
    }
    if (row > body.bottom) {
      return [
        ...parts,
        { part: 'totalRow', isFirst: row === body.bottom + 1, isLast: whole.isLast },
      ];
    }
    // Stripes up and down the table begin and end with its body.
    parts.push({
      part: 'firstColumnStripe',
      isFirst: row === body.top,
      isLast: row === body.bottom,
    });
    if (rowStripes) parts.push(stripe(style, 'Row', row - body.top));
    return parts;
  }

  private columnParts(column: number): Reaches[] {
    const { area, firstColumn, lastColumn, columnStripes, style } = this.table;
    const [isFirst, isLast] = [column === area.left, column === area.right];
    const parts: Reaches[] = [{ part: 'wholeTable', isFirst, isLast }];
    if (firstColumn && isFirst) parts.push({ part: 'firstColumn', isFirst: true, isLast: true });
    if (lastColumn && isLast) parts.push({ part: 'lastColumn', isFirst: true, isLast: true });
    if (columnStripes) parts.push(stripe(style, 'Column', column - area.left));
    return parts;
  }

  private changeAt(row: number, column: number): DressChange {
    const down = new Map(this.rowParts(row).map((each) => [each.part, each]));
    const across = new Map(this.columnParts(column).map((each) => [each.part, each]));
    const edges = { down: down.get('wholeTable')!, across: across.get('wholeTable')! };
    const isBody = !down.has('headerRow') && !down.has('totalRow');
    let change: DressChange = {};
    for (const part of STYLE_PARTS) {
      const dress = this.table.style[part];
      if (!dress) continue;
      const places = placeIn(part, down, across, edges, isBody);
      if (places) change = over(change, dress, places);
    }
    return change;
  }
}

/** Which of two alternating stripes a place lies in, and whether at its edges. */
function stripe(style: SheetTableStyle, way: 'Row' | 'Column', at: number): Reaches {
  const first = style[`first${way}Stripe`]?.size ?? 1;
  const second = style[`second${way}Stripe`]?.size ?? 1;
  const within = at % (first + second);
  const isInFirst = within < first;
  const place = isInFirst ? within : within - first;
  return {
    part: isInFirst ? `first${way}Stripe` : `second${way}Stripe`,
    isFirst: place === 0,
    isLast: place === (isInFirst ? first : second) - 1,
  };
}

type Edges = { top: boolean; bottom: boolean; left: boolean; right: boolean };

/** At which edges of a part a cell stands; null when it is none of the part's. */
function placeIn(
  part: StylePart,
  down: ReadonlyMap<StylePart, Reaches>,
  across: ReadonlyMap<StylePart, Reaches>,
  table: { down: Reaches; across: Reaches },
  isBody: boolean,
): Edges | null {
  const edges = (rows: Reaches, columns: Reaches): Edges => ({
    top: rows.isFirst,
    bottom: rows.isLast,
    left: columns.isFirst,
    right: columns.isLast,
  });
  const corner = (row: StylePart, isLast: boolean): Edges | null =>
    down.has(row) && (isLast ? across.has('lastColumn') : across.has('firstColumn'))
      ? { top: true, bottom: true, left: true, right: true }
      : null;
  switch (part) {
    case 'wholeTable':
      return edges(table.down, table.across);
    case 'headerRow':
    case 'totalRow':
    case 'firstRowStripe':
    case 'secondRowStripe': {
      const rows = down.get(part);
      return rows ? edges(rows, table.across) : null;
    }
    case 'firstColumnStripe':
    case 'secondColumnStripe': {
      const columns = across.get(part);
      return columns && isBody ? edges(down.get('firstColumnStripe')!, columns) : null;
    }
    case 'firstColumn':
    case 'lastColumn': {
      const columns = across.get(part);
      return columns ? edges(table.down, columns) : null;
    }
    case 'firstHeaderCell':
      return corner('headerRow', false);
    case 'lastHeaderCell':
      return corner('headerRow', true);
    case 'firstTotalCell':
      return corner('totalRow', false);
    case 'lastTotalCell':
      return corner('totalRow', true);
  }
}

/** A change with what a part says laid over it. */
function over(before: DressChange, part: PartDress, edges: Edges): DressChange {
  const {
    horizontalLine,
    verticalLine,
    size: _,
    top,
    right,
    bottom,
    left,
    letters,
    ...rest
  } = part;
  const lines = {
    top: edges.top ? top : horizontalLine,
    bottom: edges.bottom ? bottom : horizontalLine,
    left: edges.left ? left : verticalLine,
    right: edges.right ? right : verticalLine,
  };
  const change: DressChange = { ...before, ...rest };
  for (const side of SIDES) {
    const line = lines[side];
    if (line) change[side] = line;
  }
  if (letters) change.letters = { ...before.letters, ...letters };
  return change;
}
