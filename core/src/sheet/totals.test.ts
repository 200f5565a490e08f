import { describe, expect, it } from '@jest/globals';
import { changeSlip } from '../change/change-slip.ts';
import { makeChart, suggestMaking } from '../chart/made-chart.ts';
import type { Snapshot } from './sheet.ts';
import { type FixtureValue, snapshotOf } from './snapshot.fixture.ts';
import { isTotal, totalsRows } from './totals.ts';

const cell = (formula: string) => ({
  row: 6,
  column: 2,
  type: 'number' as const,
  value: 1,
  text: '1',
  formula,
});

/** Rows with the formula of some cells, by `row,column` from 1. */
function table(rows: FixtureValue[][], formulas: Record<string, string> = {}): Snapshot {
  const snapshot = snapshotOf(rows);
  return {
    ...snapshot,
    cells: snapshot.cells.map((each) => {
      const formula = formulas[`${each.row},${each.column}`];
      return formula ? { ...each, formula } : each;
    }),
  };
}
const PLOTS: FixtureValue[][] = [
  ['Plot', 'Planted', 'Alive'],
  ['SC-01', 120, 96],
  ['SC-02', 80, 71],
  ['SC-03', 60, 12],
];
const rowsOf = (snapshot: Snapshot) => [...totalsRows(snapshot)].map((at) => at + 1);

describe('totals', () => {
  // Ways in which totals are written, common practice.
  it.each([
    ['SUM(B2:B5)', true],
    ['SUM($B$2:$B$5)', true],
    ['SUBTOTAL(109,[Planted])', true],
    ['AVERAGE(B2:B5)', true],
    ['ROUND(SUM(B2:B5),1)', true],
    ['IFERROR(AVERAGE(B2:B5),0)', true],
    ['B2+B3+B4+B5', true],
    ['+B2+B3', true],
    ['SUM(C6:F6)', false],
    ['C6+D6', false],
    ['B5+C6', false],
    ['B5*1.2', false],
    ['C6/SUM(C2:C5)', false],
  ])('%s is one: %s', (formula, is) => {
    expect(isTotal(cell(formula))).toBe(is);
  });

  it('are seen at the end, above, in between, as means, and typed as numbers', () => {
    const sum = { '5,2': 'SUM(B2:B4)', '5,3': 'SUM(C2:C4)' };
    expect(rowsOf(table([...PLOTS, ['All', 260, 179]], sum))).toEqual([5]);
    const mean = { '5,2': 'AVERAGE(B2:B4)', '5,3': 'AVERAGE(C2:C4)' };
    expect(rowsOf(table([...PLOTS, ['Mean', 86.7, 59.7]], mean))).toEqual([5]);
    expect(rowsOf(table([...PLOTS, ['All', 260, 179]]))).toEqual([5]);
    const [head, ...plots] = PLOTS;
    expect(rowsOf(table([head!, ['All', 260, 179], ...plots]))).toEqual([2]);
    const between = { '3,2': 'SUM(B2:B2)', '3,3': 'SUM(C2:C2)' };
    expect(rowsOf(table([head!, plots[0]!, ['Creek', 120, 96], plots[1]!], between))).toEqual([3]);
  });

  it('are not those of each row', () => {
    const across = Object.fromEntries([2, 3, 4].map((row) => [`${row},3`, `SUM(B${row}:B${row})`]));
    expect(rowsOf(table(PLOTS, across))).toEqual([]);
    const chart = makeChart(table(PLOTS, across), suggestMaking(table(PLOTS, across)));
    expect(chart.labels).toEqual(['SC-01', 'SC-02', 'SC-03']);
  });

  it('are drawn in no chart and counted in no sum, typed ones too', () => {
    const before = table([...PLOTS, ['All', 260, 179]]);
    const chart = makeChart(before, suggestMaking(before));
    expect(chart.labels).toEqual(['SC-01', 'SC-02', 'SC-03']);
    expect(chart.warnings).toContain('The row of totals is not drawn.');
    const after = table([...PLOTS.slice(0, 3), ['SC-03', 70, 12], ['All', 270, 179]]);
    expect(changeSlip(before, after).totals).toMatchObject([
      { header: 'Planted', before: '260', after: '270', difference: '+10' },
    ]);
  });

  it('of a column with a figure that is not computed are not said', () => {
    const before = table(PLOTS);
    const after = {
      ...before,
      cells: before.cells.map((each) =>
        each.row === 2 && each.column === 2
          ? { ...each, type: 'uncomputed' as const, value: '', text: 'not computed', formula: 'D1' }
          : each,
      ),
    };
    const chart = makeChart(after, suggestMaking(after));
    expect(chart.groups[0]!.series[0]!.values[0]).toBeNull();
    expect(chart.warnings).toContain('1 figure is not computed in the source: left as gaps.');
    const slip = changeSlip(before, after);
    expect(slip.totals).toEqual([]);
    expect(slip.rows).toMatchObject([
      {
        label: 'SC-01',
        cells: [{ after: { text: 'not computed' }, difference: null, kind: 'figure' }],
      },
    ]);
  });
});
