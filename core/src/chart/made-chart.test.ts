import { describe, expect, test } from '@jest/globals';
import type { Snapshot } from '../sheet/sheet.ts';
import { type FixtureValue, snapshotOf } from '../sheet/snapshot.fixture.ts';
import { makeChart, suggestMaking } from './made-chart.ts';
import type { ChartMaking } from './making.ts';

const table: FixtureValue[][] = [
  ['Plot', 'Planted', 'Surviving'],
  ['SC-01', 240, 221],
  ['SC-02', 180, 97],
  ['All', { sum: 420 }, { sum: 318 }],
];
const making: ChartMaking = {
  kind: 'column',
  seriesBy: 'columns',
  stacking: 'none',
  title: '',
  legend: 'bottom',
  withTotals: false,
};
const drawn = (snapshot: Snapshot, how: Partial<ChartMaking> = {}) => {
  const chart = makeChart(snapshot, { ...making, ...how });
  return {
    labels: chart.labels,
    series: chart.groups[0]!.series.map(({ name, values }) => [name, values]),
    warnings: chart.warnings,
    chart,
  };
};

test('columns are series, the first column names the points, totals stay out', () => {
  expect(drawn(snapshotOf(table))).toMatchObject({
    labels: ['SC-01', 'SC-02'],
    series: [
      ['Planted', [240, 180]],
      ['Surviving', [221, 97]],
    ],
    warnings: ['The row of totals is not drawn.'],
  });
  expect(drawn(snapshotOf(table), { withTotals: true }).labels).toEqual(['SC-01', 'SC-02', 'All']);
});

test('rows are series when wanted', () => {
  expect(drawn(snapshotOf(table.slice(0, 3)), { seriesBy: 'rows' })).toMatchObject({
    labels: ['Planted', 'Surviving'],
    series: [
      ['SC-01', [240, 221]],
      ['SC-02', [180, 97]],
    ],
  });
});

test('hidden rows and columns are left out', () => {
  expect(drawn(snapshotOf(table, { rows: [2], columns: [2] }))).toMatchObject({
    labels: ['SC-02'],
    series: [['Surviving', [97]]],
  });
});

test('a pie shows one series, with its legend', () => {
  const { series, warnings, chart } = drawn(snapshotOf(table), { kind: 'pie' });
  expect(series).toEqual([['Planted', [240, 180]]]);
  expect(warnings).toContain('A pie shows one series: Planted.');
  expect(chart.legend).toBe('bottom');
});

test('points of two columns of numbers lie where the first says', () => {
  const { chart } = drawn(
    snapshotOf([
      ['Chainage', 'Depth'],
      [0, 2.35],
      [2.4, 2.41],
    ]),
    { kind: 'scatter' },
  );
  expect(chart.groups[0]!.series[0]).toMatchObject({
    name: 'Depth',
    x: [0, 2.4],
    values: [2.35, 2.41],
  });
  expect(chart.legend).toBeNull();
});

test('without a header and without names points and series are counted', () => {
  expect(drawn(snapshotOf([[3], [4]]))).toMatchObject({
    labels: ['1', '2'],
    series: [['Series 1', [3, 4]]],
  });
});

describe('what cannot be drawn is said', () => {
  test.each<[string, FixtureValue[][], string]>([
    ['nothing at all', [[null]], 'There are no numbers in these cells to draw.'],
    [
      'only texts',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
      'There are no numbers in these cells to draw.',
    ],
    [
      'a text among numbers',
      [
        ['Plot', 'Planted'],
        ['A', 3],
        ['B', 'lost'],
      ],
      '1 cell holds a text where a number is needed: left as gaps.',
    ],
  ])('%s', (_, rows, warning) => expect(drawn(snapshotOf(rows)).warnings).toContain(warning));
});

test('a line over dates is suggested, columns otherwise', () => {
  expect(suggestMaking(snapshotOf(table)).kind).toBe('column');
  const levels: FixtureValue[][] = [
    ['Day', 'Level'],
    [{ date: '2026-10-05' }, 1.2],
    [{ date: '2026-10-06' }, 1.3],
  ];
  expect(suggestMaking(snapshotOf(levels)).kind).toBe('line');
  expect(drawn(snapshotOf(levels)).labels).toEqual(['2026-10-05', '2026-10-06']);
});

describe('shares beside amounts', () => {
  const mixed = snapshotOf([
    ['Plot', 'Planted', 'Survival'],
    ['SC-01', 240, 0.92],
    ['SC-02', 180, 0.54],
  ]);
  for (const cell of mixed.cells)
    if (cell.column === 3 && cell.type === 'number') cell.format = '0%';
  test('have an axis of their own, as lines', () => {
    const { groups, axes } = drawn(mixed).chart;
    expect(
      groups.map(({ group, series }) => [
        group.kind,
        group.isSecondary,
        series.map(({ name }) => name),
      ]),
    ).toEqual([
      ['column', false, ['Planted']],
      ['line', true, ['Survival']],
    ]);
    expect(axes.map(({ role, format, min }) => [role, format, min])).toContainEqual([
      'second value',
      '0%',
      0,
    ]);
  });
  test('where there is no second axis that is said', () => {
    const { warnings, chart } = drawn(mixed, { kind: 'bar' });
    expect(chart.groups).toHaveLength(1);
    expect(warnings[0]).toContain('Shares and amounts stand on one axis');
  });
});

test('shares are shown in per cent', () => {
  expect(drawn(snapshotOf(table), { stacking: 'share' }).chart.axes[1]!.format).toBe('0%');
  // Stacking makes no sense for a line here.
  expect(
    drawn(snapshotOf(table), { kind: 'line', stacking: 'stacked' }).chart.groups[0]!.group.stacking,
  ).toBe('none');
});
