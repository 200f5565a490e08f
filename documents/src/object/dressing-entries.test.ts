import { describe, expect, test } from '@jest/globals';
import { type Dressing, dressingSchema } from './dressing.ts';
import { type DressingEntries, dressingFrom, entriesOf } from './dressing-entries.ts';

const chart: NonNullable<Dressing['chart']> = {
  kind: 'column',
  seriesBy: 'columns',
  stacking: 'none',
  title: '',
  legend: 'bottom',
  withTotals: false,
};

/** What a change of somebody does to entries that others changed meanwhile. */
function merged(now: DressingEntries, before: Dressing, after: Dressing): Record<string, unknown> {
  const [from, to] = [entriesOf(before), entriesOf(after)];
  const result = new Map(now);
  for (const [path, value] of to) {
    if (JSON.stringify(from.get(path)) !== JSON.stringify(value)) result.set(path, value);
  }
  for (const path of from.keys()) if (!to.has(path)) result.delete(path);
  return dressingFrom(result);
}

describe('how a chart is made, set by two people at once', () => {
  test('comes back as it was', () => {
    const dressing: Dressing = {
      chart: { ...chart, valueAxis: { title: 'm', min: -0.25, max: null, format: '0.0' } },
    };
    expect(dressingSchema.parse(dressingFrom(entriesOf(dressing)))).toEqual(dressing);
  });

  test('keeps what each of them set', () => {
    const hers = entriesOf({ chart: { ...chart, title: 'Plants' } });
    expect(merged(hers, { chart }, { chart: { ...chart, kind: 'line' } })).toEqual({
      chart: { ...chart, title: 'Plants', kind: 'line' },
    });
  });

  test('set back to the source by one of them, it is so', () => {
    const hers = entriesOf({ chart: { ...chart, title: 'Plants' } });
    expect(merged(hers, { chart }, {})).toEqual({});
    // The other way round, too: what is left of it makes no chart.
    expect(merged(entriesOf({}), { chart }, { chart: { ...chart, title: 'Plants' } })).toEqual({});
  });

  test('is read where it was kept as one', () => {
    expect(dressingFrom([['["chart"]', chart]])).toEqual({ chart });
    expect(
      dressingFrom([
        ['["chart"]', chart],
        ['["chart","kind"]', 'pie'],
      ]),
    ).toEqual({ chart: { ...chart, kind: 'pie' } });
  });
});
