import type { Area } from '../sheet/address.ts';
import type { Snapshot } from '../sheet/sheet.ts';
import { matchedPlaces } from './change-slip.ts';
import { faceOf } from './compare-cells.ts';
import { cellFinder, type Edit, faceOfEdit } from './edits.ts';
import type { Face } from './slip.ts';

/**
 * What becomes of an edit when the source has changed: `kept`, since the source left its cell alone; `same`, since the source
 * says the same now; `contested`, since both changed it to different things; `gone`, since its row or column is there no more.
 */
export type MergeKind = 'kept' | 'same' | 'contested' | 'gone';

/** One edit, against what both sides agreed on and what the source holds now. */
export interface MergedEdit {
  edit: Edit;
  kind: MergeKind;
  /** Where its cell stands in the source now; null where it is gone. */
  place: { row: number; column: number } | null;
  /** What both sides agreed on, what the source holds now, and what is wanted here. */
  agreed: Face | null;
  theirs: Face | null;
  yours: Face | null;
}

/** What a person decided on a contested cell. */
export type Decision = 'theirs' | 'yours' | { value: Edit['value'] };

/**
 * Edits made in a document, merged with what the source holds now. Rows and columns are aligned by what they hold, so that an
 * edit follows its row wherever it went. Cells without edits are always those of the source.
 */
export function mergeEdits(base: Snapshot, now: Snapshot, edits: readonly Edit[]): MergedEdit[] {
  if (edits.length === 0) return [];
  const { rows, columns } = base === now ? sameIn(base) : matchedPlaces(base, now);
  const [inBase, inNow] = [cellFinder(base), cellFinder(now)];
  return edits.map((edit): MergedEdit => {
    const before = inBase(edit.row, edit.column);
    const agreed = edit.agreed === undefined ? faceOf(before) : edit.agreed;
    const yours = faceOfEdit(before, edit);
    const [row, column] = [rows.get(edit.row), columns.get(edit.column)];
    if (row === undefined || column === undefined) {
      return { edit, kind: 'gone', place: null, agreed, theirs: null, yours };
    }
    const theirs = faceOf(inNow(row, column));
    const kind = isSameValue(theirs, yours)
      ? 'same'
      : isSameValue(theirs, agreed)
        ? 'kept'
        : 'contested';
    return { edit, kind, place: { row, column }, agreed, theirs, yours };
  });
}

function sameIn({ area }: Snapshot): ReturnType<typeof matchedPlaces> {
  const whole = (from: number, to: number) =>
    new Map(Array.from({ length: to - from + 1 }, (_, at) => [from + at, from + at]));
  return { rows: whole(area.top, area.bottom), columns: whole(area.left, area.right) };
}

/** Areas of a sheet after its rows and columns moved: each from its first to its last row and column that are still there. */
export function movedAreas(base: Snapshot, now: Snapshot, areas: readonly Area[]): Area[] {
  if (areas.length === 0 || base === now) return [...areas];
  const { rows, columns } = matchedPlaces(base, now);
  const within = (places: ReadonlyMap<number, number>, from: number, to: number) =>
    [...places].filter(([was]) => was >= from && was <= to).map(([, is]) => is);
  return areas.flatMap(({ top, left, bottom, right }) => {
    const down = within(rows, top, bottom);
    const across = within(columns, left, right);
    if (down.length === 0 || across.length === 0) return [];
    const least = (all: number[]) => all.reduce((a, b) => Math.min(a, b));
    const most = (all: number[]) => all.reduce((a, b) => Math.max(a, b));
    return [{ top: least(down), left: least(across), bottom: most(down), right: most(across) }];
  });
}

/** Whether two cells hold the same: by value, since a number format may show one value in two ways. */
export function isSameValue(a: Face | null, b: Face | null): boolean {
  if (a === null || b === null) return a === b;
  return a.value === b.value && isText(a) === isText(b);
}

const isText = ({ type }: Face) => type === 'text';

/** What is still to be decided before anything can be written: contested edits and those whose cell is gone. */
export function undecided(
  merged: readonly MergedEdit[],
  decisions: ReadonlyMap<Edit, Decision>,
): MergedEdit[] {
  return merged.filter(
    ({ kind, edit }) => (kind === 'contested' || kind === 'gone') && !decisions.has(edit),
  );
}

/**
 * The edits that stand upon the source as it is now, with its places, once decisions are taken: those that are kept, and of
 * contested ones those that were decided for what is wanted here or for something else. What the source says already is no
 * edit any more; one whose cell is gone can only be let go. What is undecided stays as it is wanted.
 */
export function editsUpon(
  merged: readonly MergedEdit[],
  decisions: ReadonlyMap<Edit, Decision> = new Map(),
): Edit[] {
  return merged.flatMap(({ edit, kind, place }) => {
    if (!place || kind === 'same') return [];
    const decision = kind === 'contested' ? (decisions.get(edit) ?? 'yours') : 'yours';
    if (decision === 'theirs') return [];
    const value = decision === 'yours' ? edit.value : decision.value;
    return [{ ...edit, ...place, value }];
  });
}
