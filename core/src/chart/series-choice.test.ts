import { describe, expect, test } from '@jest/globals';
import { bandKeys } from '../look/overrides.ts';
import { type FixtureValue, snapshotOf } from '../sheet/snapshot.fixture.ts';
import { extendChart, extendTable, forecastInputs } from './forecast/extend.ts';
import { forecastSeries } from './forecast/forecast.ts';
import { makeChart, pointsOffered, seriesOffered, suggestMaking } from './made-chart.ts';
import type { ChartMaking } from './making.ts';

const table: FixtureValue[][] = [
  ['Plot', 'Planted', 'Surviving', 'Level'],
  ['SC-01', 240, 221, -0.4],
  ['SC-02', 180, 97, 0.3],
  ['SC-03', 90, 80, 0.1],
];
const snapshot = snapshotOf(table);
const [, planted, surviving, level] = bandKeys(table[0] as string[]);
const making: ChartMaking = suggestMaking(snapshot);
const groupsOf = (more: Partial<ChartMaking>, cells = snapshot) =>
  makeChart(cells, { ...making, ...more }).groups.map(({ group, series }) => [
    group.kind,
    group.isSecondary,
    ...series.map(({ name }) => name),
  ]);
const left = { isLeftOut: true };
const drawn = { isLeftOut: false };

describe('series are chosen and ordered', () => {
  test('those that are named come first, the others behind them', () => {
    expect(groupsOf({ series: [{ column: level!, ...drawn }] })).toEqual([
      ['column', false, 'Level', 'Planted', 'Surviving'],
    ]);
  });

  test('one that is left out is not drawn and stays on offer', () => {
    const series = [{ column: planted!, ...left }];
    expect(groupsOf({ series })).toEqual([['column', false, 'Surviving', 'Level']]);
    expect(
      seriesOffered(snapshot, { ...making, series }).map(({ name, isLeftOut }) => [
        name,
        isLeftOut,
      ]),
    ).toEqual([
      ['Planted', true],
      ['Surviving', false],
      ['Level', false],
    ]);
  });

  test('with all left out that is said', () => {
    const series = [planted, surviving, level].map((column) => ({ column: column!, ...left }));
    expect(makeChart(snapshot, { ...making, series }).warnings).toContain(
      'Every series is left out.',
    );
  });

  test('what is set for a column that went waits, and is said', () => {
    const gone = snapshotOf(table.map((row) => row.slice(0, 3)));
    const { warnings, groups } = makeChart(gone, {
      ...making,
      series: [
        { column: level!, ...left },
        { column: surviving!, ...drawn },
      ],
    });
    expect(groups[0]!.series.map(({ name }) => name)).toEqual(['Surviving', 'Planted']);
    expect(warnings).toContain('What is set for “Level” waits: there is no such column now.');
  });

  test('what is set for a column stays with it when columns move', () => {
    const moved = snapshotOf(table.map(([plot, a, b, c]) => [plot, c, b, a] as FixtureValue[]));
    expect(groupsOf({ series: [{ column: planted!, ...left }] }, moved)).toEqual([
      ['column', false, 'Level', 'Surviving'],
    ]);
  });
});

describe('a second axis', () => {
  test('is for the series for which it is set: lines over columns, the same kind otherwise', () => {
    const series = [{ column: level!, ...drawn, isOnSecond: true }];
    expect(groupsOf({ series })).toEqual([
      ['column', false, 'Planted', 'Surviving'],
      ['line', true, 'Level'],
    ]);
    expect(groupsOf({ series, kind: 'bar' })[1]).toEqual(['bar', true, 'Level']);
    expect(groupsOf({ series, kind: 'scatter' })[1]).toEqual(['scatter', true, 'Level']);
  });

  test('shows values below nothing', () => {
    const { axes } = makeChart(snapshot, {
      ...making,
      series: [{ column: level!, ...drawn, isOnSecond: true }],
    });
    expect(axes.find(({ role }) => role === 'second value')).toMatchObject({
      min: null,
      max: null,
    });
  });

  test('with all series on it is the first', () => {
    const series = [planted, surviving, level].map((column) => ({
      column: column!,
      ...drawn,
      isOnSecond: true,
    }));
    expect(groupsOf({ series })).toEqual([['column', false, 'Planted', 'Surviving', 'Level']]);
  });
});

describe('axes', () => {
  const axis = { title: 'Plants', min: 100, max: 200, format: '0.0' };
  test('have words, bounds and a number format of their own', () => {
    const { axes, warnings } = makeChart(snapshot, {
      ...making,
      valueAxis: axis,
      namesAxis: { ...axis, title: 'Plot' },
    });
    expect(axes).toMatchObject([
      { role: 'category', title: 'Plot', min: null, max: null },
      { role: 'value', ...axis },
    ]);
    // 240, 221, 97, 90, 80 and the three levels.
    expect(warnings).toContain('8 figures lie outside of its axis.');
  });

  test('bounds without room between them are not used, and that is said', () => {
    const { axes, warnings } = makeChart(snapshot, {
      ...making,
      valueAxis: { ...axis, min: 200, max: 100 },
    });
    expect(axes[1]).toMatchObject({ min: null, max: null });
    expect(warnings[0]).toContain('must be below the greatest');
  });

  test('bars run from the top as the rows do', () => {
    expect(makeChart(snapshot, { ...making, kind: 'bar' }).axes[0]!.isReversed).toBe(true);
  });
});

describe('years', () => {
  const years: FixtureValue[][] = [
    ['Year', 'Planted'],
    [2022, 120],
    [2023, 180],
    [2024, 240],
    [2025, 300],
  ];
  const cells = snapshotOf(years);

  test('name points and are no series; a line over them is suggested', () => {
    expect(suggestMaking(cells).kind).toBe('line');
    const { labels, groups } = makeChart(cells, suggestMaking(cells));
    expect(labels).toEqual(['2022', '2023', '2024', '2025']);
    expect(groups[0]!.series.map(({ name }) => name)).toEqual(['Planted']);
  });

  test('beside a column of names are not drawn, which is said, and can be', () => {
    const named = snapshotOf(
      years.map((row, at) => [at === 0 ? 'Plot' : `SC-0${at}`, ...row] as FixtureValue[]),
    );
    const { groups, warnings } = makeChart(named, making);
    expect(groups[0]!.series.map(({ name }) => name)).toEqual(['Planted']);
    expect(warnings).toEqual(['“Year” holds years: it is not drawn.']);
    const [, year] = bandKeys(['Plot', 'Year', 'Planted']);
    const chosen = makeChart(named, { ...making, series: [{ column: year!, ...drawn }] });
    expect(chosen.groups[0]!.series.map(({ name }) => name)).toEqual(['Year', 'Planted']);
    expect(makeChart(named, { ...making, points: year! }).labels[0]).toBe('2022');
  });

  test.each<[string, string, number[], boolean]>([
    ['in even steps', 'Survey', [1990, 2000, 2010], true],
    ['with gaps under a header that says so', 'Year of planting', [2019, 2023, 2024], true],
    ['lengths in millimetres', 'Length', [1900, 1950, 2400], false],
    ['the same twice', 'Year', [2024, 2024, 2025], false],
    ['up and down', 'Year', [2024, 2020, 2025], false],
  ])('%s', (_, header, values, are) => {
    const chart = makeChart(
      snapshotOf([[header, 'Planted'], ...values.map((value, at) => [value, at + 1])]),
      making,
    );
    expect(chart.groups[0]!.series.some(({ name }) => name === header)).toBe(!are);
  });

  test('a forecast goes on with the next years, in a chart and in a table', () => {
    const wish = { periods: 2, season: 'none', confidence: 95 } as const;
    const own = suggestMaking(cells);
    const longer = snapshotOf([
      years[0]!,
      ...Array.from({ length: 8 }, (_, at) => [2018 + at, 100 + 20 * at]),
    ]);
    const forecasts = forecastInputs(longer, own).map((input) => forecastSeries(input, wish));
    const { labels } = extendChart(makeChart(longer, own), longer, own, wish, forecasts);
    expect(labels.slice(-3)).toEqual(['2025', '2026', '2027']);
    const names = extendTable(longer, wish, forecasts).cells.filter(
      ({ row, column }) => row > longer.area.bottom + 1 && column === 1,
    );
    expect(names.map(({ text, value }) => [text, value])).toEqual([
      ['2026', 2026],
      ['2027', 2027],
    ]);
  });
});

describe('what names the points', () => {
  test('is any column, or their number', () => {
    expect(pointsOffered(snapshot, making)).toMatchObject({ now: 0 });
    const { labels, groups } = makeChart(snapshot, { ...making, points: planted! });
    expect(labels).toEqual(['240', '180', '90']);
    expect(groups[0]!.series.map(({ name }) => name)).toEqual(['Surviving', 'Level']);
    expect(makeChart(snapshot, { ...making, points: null }).labels).toEqual(['1', '2', '3']);
  });
});

test('slices are never less than nothing: such figures are left out, and said', () => {
  const { groups, warnings } = makeChart(snapshot, {
    ...making,
    kind: 'pie',
    series: [{ column: level!, ...drawn }],
  });
  expect(groups[0]!.series[0]!.values).toEqual([null, 0.3, 0.1]);
  expect(warnings).toContain('1 figure is below zero and cannot be a slice: left out.');
});
