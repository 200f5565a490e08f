import { describe, expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import type { Cell, Snapshot } from '../sheet/sheet.ts';
import { changeSlip, changesOnly } from './change-slip.ts';
import { matchedColumns } from './sides.ts';
import type { ChangeSlip } from './slip.ts';
import { showPerCent } from './slip-totals.ts';
import { cellsBehind, isEmptySlip, summariseSlip } from './slip-words.ts';

type Value = string | number | null;

function table(rows: Value[][], options: Partial<Snapshot> = {}, format?: string): Snapshot {
  const cells: Cell[] = [];
  rows.forEach((row, r) => {
    row.forEach((value, c) => {
      if (value === null) return;
      cells.push({
        row: r + 3,
        column: c + 1,
        type: typeof value === 'number' ? 'number' : 'text',
        value,
        text: String(value),
        ...(format && typeof value === 'number' ? { format } : {}),
        dress: 0,
      });
    });
  });
  return {
    sheet: 'Counts',
    area: {
      top: 3,
      left: 1,
      bottom: rows.length + 2,
      right: Math.max(1, ...rows.map((row) => row.length)),
    },
    cells,
    merges: [],
    columns: [],
    rows: [],
    dresses: [{ letters: { family: 'Calibri', size: 11 } }],
    defaults: { columnWidth: 9, rowHeight: 15, digitWidth: 7 },
    ...options,
  };
}

/** Figures row by row, as the slip compares them. */
function faces({ area, cells }: Snapshot): string[][] {
  const width = area.right - area.left + 1;
  const rows = Array.from({ length: area.bottom - area.top + 1 }, () =>
    new Array<string>(width).fill(''),
  );
  for (const { row, column, type, value } of cells) {
    rows[row - area.top]![column - area.left] = `${type}:${value}`;
  }
  return rows;
}

/** Carries out a slip on the figures of `before`: what a refresh means. */
function apply(
  before: Snapshot,
  slip: ChangeSlip,
  { top, left, right }: Snapshot['area'],
  columns: ReadonlyMap<number, number>,
): string[][] {
  const removed = new Set(
    slip.rows.filter((row) => row.kind === 'removed').map((row) => row.before),
  );
  const width = right - left + 1;
  const kept = faces(before)
    .filter((_, index) => !removed.has(before.area.top + index))
    .map((row) => {
      const placed = new Array<string>(width).fill('');
      for (const [old, now] of columns) placed[now - left] = row[old - before.area.left]!;
      return placed;
    });
  const rows: string[][] = [];
  const arriving = slip.rows.filter((row) => row.kind === 'inserted');
  while (kept.length > 0 || arriving.length > 0) {
    if (arriving[0]?.after === top + rows.length) {
      arriving.shift();
      rows.push(new Array<string>(width).fill(''));
    } else rows.push(kept.shift()!);
  }
  for (const row of slip.rows) {
    if (row.after === null) continue;
    for (const { column, after } of row.cells) {
      rows[row.after - top]![column - 1] = after ? `${after.type}:${after.value}` : '';
    }
  }
  for (const { kind, after, cells } of slip.columns ?? []) {
    if (kind !== 'inserted') continue;
    for (const { row, face } of cells) {
      rows[row - top]![after! - left] = `${face.type}:${face.value}`;
    }
  }
  return rows;
}

/** The slip the other way round. */
function inverse(slip: ChangeSlip): ChangeSlip {
  const KINDS = { inserted: 'removed', removed: 'inserted', changed: 'changed' } as const;
  return {
    ...slip,
    rows: slip.rows.map((row) => ({
      ...row,
      kind: KINDS[row.kind],
      before: row.after,
      after: row.before,
      cells: row.cells.map(({ columnBefore, ...cell }) => ({
        ...cell,
        column: columnBefore ?? cell.column,
        columnBefore: cell.column,
        before: cell.after,
        after: cell.before,
      })),
    })),
    ...(slip.columns
      ? {
          columns: slip.columns.map((column) => ({
            ...column,
            kind:
              column.kind === 'moved'
                ? 'moved'
                : column.kind === 'inserted'
                  ? 'removed'
                  : 'inserted',
            before: column.after,
            after: column.before,
          })),
        }
      : {}),
  };
}

const HEADER = ['Plot', 'Species', 'Planted', 'Surviving'];
const PLOTS: Value[][] = [
  HEADER,
  ['SC-01', 'Cordgrass', 240, 221],
  ['SC-02', 'Cordgrass', 240, 198],
  ['SC-03', 'Purslane', 180, 164],
  ['SC-04', 'Purslane', 180, 97],
];

describe('a change slip', () => {
  test('of equal tables is empty', () => {
    const slip = changeSlip(table(PLOTS), table(PLOTS));
    expect(isEmptySlip(slip)).toBe(true);
    expect(summariseSlip(slip)).toBe('no change');
  });

  test('lists a changed cell with its row, its column and the difference, and the total first', () => {
    const after = PLOTS.map((row) => [...row]);
    after[4]![3] = 104;
    const slip = changeSlip(table(PLOTS), table(after));
    expect(slip.rows).toEqual([
      {
        kind: 'changed',
        before: 7,
        after: 7,
        label: 'SC-04',
        cells: [
          {
            column: 4,
            header: 'Surviving',
            before: { type: 'number', value: 97, text: '97' },
            after: { type: 'number', value: 104, text: '104' },
            difference: '+7',
            kind: 'figure',
          },
        ],
      },
    ]);
    expect(slip.totals).toEqual([
      {
        column: 4,
        header: 'Surviving',
        before: '680',
        after: '687',
        difference: '+7',
        perCent: '+1.0 %',
      },
    ]);
    expect(summariseSlip(slip)).toBe('1 cell changed');
  });

  test('reads an inserted row as one inserted row', () => {
    const after = [...PLOTS.slice(0, 3), ['SC-02b', 'Aster', 150, 120], ...PLOTS.slice(3)];
    const slip = changeSlip(table(PLOTS), table(after));
    expect(slip.rows.map(({ kind, before, after }) => [kind, before, after])).toEqual([
      ['inserted', null, 6],
    ]);
    expect(summariseSlip(slip)).toBe('1 row inserted');
  });

  test('keeps a row that was inserted above apart from a figure changed below', () => {
    const after = [HEADER, ['SC-00', 'Aster', 10, 9], ...PLOTS.slice(1).map((row) => [...row])];
    after[5]![3] = 99;
    const slip = changeSlip(table(PLOTS), table(after));
    expect(slip.rows.map(({ kind, label }) => [kind, label])).toEqual([
      ['inserted', 'SC-00'],
      ['changed', 'SC-04'],
    ]);
  });

  test('follows a row by its label when all its figures changed', () => {
    const after = PLOTS.map((row) => [...row]);
    after[2] = ['SC-02', 'Glasswort', 300, 12];
    const slip = changeSlip(table(PLOTS), table(after));
    expect(slip.rows.map(({ kind, label, cells }) => [kind, label, cells.length])).toEqual([
      ['changed', 'SC-02', 3],
    ]);
  });

  test('tells a removed row', () => {
    const slip = changeSlip(table(PLOTS), table(PLOTS.filter((_, index) => index !== 2)));
    expect(slip.rows.map(({ kind, label }) => [kind, label])).toEqual([['removed', 'SC-02']]);
    expect(slip.counts).toEqual({ cells: 0, inserted: 0, removed: 1, moved: 0, looks: 0 });
  });

  test('says per cent of what a total was, where that says something', () => {
    expect(showPerCent(1815, 1822)).toBe('+0.4 %');
    expect(showPerCent(-40, -60)).toBe('−50 %');
    expect([showPerCent(0, 5), showPerCent(5, 5)]).toEqual(['', '']);
  });

  test('tells a row that moved once, from where to where', () => {
    const [header, first, ...others] = PLOTS;
    const slip = changeSlip(table(PLOTS), table([header!, ...others, first!]));
    expect(slip.rows).toMatchObject([
      { kind: 'removed', label: 'SC-01', before: 4, twin: 1 },
      { kind: 'inserted', label: 'SC-01', after: 7, twin: 0 },
    ]);
    expect(slip.counts).toMatchObject({ inserted: 0, removed: 0, moved: 1 });
    expect(summariseSlip(slip)).toBe('1 row moved');
  });

  test('pairs rows of bare figures by place', () => {
    const slip = changeSlip(table([[1], [2], [3]]), table([[1], [5], [3]]));
    expect(slip.rows.map(({ kind, cells }) => [kind, cells[0]?.difference])).toEqual([
      ['changed', '+3'],
    ]);
  });

  test('counts no total twice: a cell that is a sum stays out', () => {
    const withSum = (rows: Value[][], sum: number) => {
      const snapshot = table([...rows, ['All', null, null, sum]]);
      snapshot.cells.at(-1)!.formula = 'SUM(D4:D7)';
      return snapshot;
    };
    const after = PLOTS.map((row) => [...row]);
    after[1]![3] = 222;
    const slip = changeSlip(withSum(PLOTS, 680), withSum(after, 681));
    expect(slip.totals[0]).toMatchObject({ before: '680', after: '681' });
  });

  test('tells a cell that only looks different from one with another figure', () => {
    const after = table(PLOTS, {
      dresses: [{ letters: { family: 'Calibri', size: 11, bold: true } }],
    });
    const slip = changeSlip(table(PLOTS), after);
    expect(slip.counts.cells).toBe(0);
    expect(slip.counts.looks).toBe(20);
    expect(slip.rows.every((row) => row.cells.every(({ kind }) => kind === 'look'))).toBe(true);
  });

  test('does not mind in which order a look was written', () => {
    const before = table(PLOTS, {
      dresses: [{ letters: { family: 'Arial', size: 10 }, fill: '#FFFFFF' }],
    });
    const after = table(PLOTS, {
      dresses: [{ fill: '#FFFFFF', letters: { size: 10, family: 'Arial' } }],
    });
    expect(isEmptySlip(changeSlip(before, after))).toBe(true);
  });

  test('tells changed widths and merged cells', () => {
    const wider = table(PLOTS, { columns: [{ index: 2, size: 30 }] });
    expect(changeSlip(table(PLOTS), wider)).toMatchObject({ arrangement: true, rows: [] });
    const merged = table(PLOTS, { merges: [{ top: 3, left: 1, bottom: 3, right: 2 }] });
    expect(isEmptySlip(changeSlip(table(PLOTS), merged))).toBe(false);
  });

  test('gives the difference of dates in days', () => {
    const day = (value: string) => {
      const snapshot = table([
        ['Due', 'x'],
        ['Decking', 'y'],
      ]);
      snapshot.cells.push({ row: 4, column: 3, type: 'date', value, text: value });
      snapshot.area.right = 3;
      return snapshot;
    };
    const slip = changeSlip(day('2026-11-20'), day('2026-12-01'));
    expect(slip.rows[0]!.cells[0]!.difference).toBe('+11 days');
  });
});

describe('for any two tables', () => {
  const value = fc.oneof(
    fc.constantFrom<Value>(null, 'a', 'b', 'c', 1, 2, 3),
    fc.integer({ min: 0, max: 1000 }),
    fc.string({ maxLength: 4 }).filter((text) => text !== ''),
  );
  const tables = fc.array(fc.array(value, { minLength: 3, maxLength: 3 }), {
    minLength: 1,
    maxLength: 14,
  });

  test('carrying out the slip on the one gives the other', () => {
    fc.assert(
      fc.property(tables, tables, (a, b) => {
        const [before, after] = [table(a), table(b)];
        const slip = changeSlip(before, after);
        const columns = matchedColumns(before, after);
        expect(apply(before, slip, after.area, columns)).toEqual(faces(after));
      }),
      { numRuns: runs(300) },
    );
  });

  test('carrying out the inverse of the slip on the other gives the one back', () => {
    fc.assert(
      fc.property(tables, tables, (a, b) => {
        const [before, after] = [table(a), table(b)];
        const slip = changeSlip(before, after);
        const back = new Map([...matchedColumns(before, after)].map(([old, now]) => [now, old]));
        expect(apply(after, inverse(slip), before.area, back)).toEqual(faces(before));
      }),
      { numRuns: runs(300) },
    );
  });

  test('the slip is empty exactly when both are equal', () => {
    fc.assert(
      fc.property(tables, tables, fc.boolean(), (a, b, isSame) => {
        const [before, after] = [table(a), table(isSame ? a : b)];
        const isEqual = JSON.stringify(faces(before)) === JSON.stringify(faces(after));
        expect(isEmptySlip(changeSlip(before, after))).toBe(isEqual);
      }),
    );
  });

  test('counting alone finds the same rows, cells and arrangement', () => {
    fc.assert(
      fc.property(tables, tables, (a, b) => {
        const [before, after] = [table(a), table(b)];
        const { totals: _, rows, ...slip } = changeSlip(before, after);
        const places = (list: typeof rows) =>
          list.map(({ cells, ...row }) => [row, cells.map(({ column, kind }) => [column, kind])]);
        const { rows: counted, ...counts } = changesOnly(before, after);
        expect(counts).toEqual(slip);
        expect(places(counted)).toEqual(places(rows));
      }),
    );
  });

  test('where the labels are the same in the same order, each row is followed by its label', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(
          fc.string({ minLength: 1, maxLength: 6 }).filter((t) => t.trim() !== ''),
          {
            minLength: 1,
            maxLength: 12,
            selector: (t) => t.trim(),
          },
        ),
        fc.infiniteStream(fc.integer({ min: 0, max: 3 })),
        (labels, numbers) => {
          const figure = () => numbers.next().value as number;
          const [before, after] = [0, 1].map(() =>
            table(labels.map((label) => [label, figure(), figure()])),
          );
          const slip = changeSlip(before!, after!);
          expect(slip.rows.filter(({ kind }) => kind !== 'changed')).toEqual([]);
          for (const row of slip.rows) expect(row.before).toBe(row.after);
        },
      ),
    );
  });

  test('rows put in anywhere are the only rows told, as long as no row is like another', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 1, max: 9999 }), { minLength: 4, maxLength: 30 }),
        fc.nat(),
        (numbers, seed) => {
          const rows = numbers.map((n) => [`row ${n}`, n, n * 2]);
          const at = seed % rows.length;
          const shorter = rows.filter((_, index) => index !== at);
          const slip = changeSlip(table(shorter), table(rows));
          expect(slip.rows.map(({ kind, label }) => [kind, label])).toEqual([
            ['inserted', `row ${numbers[at]}`],
          ]);
        },
      ),
    );
  });
});

describe('how many cells are behind', () => {
  const before = table([
    ['Plot', 'Planted', 'Surviving'],
    ['SC-01', 240, 221],
    ['SC-02', 240, 198],
  ]);
  const behind = (rows: Value[][], options: Partial<Snapshot> = {}) =>
    cellsBehind(changeSlip(before, table(rows, options)));

  test('none when nothing changed, each changed cell, all of a row that came or went', () => {
    const [head, first, second] = [
      ['Plot', 'Planted', 'Surviving'],
      ['SC-01', 240, 221],
      ['SC-02', 240, 198],
    ] as [Value[], Value[], Value[]];
    expect(behind([head, first, second])).toBe(0);
    expect(behind([head, ['SC-01', 240, 219], second])).toBe(1);
    expect(behind([head, first, second, ['SC-03', 180, 164]])).toBe(3);
    expect(behind([head, second])).toBe(3);
  });

  test('one where only the arrangement changed', () => {
    const rows = [
      ['Plot', 'Planted', 'Surviving'],
      ['SC-01', 240, 221],
      ['SC-02', 240, 198],
    ];
    expect(behind(rows, { columns: [{ index: 1, size: 30 }] })).toBe(1);
  });
});
