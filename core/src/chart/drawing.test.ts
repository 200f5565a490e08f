import { describe, expect, test } from '@jest/globals';
import type { ChartData } from './chart-data.ts';
import {
  axisOf,
  axisRange,
  CHART_COLOURS,
  chartColour,
  levelZeros,
  seriesColours,
  sharesOf,
  standsOnZero,
} from './drawing.ts';

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

  test('the colours of many slices are all different', () => {
    const colours = Array.from({ length: 60 }, (_, nth) => chartColour(nth));
    expect(new Set(colours).size).toBe(60);
    expect(colours.every((colour) => /^#[0-9A-F]{6}$/.test(colour))).toBe(true);
  });

  const group = (
    kind: string,
    isSecondary: boolean,
    values: (number | null)[][],
    stacking = 'none',
  ) =>
    ({
      group: { kind, isSecondary, stacking },
      series: values.map((each) => ({ values: each })),
    }) as unknown as ChartData['groups'][number];

  test('what is filled down to an axis stands on nothing, lines need not', () => {
    const groups = [group('area', false, [[5]]), group('line', true, [[5]])];
    expect(standsOnZero({ groups }, false)).toBe(true);
    expect(standsOnZero({ groups }, true)).toBe(false);
  });

  test('nothing stands at one height on two axes when one goes below it', () => {
    const groups = [
      group(
        'column',
        false,
        [
          [100, 40],
          [20, 10],
        ],
        'stacked',
      ),
      group('line', true, [[-3, null, 1]]),
    ];
    const axes = [axis({}), axis({ role: 'second value' })];
    const level = levelZeros({ groups, axes })!;
    const [first, second] = [level.value, level['second value']];
    expect(first.max).toBeGreaterThanOrEqual(120);
    expect(second.min).toBeLessThanOrEqual(-3);
    expect(second.max).toBeGreaterThanOrEqual(1);
    expect(-first.min / (first.max - first.min)).toBeCloseTo(
      -second.min / (second.max - second.min),
    );
    expect(levelZeros({ groups, axes: [axis({ max: 10 }), axes[1]!] })).toBeNull();
    expect(levelZeros({ groups: groups.slice(0, 1), axes })).toBeNull();
    const above = [groups[0]!, group('line', true, [[3, 1]])];
    expect(levelZeros({ groups: above, axes })).toBeNull();
  });

  test('an axis of which all lies below nothing leaves the other one room above', () => {
    const groups = [group('line', false, [[100, 40]]), group('line', true, [[-3, -1]])];
    const level = levelZeros({ groups, axes: [axis({})] })!;
    expect(level.value.max).toBeGreaterThanOrEqual(100);
    expect(level['second value'].min).toBeLessThanOrEqual(-3);
  });
});
