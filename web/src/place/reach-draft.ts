import type { Area, Header, PickedHeader, Reach } from '@tether/core';

/** What a person has chosen so far on the way to a reach. */
export interface ReachDraft {
  kind: Reach['kind'];
  sheet: string;
  /** The range taken on the sheet. */
  area: Area | null;
  /** Headers ticked for picked columns. */
  columns: PickedHeader[];
  name: { name: string; sheet: string | null } | null;
  /** A chart of the source. */
  chart: { id: string; sheet: string } | null;
  withHidden: boolean;
  /** Rows of title and header, where that was said. */
  headed: Header | null;
}

/** Nothing chosen yet on the sheet: a block, for that is what a drag gives. */
export function emptyDraft(sheet: string): ReachDraft {
  return {
    kind: 'block',
    sheet,
    area: null,
    columns: [],
    name: null,
    chart: null,
    withHidden: false,
    headed: null,
  };
}

/** The reach that the draft means, or null while something is missing for it. */
export function reachOf(draft: ReachDraft): Reach | null {
  const { kind, sheet, area } = draft;
  const options = {
    ...(draft.withHidden ? { hidden: 'in' as const } : {}),
    ...(draft.headed ? { headed: draft.headed } : {}),
  };
  switch (kind) {
    case 'block':
      return area && { kind, sheet, area, ...options };
    case 'growing block': {
      if (!area) return null;
      const { top, left, right } = area;
      return { kind, sheet, header: { row: top, left, right }, ...options };
    }
    case 'whole sheet':
      return { kind, sheet, ...options };
    case 'name':
      return draft.name && { kind, ...draft.name, ...options };
    case 'chart':
      return draft.chart && { kind, sheet: draft.chart.sheet, chart: draft.chart.id };
    case 'picked columns':
      if (!area || draft.columns.length === 0) return null;
      return { kind, sheet, headerRow: area.top, columns: draft.columns, ...options };
  }
}

/** The draft from which a reach came, to go on from it. `area` is where the reach lies now. */
export function draftOf(reach: Reach, area: Area | null, firstSheet: string): ReachDraft {
  return {
    kind: reach.kind,
    sheet: reach.kind === 'name' ? firstSheet : reach.sheet,
    area: reach.kind === 'block' ? reach.area : area,
    columns: reach.kind === 'picked columns' ? reach.columns : [],
    name: reach.kind === 'name' ? { name: reach.name, sheet: reach.sheet } : null,
    chart: reach.kind === 'chart' ? { id: reach.chart, sheet: reach.sheet } : null,
    withHidden: reach.hidden === 'in',
    headed: reach.headed ?? null,
  };
}

/** What of a draft tells the person to do next, while it is no reach yet. */
export function nextStep({ kind }: ReachDraft): string {
  switch (kind) {
    case 'block':
      return 'Drag over the cells, or type their range.';
    case 'growing block':
      return 'Drag over the header row, from its first column to its last.';
    case 'name':
      return 'Choose the name or table.';
    case 'picked columns':
      return 'Take the header row on the sheet, then tick the columns.';
    case 'chart':
      return 'Choose the chart.';
    case 'whole sheet':
      return '';
  }
}
