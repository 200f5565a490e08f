import { describe, expect, test } from '@jest/globals';
import { fail } from '../../fault.ts';
import { gridOf, type Snapshot } from '../../sheet/sheet.ts';
import { type FixtureValue, snapshotOf } from '../../sheet/snapshot.fixture.ts';
import { makeChart, suggestMaking } from '../made-chart.ts';
import { canCarryOn, extendChart, extendTable, forecastInputs } from './extend.ts';
import { type ForecastWish, forecastSeries } from './forecast.ts';

const WISH: ForecastWish = { periods: 2, season: 'none', confidence: 80 };

/** Six months in which figures rise by the same amount, so that what comes after is known. */
const months = (...series: [name: string, from: number, step: number][]): Snapshot =>
  snapshotOf([
    ['Month', ...series.map(([name]) => name)],
    ...Array.from({ length: 6 }, (_, at): FixtureValue[] => [
      { date: `2026-0${at + 1}-01` },
      ...series.map(([, from, step]) => from + step * at),
    ]),
  ]);
const done = (snapshot: Snapshot, wish = WISH) =>
  forecastInputs(snapshot).map((input) => forecastSeries(input, wish));
const texts = (snapshot: Snapshot) =>
  gridOf(snapshot).map((row) => Array.from(row, (cell) => cell?.text ?? ''));

describe('what is carried on', () => {
  test('every column of figures, with its dates', () => {
    const inputs = forecastInputs(months(['Herons', 10, 2], ['Egrets', 5, 1]));
    expect(inputs.map(({ name, values }) => [name, values.at(-1)])).toEqual([
      ['Herons', 20],
      ['Egrets', 10],
    ]);
    expect(inputs[0]!.times!.every((time) => Number.isInteger(time))).toBe(true);
  });

  test('without dates, in order; texts are missing figures', () => {
    const [input] = forecastInputs(
      snapshotOf([
        ['Plot', 'Plants'],
        ['SC-01', 4],
        ['SC-02', 'not counted'],
        ['SC-03', 6],
      ]),
    );
    expect(input).toEqual({ name: 'Plants', times: null, values: [4, null, 6] });
  });

  test('not what is stacked or round', () => {
    const making = suggestMaking(months(['Herons', 10, 2]));
    expect(canCarryOn(making)).toBe(true);
    expect(canCarryOn({ ...making, kind: 'pie' })).toBe(false);
    expect(canCarryOn({ ...making, kind: 'column', stacking: 'stacked' })).toBe(false);
  });
});

describe('a table', () => {
  test('gets a line that says so, a row for each step and two columns of bounds', () => {
    const snapshot = months(['Herons', 10, 2]);
    const extended = extendTable(snapshot, WISH, done(snapshot));
    expect(texts(extended)[0]).toEqual(['Month', 'Herons', 'lower 80 %', 'upper 80 %']);
    expect(texts(extended).slice(6)).toEqual([
      ['2026-06-01', '20', '', ''],
      ['Forecast', '', '', ''],
      ['2026-07-01', '22', '22', '22'],
      ['2026-08-01', '24', '24', '24'],
    ]);
    const cell = gridOf(extended)[8]![1]!;
    expect(extended.dresses[cell.dress!]!.letters.italic).toBe(true);
    // What was taken stays as it was.
    expect(extended.dresses[0]).toEqual(snapshot.dresses[0]);
    expect(snapshot.cells.every(({ dress }) => dress === 0)).toBe(true);
  });

  test('says whose bounds they are where there are several series', () => {
    const snapshot = months(['Herons', 10, 2], ['Egrets', 5, 1]);
    const extended = extendTable(snapshot, WISH, done(snapshot));
    expect(texts(extended)[0]!.slice(3)).toEqual([
      'Herons, lower 80 %',
      'Herons, upper 80 %',
      'Egrets, lower 80 %',
      'Egrets, upper 80 %',
    ]);
    expect(texts(extended).at(-1)).toEqual(['2026-08-01', '24', '12', '24', '24', '12', '12']);
  });

  test('stays as it is when nothing can be carried on', () => {
    const snapshot = snapshotOf([
      ['Month', 'Herons'],
      [{ date: '2026-01-01' }, 3],
    ]);
    expect(extendTable(snapshot, WISH, done(snapshot))).toBe(snapshot);
  });
});

describe('a chart', () => {
  test('goes on with the forecast and its bounds from the last figure', () => {
    const snapshot = months(['Herons', 10, 2], ['Egrets', 5, 1]);
    const making = suggestMaking(snapshot);
    const chart = extendChart(makeChart(snapshot, making), snapshot, making, WISH, done(snapshot));
    expect(chart.labels.slice(-3)).toEqual(['Jun 2026', 'Jul 2026', 'Aug 2026']);
    const series = chart.groups.flatMap((group) => group.series);
    expect(series.map(({ name, carriesOn }) => [name, carriesOn?.role ?? null])).toEqual([
      ['Herons', null],
      ['Egrets', null],
      ['Herons, lower 80 %', 'lower'],
      ['Herons, upper 80 %', 'upper'],
      ['Herons, forecast with 80 % bounds', 'forecast'],
      ['Egrets, lower 80 %', 'lower'],
      ['Egrets, upper 80 %', 'upper'],
      ['Egrets, forecast with 80 % bounds', 'forecast'],
    ]);
    const forecast = series[4]!.values;
    expect(forecast.slice(0, 5)).toEqual([null, null, null, null, null]);
    expect(forecast.slice(5).map((value) => Math.round(value!))).toEqual([20, 22, 24]);
    expect(chart.legend).toBe('bottom');
  });

  test('says which series cannot be carried on, and keeps it', () => {
    const snapshot = months(['Herons', 10, 2], ['Egrets', 5, 1]);
    const making = suggestMaking(snapshot);
    const [herons] = done(snapshot);
    const refused = fail('forecast-too-few', { values: '3', needed: '5' });
    const data = makeChart(snapshot, making);
    const chart = extendChart(data, snapshot, making, WISH, [herons!, refused]);
    expect(chart.warnings).toEqual([
      'Egrets: There are 3 values, too few to carry on: 5 are needed.',
    ]);
    expect(chart.groups[0]!.series.map(({ name }) => name)).toContain('Egrets');
    expect(chart.groups[0]!.series.some(({ carriesOn }) => carriesOn?.name === 'Egrets')).toBe(
      false,
    );
  });
});
