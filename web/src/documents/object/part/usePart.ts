import {
  type BandKey,
  columnKeys,
  columnName,
  type DocumentLook,
  dressSnapshot,
  gridOf,
  headerOf,
  isSameBand,
  type Override,
  type OverrideLook,
  rowKeys,
  type Sample,
  type ShownLook,
  type Snapshot,
  sampleOf,
  setOverride,
  shownLook,
  type TableLook,
} from '@tether/core';
import { useMemo } from 'react';
import { useAppDispatch, useAppSelector } from '../../../state/store.ts';
import { cellPicked } from '../../../state/workbench-slice.ts';

interface Wish {
  tetherId: string;
  snapshot: Snapshot;
  overrides: readonly Override[];
  /** What of the table follows the report, and how that looks. */
  look: TableLook;
  document: DocumentLook;
  onChange: (overrides: Override[]) => void;
}

/** The picked part of a table: a cell, a row, a column or all of it, and what is set for it. */
export interface Part {
  rows: readonly BandKey[];
  columns: readonly BandKey[];
  row: BandKey | null;
  column: BandKey | null;
  /** Whether somebody picked it; otherwise it is the whole table. */
  isPicked: boolean;
  kind: 'cell' | 'row' | 'column' | 'table';
  /** Its name in words. */
  name: string;
  look: OverrideLook;
  shown: ShownLook;
  /** The first figure in it, to show number formats with. */
  sample: Sample | null;
  /** Colours of its table, those of letters and those of fills. */
  colours: { letters: string[]; fills: string[] };
  set: (change: OverrideLook) => void;
  /** Takes all back that is set for this part. */
  clear: () => void;
  pick: (part: { row?: number | null; column?: number | null }) => void;
}

/** Follows what is picked of a table, and changes what is set for it. */
export function usePart({ tetherId, snapshot, overrides, look, document, onChange }: Wish): Part {
  const dispatch = useAppDispatch();
  const picked = useAppSelector(({ workbench }) =>
    workbench.picked?.tetherId === tetherId ? workbench.picked : null,
  );
  const { rows, columns } = useMemo(() => {
    const grid = gridOf(snapshot);
    return { rows: rowKeys(grid), columns: columnKeys(snapshot, grid) };
  }, [snapshot]);
  const dressed = useMemo(
    () => dressSnapshot(snapshot, { look, document, overrides }),
    [snapshot, look, document, overrides],
  );
  const colours = useMemo(() => {
    const { dresses } = dressed;
    return {
      letters: dresses.flatMap(({ letters }) => letters.colour ?? []),
      fills: dresses.flatMap(({ fill }) => fill ?? []),
    };
  }, [dressed]);
  const sample = useMemo(() => {
    const { title, rows: headed } = headerOf(snapshot);
    const below = gridOf(snapshot).filter((_, at) =>
      picked?.row == null ? at >= title + headed : at === picked.row,
    );
    return sampleOf(
      below.flatMap((cells) => (picked?.column == null ? cells : [cells[picked.column]])),
    );
  }, [snapshot, picked?.row, picked?.column]);
  const row = picked?.row == null ? null : (rows[picked.row] ?? null);
  const column = picked?.column == null ? null : (columns[picked.column] ?? null);
  const isIt = (each: Override) => isSameBand(each.row, row) && isSameBand(each.column, column);
  return {
    rows,
    columns,
    row,
    column,
    isPicked: row !== null || column !== null,
    kind: row && column ? 'cell' : row ? 'row' : column ? 'column' : 'table',
    name: nameOfPart({ row, column }),
    look: overrides.find(isIt)?.look ?? {},
    shown: shownLook(dressed, picked?.row ?? null, picked?.column ?? null),
    sample,
    colours,
    set: (change) => onChange(setOverride(overrides, row, column, change)),
    clear: () => onChange(overrides.filter((each) => !isIt(each))),
    pick: (part) =>
      void dispatch(
        cellPicked({ tetherId, row: picked?.row ?? null, column: picked?.column ?? null, ...part }),
      ),
  };
}

/** What a part of a table is called. */
export function nameOfPart({ row, column }: Pick<Override, 'row' | 'column'>): string {
  if (row && column) return `${row.text || 'a row'}, ${column.text || 'a column'}`;
  if (row) return `Row ${row.text || 'without a name'}`;
  if (column) return `Column ${column.text || 'without a name'}`;
  return 'Whole table';
}

/** What a row is called in a list. */
export function nameOfRow(key: BandKey, at: number, { area }: Snapshot): string {
  return key.text || `row ${area.top + at}`;
}

/** What a column is called in a list. */
export function nameOfColumn(key: BandKey, at: number, { area }: Snapshot): string {
  return key.text || `column ${columnName(area.left + at)}`;
}
