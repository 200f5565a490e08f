import type { Area } from '../sheet/address.ts';
import { anchorAt } from './evidence.ts';
import type { Anchor } from './found.ts';
import { KeyCounts, Tally } from './key-counts.ts';
import { isSameName, type OwnLines, ownLines, type Place } from './place.ts';
import { placesIn } from './places-in.ts';
import { type SheetPrint, within } from './sheet-print.ts';
import { tallied } from './windows.ts';

/** A sheet that has less than this of what the area holds is not looked at. */
const LEAST_CONTENT = 0.2;

/** The same of a sheet with the name of the one that it was on. */
const LEAST_NAMED = 0.1;

const MOST_SHEETS = 6;

/**
 * Where an area of a sheet stands in another state of its workbook, the best place first; none where it is not found. Rows and
 * columns are matched by what they hold (`alignSheets`), over the whole sheet, so that what stands around the area speaks too.
 * `namesBefore` are the names of all sheets that the workbook had: one that is new may be the sheet under another name.
 */
export function anchorsOf(
  before: SheetPrint,
  area: Area,
  after: readonly SheetPrint[],
  namesBefore: readonly string[] = [before.name],
): Anchor[] {
  const own = ownLines(before, area);
  if (own.filled === 0) return [];
  let counted: KeyCounts | null = null;
  const wanted = () => {
    counted ??= countKeys(before, own);
    return counted;
  };
  const isItself = itselfAmong(before.name, after, namesBefore);
  const sheets = after
    .map((sheet) => ({
      sheet,
      // Of a single sheet it need not be asked.
      content: after.length === 1 ? 1 : contentOf(wanted, sheet) / own.filled,
      isNamed: isItself(sheet.name),
    }))
    .filter(({ content, isNamed }) => content >= (isNamed ? LEAST_NAMED : LEAST_CONTENT))
    .sort((a, b) => Number(b.isNamed) - Number(a.isNamed) || b.content - a.content)
    .slice(0, MOST_SHEETS);
  const found = sheets.flatMap(({ sheet }) =>
    placesIn(before, area, own, wanted, sheet, isItself(sheet.name)),
  );
  const ranked = found.sort((a, b) => b.rank - a.rank);
  return ranked.map((place) => {
    const others = ranked.filter((each) => each.matching !== place.matching);
    const rival = Math.max(0, ...others.map(({ share }) => share));
    const elsewhere = elsewhereOf(wanted, own.filled, after, place) / own.filled;
    return anchorAt(area, place, rival, elsewhere);
  });
}

function countKeys(print: SheetPrint, { top, below, left, beside, filled }: OwnLines): KeyCounts {
  const counts = new KeyCounts(filled);
  const width = print.columns.length;
  for (let row = top; row < below; row++) {
    for (let column = left; column < beside; column++) {
      const key = print.keys[row * width + column]!;
      if (key !== 0) counts.add(key);
    }
  }
  return counts;
}

/** How many of the wanted cells a sheet can hold, wherever. */
function contentOf(wanted: () => KeyCounts, { keys }: SheetPrint): number {
  const tally = new Tally(wanted());
  for (const key of keys) if (key !== 0) tally.add(key);
  return tally.found;
}

/** Which sheet is the one from before: that of its name, or, where there is none, any that was not there under its own name. */
function itselfAmong(
  name: string,
  after: readonly SheetPrint[],
  namesBefore: readonly string[],
): (name: string) => boolean {
  if (after.some((sheet) => isSameName(sheet.name, name))) return (each) => isSameName(each, name);
  return (each) => !namesBefore.some((other) => isSameName(other, each));
}

/** From how much more cells on a place is looked through for copies. */
const LARGER = 1.15;

/** How many of the wanted cells stand anywhere but at a place, or there once more. */
function elsewhereOf(
  wanted: () => KeyCounts,
  filled: number,
  sheets: readonly SheetPrint[],
  { sheet, area }: Place,
): number {
  let tally: Tally | null = null;
  for (const { name, rows, columns, keys } of sheets) {
    const isOwn = isSameName(name, sheet.name);
    const [left, beside] = within(columns, area.left, area.right);
    for (let row = 0; row < rows.length; row++) {
      const isBeside = !isOwn || rows[row]! < area.top || rows[row]! > area.bottom;
      const from = row * columns.length;
      for (let column = 0; column < columns.length; column++) {
        if (column === left && !isBeside) column = beside;
        const key = column < columns.length ? keys[from + column]! : 0;
        if (key === 0) continue;
        tally ??= new Tally(wanted());
        tally.add(key);
      }
    }
  }
  const there = ownLines(sheet, area).filled;
  // One that holds much more than the area did may hold a copy too.
  const twice = there > filled * LARGER ? tallied(sheet, area, wanted()).twice : 0;
  return (tally?.found ?? 0) + twice;
}
