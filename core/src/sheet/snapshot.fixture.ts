import type { Cell, Snapshot } from './sheet.ts';

/** A value of a cell as tests write it; null for an empty one. */
export type FixtureValue =
  | string
  | number
  | null
  | { date: string }
  | { sum: number }
  | { error: string }
  | { number: number; format: string };

/** A snapshot of rows of values from A1, in one plain dress. */
export function snapshotOf(
  rows: readonly (readonly FixtureValue[])[],
  hidden: { rows?: number[]; columns?: number[] } = {},
): Snapshot {
  const cells = rows.flatMap((row, r) =>
    row.flatMap((value, c): Cell[] => {
      const at = { row: r + 1, column: c + 1, dress: 0 };
      if (value === null) return [];
      if (typeof value === 'number')
        return [{ ...at, type: 'number', value, text: String(value), format: '#,##0' }];
      if (typeof value === 'string') return [{ ...at, type: 'text', value, text: value }];
      if ('date' in value) return [{ ...at, type: 'date', value: value.date, text: value.date }];
      if ('error' in value)
        return [{ ...at, type: 'error', value: value.error, text: value.error }];
      if ('number' in value) {
        const { number, format } = value;
        return [{ ...at, type: 'number', value: number, text: String(number), format }];
      }
      return [
        { ...at, type: 'number', value: value.sum, text: String(value.sum), formula: 'SUM(B2:B9)' },
      ];
    }),
  );
  return {
    sheet: 'Counts',
    area: {
      top: 1,
      left: 1,
      bottom: rows.length,
      right: Math.max(1, ...rows.map((row) => row.length)),
    },
    cells,
    merges: [],
    columns: (hidden.columns ?? []).map((index) => ({ index, hidden: true as const })),
    rows: (hidden.rows ?? []).map((index) => ({ index, hidden: true as const })),
    dresses: [{ letters: { family: 'Calibri', size: 11 } }],
    defaults: { columnWidth: 9, rowHeight: 15, digitWidth: 7 },
  };
}
