import type { Place } from '@tether/contract';
import {
  type Anchor,
  anchorsOf,
  formatArea,
  formatReference,
  printSheet,
  type Reach,
  reachAt,
  type SheetPrint,
  type Snapshot,
} from '@tether/core';
import { type OpenSource, printSource } from '@tether/formats';
import { unpackPrints } from '../storage/packed-prints.ts';

/** Places of a sheet that are looked at, from its first row: a long one is not read as a whole at each save. */
const MOST_PLACES = 400_000;
/** What has fewer cells is told by what stands beside and above it, not by what it holds. */
const FEWEST_CELLS = 8;
/** So much more must stand at another place before it is said that it may have gone there. */
const MORE_THERE = 0.2;
const STANDS_THERE = 0.5;

/** Where the cells of an object stand, where that is not where its reach says. */
export type MovedCells =
  | { isCertain: true; reach: Reach; reasons: string[] }
  | { isCertain: false; places: Place[] };

/** The sheets of a source as they are, and as they were when it was read last; made when they are first asked for. */
export interface Prints {
  now: () => Promise<SheetPrint[]>;
  /** Empty where that is not kept. */
  before: () => SheetPrint[];
}

/** The prints of a source; `packed` are those of before. */
export function printsOf(source: OpenSource, packed: Uint8Array | null): Prints {
  let made: Promise<SheetPrint[]> | null = null;
  let unpacked: SheetPrint[] | null = null;
  return {
    now: () => {
      made ??= printSource(source, MOST_PLACES).then((printed) =>
        printed.ok ? printed.value.prints.filter((print) => print !== null) : [],
      );
      return made;
    },
    before: () => {
      unpacked ??= packed ? unpackPrints(packed) : [];
      return unpacked;
    },
  };
}

/**
 * Where what an object shows stands now: rows came above it, its sheet was renamed, it was moved. Null where it stands where it stood,
 * or nothing says where; `taken` is what its reach gives, null where its sheet is not there.
 */
export async function findMoved(
  reach: Reach,
  base: Snapshot,
  taken: Snapshot | null,
  prints: Prints,
): Promise<MovedCells | null> {
  if (reach.kind === 'name' || reach.kind === 'chart') return null;
  // Growing blocks and picked columns find their headers by themselves, on a sheet that is there.
  if (taken && reach.kind !== 'block') return null;
  const filled = base.cells.filter(({ type }) => type !== 'blank');
  if (filled.length < FEWEST_CELLS || (taken && isInPlace(base, filled, taken))) return null;
  const anchors = await placesOf(reach, base, filled, prints);
  const [first] = anchors;
  if (!first) return null;
  const isHere =
    taken !== null &&
    first.sheet === taken.sheet &&
    formatArea(first.area) === formatArea(taken.area);
  if (isHere) return null;
  if (first.isCertain) {
    return { isCertain: true, reach: reachAt(reach, base.area, first), reasons: first.reasons };
  }
  const { cells } = first.evidence;
  if (!taken || cells < STANDS_THERE || cells < shareInPlace(base, filled, taken) + MORE_THERE)
    return null;
  return {
    isCertain: false,
    places: anchors.map(({ sheet, area, reasons }) => ({
      reach: reachAt(reach, base.area, { sheet, area }),
      where: formatReference({ sheet, area }),
      reasons,
    })),
  };
}

/** Where the cells stand now: told by the whole sheet as it was, where that is kept, else by what the object shows of it alone. */
async function placesOf(
  reach: Reach,
  base: Snapshot,
  filled: Filled,
  prints: Prints,
): Promise<Anchor[]> {
  if (reach.kind === 'block') {
    const before = prints.before();
    const sheet = before.find(({ name }) => name === reach.sheet);
    if (sheet) {
      const names = before.map(({ name }) => name);
      return anchorsOf(sheet, reach.area, await prints.now(), names);
    }
  }
  const print = printSheet(base.sheet, filled);
  return print ? anchorsOf(print, base.area, await prints.now()) : [];
}

type Filled = Snapshot['cells'];

/** Whether all texts stand where they stood, seen from the first cell: then only figures changed. */
function isInPlace(base: Snapshot, filled: Filled, taken: Snapshot): boolean {
  const texts = filled.filter(({ type }) => type === 'text');
  return texts.length > 0 && shareInPlace(base, texts, taken) === 1;
}

/** What the object shows may have been taken from another place than its reach names by now: places are counted within it. */
function shareInPlace(base: Snapshot, cells: Filled, taken: Snapshot): number {
  const down = taken.area.top - base.area.top;
  const across = taken.area.left - base.area.left;
  const now = new Map(taken.cells.map((cell) => [`${cell.row},${cell.column}`, cell]));
  const same = cells.filter(({ row, column, type, value }) => {
    const cell = now.get(`${row + down},${column + across}`);
    return cell?.type === type && cell.value === value;
  });
  return same.length / cells.length;
}
