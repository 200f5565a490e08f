import { describe, expect, test } from '@jest/globals';
import type { ChartData } from './chart-data.ts';
import { axisOf, axisRange, CHART_COLOURS, seriesColours, sharesOf } from './drawing.ts';

const axis = (more: Partial<ChartData['axes'][number]>) =>
  ({ role: 'value', isHidden: false, min: null, max: null, ...more }) as ChartData['axes'][number];

describe('what a chart looks like wherever it is drawn', () => {
  test('series have their own colours or the next in turn, and what carries one on has its colour', () => {
    const series = (name: string, colour?: string, carriesOn?: string) => ({
      name,
      series: { colour },
      ...(carriesOn ? { carriesOn: { name: carriesOn, role: 'forecast' } } : {}),
    });
    const groups = [
      { series: [series('Planted'), series('Planted, forecast', undefined, 'Planted')] },
      { series: [series('Surviving', '#123456'), series('Cover')] },
    ] as unknown as ChartData['groups'];
    expect(seriesColours({ groups })).toEqual([
      [CHART_COLOURS[0], CHART_COLOURS[0]],
      ['#123456', CHART_COLOURS[2]],
    ]);
  });

  test('of several axes for one thing the shown one counts', () => {
    const [hidden, shown] = [axis({ isHidden: true, min: 1 }), axis({ min: 2 })];
    expect(axisOf({ axes: [hidden, shown] }, 'value')).toBe(shown);
    expect(axisOf({ axes: [hidden] }, 'value')).toBe(hidden);
    expect(axisOf({ axes: [hidden] }, 'category')).toBeUndefined();
  });

  test('an axis of shares ends at the whole, unless the source says where', () => {
    expect(axisRange(undefined, true)).toEqual({ min: null, max: 1 });
    expect(axisRange(axis({ max: 0.5 }), true)).toEqual({ min: null, max: 0.5 });
    expect(axisRange(axis({ min: 10 }), false)).toEqual({ min: 10, max: null });
  });

  test('shares are of the whole at each point, whatever the sign', () => {
    expect(sharesOf([{ values: [1, null, 0] }, { values: [-3, 2, 0] }])).toEqual([
      [0.25, null, 0],
      [-0.75, 1, 0],
    ]);
  });
});
