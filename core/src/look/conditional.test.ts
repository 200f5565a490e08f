import { describe, expect, test } from '@jest/globals';
import type { CellValues } from '../formula/value.ts';
import { type Area, parseReference } from '../sheet/address.ts';
import type { Cell, Snapshot } from '../sheet/sheet.ts';
import {
  applyConditions,
  type Condition,
  type ConditionalFormat,
  scalarOf,
  type Threshold,
  unknownIn,
} from './conditional.ts';

const area = (text: string): Area => {
  const parsed = parseReference(text);
  if (!parsed.ok) throw new Error(text);
  return parsed.value.area;
};

/** A sheet with these values down column A from A1; null leaves the cell empty. */
function column(values: (number | string | boolean | null)[], type?: Cell['type']): Snapshot {
  const cells = values.flatMap((value, index): Cell[] =>
    value === null
      ? []
      : [
          {
            row: index + 1,
            column: 1,
            type:
              (type ?? (typeof value as 'number' | 'boolean' | 'string') === 'string')
                ? (type ?? 'text')
                : (typeof value as 'number'),
            value,
            text: String(value),
            dress: 0,
          },
        ],
  );
  return {
    sheet: 'S',
    area: { top: 1, left: 1, bottom: values.length, right: 1 },
    cells,
    merges: [],
    columns: [],
    rows: [],
    dresses: [{ letters: { family: 'Calibri', size: 11 } }],
    defaults: { columnWidth: 9, rowHeight: 15, digitWidth: 7 },
  };
}

function valuesOf(snapshot: Snapshot): CellValues {
  const byPlace = new Map(snapshot.cells.map((cell) => [`${cell.row},${cell.column}`, cell]));
  return {
    get: (_, row, col) => scalarOf(byPlace.get(`${row},${col}`)),
    each: (_, wanted, visit) => {
      for (const cell of snapshot.cells) {
        const isIn = cell.column === wanted.left || wanted.left < cell.column;
        if (isIn && cell.row >= wanted.top && cell.row <= wanted.bottom) {
          visit(scalarOf(cell), cell.row, cell.column);
        }
      }
    },
    filled: (_, wanted) => ({ ...wanted, bottom: Math.min(wanted.bottom, snapshot.area.bottom) }),
  };
}

const rule = (condition: Condition, more: Partial<ConditionalFormat> = {}): ConditionalFormat => ({
  areas: [area('A1:A99')],
  priority: 1,
  stops: false,
  condition,
  dress: { fill: '#FF0000' },
  ...more,
});

/** Wednesday, 25 November 2026, noon. */
const NOW = 46_351.5;
const apply = (snapshot: Snapshot, ...rules: ConditionalFormat[]) =>
  applyConditions(snapshot, rules, { cells: valuesOf(snapshot), now: NOW });
const fills = (snapshot: Snapshot) =>
  Array.from({ length: snapshot.area.bottom }, (_, index) => {
    const cell = snapshot.cells.find(({ row }) => row === index + 1);
    return cell?.dress === undefined ? undefined : snapshot.dresses[cell.dress]!.fill;
  });
/** Rows that the rule dresses. */
const hit = (
  values: (number | string | boolean | null)[],
  condition: Condition,
  type?: Cell['type'],
) =>
  fills(apply(column(values, type), rule(condition))).flatMap((fill, index) =>
    fill ? [index + 1] : [],
  );

const num = (value: number, more: Partial<Threshold> = {}): Threshold => ({
  kind: 'num',
  value: String(value),
  ...more,
});

describe('cells that are compared', () => {
  const cell = (comparison: string, ...operands: string[]): Condition => ({
    kind: 'cell',
    comparison: comparison as 'equal',
    operands,
  });
  test.each([
    ['greaterThan', ['3'], [4, 5]],
    ['greaterThanOrEqual', ['3'], [3, 4, 5]],
    ['lessThan', ['3'], [1, 2]],
    ['lessThanOrEqual', ['3'], [1, 2, 3]],
    ['equal', ['3'], [3]],
    ['notEqual', ['3'], [1, 2, 4, 5]],
    ['between', ['2', '4'], [2, 3, 4]],
    ['between', ['4', '2'], [2, 3, 4]],
    ['notBetween', ['2', '4'], [1, 5]],
  ])('%s %j', (comparison, operands, expected) => {
    expect(hit([1, 2, 3, 4, 5], cell(comparison, ...operands))).toEqual(expected);
  });

  test('texts without case, and errors never', () => {
    expect(hit(['Done', 'open', 'DONE'], cell('equal', '"done"'))).toEqual([1, 3]);
    expect(hit(['#N/A'], cell('notEqual', '1'), 'error')).toEqual([]);
  });

  test('with another cell that moves along', () => {
    // Each cell against the one above it; the first has none, which counts as 0.
    expect(hit([5, 7, 6, 9], cell('greaterThan', '$A$1'))).toEqual([2, 3, 4]);
    expect(hit([5, 7, 6, 9], { kind: 'formula', formula: 'A1<A2' })).toEqual([1, 3]);
  });

  test('an empty cell counts as zero, and is dressed too', () => {
    expect(hit([1, null, -1], cell('lessThan', '1'))).toEqual([2, 3]);
  });
});

describe('formulas', () => {
  test.each<[string, number[]]>([
    ['MOD(ROW(),2)=0', [2, 4]],
    ['A1=MAX($A$1:$A$5)', [4]],
    ['AND(A1>1,A1<4)', [2, 3]],
    ['A1', [1, 2, 3, 4, 5]],
    ['1/0', []],
    ['NOWHERE(A1)', []],
    ['SUM(', []],
  ])('%s', (formula, expected) => {
    expect(hit([1, 2, 3, 9, 4], { kind: 'formula', formula })).toEqual(expected);
  });

  test('what cannot be followed is named', () => {
    expect(unknownIn(rule({ kind: 'formula', formula: 'OFFSET(A1,0,1)>2' }))).toEqual(['OFFSET']);
    expect(unknownIn(rule({ kind: 'formula', formula: 'A1>2' }))).toEqual([]);
    expect(unknownIn(rule({ kind: 'formula', formula: 'A1>' }))).toEqual(['A1>']);
  });
});

test.each<[string, Condition, number[]]>([
  ['contains', { kind: 'text', where: 'contains', text: 'marsh' }, [1, 3]],
  ['does not contain', { kind: 'text', where: 'notContains', text: 'marsh' }, [2, 4, 5]],
  ['begins', { kind: 'text', where: 'begins', text: 'SALT' }, [1]],
  ['ends', { kind: 'text', where: 'ends', text: 'creek' }, [2]],
  ['blanks', { kind: 'blanks', isNegated: false }, [4, 5]],
  ['no blanks', { kind: 'blanks', isNegated: true }, [1, 2, 3]],
])('texts: %s', (_, condition, expected) => {
  expect(hit(['Saltmarsh', 'the creek', 'marshes', '  ', null], condition)).toEqual(expected);
});

test('errors', () => {
  expect(hit(['#N/A'], { kind: 'errors', isNegated: false }, 'error')).toEqual([1]);
  expect(hit([1], { kind: 'errors', isNegated: true })).toEqual([1]);
});

describe('rank, average, duplicates', () => {
  const top = (rank: number, isPercent = false, isBottom = false): Condition => ({
    kind: 'top',
    rank,
    isPercent,
    isBottom,
  });
  test.each<[Condition, number[]]>([
    [top(2), [3, 5]],
    [top(1), [3]],
    [top(40, true), [3, 5]],
    [top(1, true), [3]],
    [top(2, false, true), [1, 2]],
    [top(99), [1, 2, 3, 4, 5]],
  ])('%j', (condition, expected) =>
    expect(hit([1, 2, 9, 3, 8, 'x', null], condition)).toEqual(expected),
  );

  test('equals of the last place are all in', () =>
    expect(hit([5, 5, 5, 1], top(2))).toEqual([1, 2, 3]));

  test.each<[boolean, boolean, number, number[]]>([
    [true, false, 0, [4, 5]],
    [false, false, 0, [1, 2]],
    [true, true, 0, [3, 4, 5]],
    [true, false, 1, [5]],
    [false, false, 1, [1]],
  ])('average: above %s, equal %s, %i deviations', (isAbove, isEqualIn, deviations, expected) => {
    expect(hit([1, 2, 3, 4, 5], { kind: 'average', isAbove, isEqualIn, deviations })).toEqual(
      expected,
    );
  });

  test('duplicates and single values, texts without case', () => {
    const values = ['a', 'b', 'A', 2, '2', null];
    expect(hit(values, { kind: 'duplicates', isUnique: false })).toEqual([1, 3]);
    expect(hit(values, { kind: 'duplicates', isUnique: true })).toEqual([2, 4, 5]);
  });
});

test.each<[string, string[], number[]]>([
  ['today', ['2026-11-25', '2026-11-24'], [1]],
  ['yesterday', ['2026-11-25', '2026-11-24'], [2]],
  ['tomorrow', ['2026-11-26', '2026-11-25T10:00:00'], [1]],
  ['last7Days', ['2026-11-25', '2026-11-19', '2026-11-18', '2026-11-26'], [1, 2]],
  ['thisWeek', ['2026-11-22', '2026-11-28', '2026-11-21', '2026-11-29'], [1, 2]],
  ['lastWeek', ['2026-11-15', '2026-11-21', '2026-11-14', '2026-11-22'], [1, 2]],
  ['nextWeek', ['2026-11-29', '2026-12-05', '2026-12-06'], [1, 2]],
  ['thisMonth', ['2026-11-01', '2026-11-30', '2026-12-01', '2025-11-25'], [1, 2]],
  ['lastMonth', ['2026-10-01', '2026-11-01'], [1]],
  ['nextMonth', ['2026-12-31', '2027-01-01'], [1]],
])('periods: %s', (period, dates, expected) => {
  expect(hit(dates, { kind: 'period', period: period as 'today' }, 'date')).toEqual(expected);
});

describe('colour scales (ECMA-376 Part 1, 18.3.1.16)', () => {
  const scale = (...stops: [Threshold, string][]): Condition => ({
    kind: 'scale',
    stops: stops.map(([threshold, colour]) => ({ threshold, colour })),
  });
  test('two colours, in proportion between the ends', () => {
    const condition = scale(
      [{ kind: 'min', value: '' }, '#000000'],
      [{ kind: 'max', value: '' }, '#FF8000'],
    );
    expect(fills(apply(column([0, 5, 10]), rule(condition)))).toEqual([
      '#000000',
      '#804000',
      '#FF8000',
    ]);
  });
  test('three colours, percentile in the middle, texts without a colour', () => {
    const condition = scale(
      [{ kind: 'min', value: '' }, '#FF0000'],
      [{ kind: 'percentile', value: '50' }, '#FFFFFF'],
      [{ kind: 'max', value: '' }, '#0000FF'],
    );
    expect(fills(apply(column([1, 2, 10, 'x']), rule(condition)))).toEqual([
      '#FF0000',
      '#FFFFFF',
      '#0000FF',
      undefined,
    ]);
  });
  test('beyond the ends the end colours stay; equal values are no division by zero', () => {
    const condition = scale([num(2), '#000000'], [num(4), '#FFFFFF']);
    expect(fills(apply(column([1, 9]), rule(condition)))).toEqual(['#000000', '#FFFFFF']);
    const same = scale(
      [{ kind: 'min', value: '' }, '#000000'],
      [{ kind: 'max', value: '' }, '#FFFFFF'],
    );
    expect(fills(apply(column([3, 3]), rule(same)))).toEqual(['#000000', '#000000']);
  });
  test('a threshold may be a formula', () => {
    const condition = scale(
      [{ kind: 'formula', value: '$A$1' }, '#000000'],
      [{ kind: 'percent', value: '100' }, '#FFFFFF'],
    );
    expect(fills(apply(column([0, 10]), rule(condition)))).toEqual(['#000000', '#FFFFFF']);
  });
});

describe('bars and icons', () => {
  const bar = (more: Partial<Extract<Condition, { kind: 'bar' }>> = {}): Condition => ({
    kind: 'bar',
    min: { kind: 'min', value: '' },
    max: { kind: 'max', value: '' },
    colour: '#00FF00',
    negativeColour: '#FF0000',
    isGradient: false,
    showsValue: true,
    shortest: 0.1,
    longest: 0.9,
    ...more,
  });
  const bars = (snapshot: Snapshot) =>
    snapshot.cells.map(({ bar: drawn }) => drawn && [drawn.from, drawn.to]);

  test('are from 10 to 90 per cent of the cell unless said otherwise (18.3.1.28)', () => {
    expect(bars(apply(column([0, 5, 10]), rule(bar(), { dress: {} })))).toEqual([
      [0, 0.1],
      [0, 0.5],
      [0, 0.9],
    ]);
  });
  test('go both ways from an axis', () => {
    const shown = apply(
      column([-10, 30, 0]),
      rule(
        bar({
          min: { kind: 'autoMin', value: '' },
          max: { kind: 'autoMax', value: '' },
          shortest: 0,
          longest: 1,
        }),
        { dress: {} },
      ),
    );
    expect(bars(shown)).toEqual([
      [0, 0.25],
      [0.25, 1],
      [0.25, 0.25],
    ]);
    expect(shown.cells[0]!.bar).toMatchObject({ colour: '#FF0000', axis: 0.25 });
  });
  test('can stand without the value', () => {
    expect(
      apply(column([1]), rule(bar({ showsValue: false }), { dress: {} })).cells[0],
    ).toMatchObject({ text: '', value: 1 });
  });

  const icons = (more: Partial<Extract<Condition, { kind: 'icons' }>> = {}): Condition => ({
    kind: 'icons',
    set: '3Arrows',
    thresholds: [
      { kind: 'percent', value: '0' },
      { kind: 'percent', value: '33' },
      { kind: 'percent', value: '67' },
    ],
    isReversed: false,
    showsValue: true,
    ...more,
  });
  const indexes = (snapshot: Snapshot) => snapshot.cells.map(({ icon }) => icon?.index);

  test('icons by their thresholds, reversed where wanted', () => {
    expect(indexes(apply(column([0, 33, 66, 67, 100]), rule(icons(), { dress: {} })))).toEqual([
      0, 1, 1, 2, 2,
    ]);
    expect(
      indexes(apply(column([0, 50, 100]), rule(icons({ isReversed: true }), { dress: {} }))),
    ).toEqual([2, 1, 0]);
  });
  test('a threshold that must be passed, not only reached', () => {
    const thresholds = [num(0), num(5, { isReached: false }), num(9)];
    expect(indexes(apply(column([5, 6, 9]), rule(icons({ thresholds }), { dress: {} })))).toEqual([
      0, 1, 2,
    ]);
  });
});

test('references are written for the cell that is named', () => {
  const named = rule({ kind: 'formula', formula: 'A3>5' }, { origin: { row: 3, column: 1 } });
  expect(fills(apply(column([9, 1, 9]), named))).toEqual(['#FF0000', undefined, '#FF0000']);
});

test('empty cells far below the first row are dressed as well', () => {
  const empty = { ...column([null]), area: { top: 1_000, left: 1, bottom: 1_002, right: 1 } };
  const blank = rule({ kind: 'blanks', isNegated: false }, { areas: [area('A1:A2000')] });
  expect(apply(empty, blank).cells.map(({ row }) => row)).toEqual([1_000, 1_001, 1_002]);
});

describe('several rules', () => {
  const always: Condition = { kind: 'formula', formula: 'TRUE' };
  test('what goes first wins, aspect by aspect', () => {
    const shown = apply(
      column([1]),
      rule(always, {
        priority: 2,
        dress: { fill: '#0000FF', letters: { bold: true, colour: '#111111' } },
      }),
      rule(always, { priority: 1, dress: { fill: '#FF0000', letters: { colour: '#222222' } } }),
    );
    expect(shown.dresses[shown.cells[0]!.dress!]).toEqual({
      letters: { family: 'Calibri', size: 11, bold: true, colour: '#222222' },
      fill: '#FF0000',
    });
  });
  test('a rule that stops keeps the later ones away', () => {
    const shown = apply(
      column([1]),
      rule(always, { priority: 1, stops: true, dress: {} }),
      rule(always, { priority: 2 }),
    );
    expect(fills(shown)).toEqual([undefined]);
  });
  test('a number format shows the value anew', () => {
    const shown = apply(column([0.25]), rule(always, { dress: { format: '0.0%' } }));
    expect(shown.cells[0]).toMatchObject({ text: '25.0%', format: '0.0%' });
  });
  test('no rule near leaves the snapshot as it is', () => {
    const snapshot = column([1]);
    expect(apply(snapshot, rule(always, { areas: [area('C1:C9')] }))).toBe(snapshot);
  });
  test('equal dresses are kept once', () => {
    const shown = apply(column([1, 2, 3]), rule(always));
    expect(shown.dresses).toHaveLength(2);
  });
});
