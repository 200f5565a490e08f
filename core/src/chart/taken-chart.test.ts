import { describe, expect, it } from '@jest/globals';
import { changeSlip } from '../change/change-slip.ts';
import { isEmptySlip } from '../change/slip-words.ts';
import { snapshotOf } from '../sheet/snapshot.fixture.ts';
import type { SourceChart } from '../sheet/source-chart.ts';
import { areasOfChart, takeChartFrom, takenChartData } from './taken-chart.ts';

const cells = (sheet: string, top: number, left: number, bottom: number, right: number) => ({
  sheet,
  areas: [{ top, left, bottom, right }],
});
const chart: SourceChart = {
  id: 'Counts 1',
  name: 'Planted',
  sheet: 'Counts',
  place: null,
  title: null,
  groups: [
    {
      kind: 'column',
      stacking: 'none',
      isSecondary: false,
      series: [
        {
          name: { cells: cells('Counts', 1, 3, 1, 3) },
          categories: cells('Counts', 2, 1, 3, 1),
          values: cells('Counts', 2, 3, 3, 3),
        },
        { name: null, categories: null, values: cells('Goals', 1, 1, 2, 1) },
      ],
    },
  ],
  axes: [],
  legend: 'bottom',
  unknown: [],
};
const counts = (planted: number) =>
  snapshotOf([
    ['Plot', 'Species', 'Planted'],
    ['SC-01', 'Glasswort', planted],
    ['SC-02', 'Cordgrass', 80],
  ]);
const goals = (goal: number) => ({ ...snapshotOf([[goal], [90]]), sheet: 'Goals' });
const taken = (planted = 120, goal = 100) => takeChartFrom(chart, [counts(planted), goals(goal)]);

describe('a chart of the source with its cells', () => {
  it('takes one area of each sheet, that of its first values first', () => {
    expect(areasOfChart(chart)).toEqual([
      { sheet: 'Counts', area: { top: 1, left: 1, bottom: 3, right: 3 } },
      { sheet: 'Goals', area: { top: 1, left: 1, bottom: 2, right: 1 } },
    ]);
  });

  it('leaves out what stands between its cells', () => {
    expect(taken().cells.map(({ text }) => text)).toEqual([
      'Planted',
      'SC-01',
      '120',
      'SC-02',
      '80',
    ]);
  });

  it('draws what was taken, also from other sheets', () => {
    const data = takenChartData(taken())!;
    expect(data.labels).toEqual(['SC-01', 'SC-02']);
    expect(data.groups[0]!.series.map(({ values }) => values)).toEqual([
      [120, 80],
      [100, 90],
    ]);
  });

  it('is in step while nothing changes, and behind when a cell here or elsewhere or the chart does', () => {
    expect(isEmptySlip(changeSlip(taken(), taken()))).toBe(true);
    expect(changeSlip(taken(), taken(121)).counts.cells).toBe(1);
    expect(isEmptySlip(changeSlip(taken(), taken(120, 101)))).toBe(false);
    const other = { ...taken(), chart: { ...chart, legend: null } };
    expect(isEmptySlip(changeSlip(taken(), other))).toBe(false);
  });
});
