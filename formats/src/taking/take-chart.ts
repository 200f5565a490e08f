import {
  type Area,
  type ChartData,
  cellCount,
  cellsOfChart,
  chartData,
  fail,
  formatArea,
  MAX_POINTS,
  ok,
  type Result,
  type Snapshot,
} from '@tether/core';
import type { OpenSource } from '../source.ts';

/** What a chart of an open source draws now, from its cells and not from what the file kept of them. Fault: `chart-missing`. */
export async function takeChart(source: OpenSource, id: string): Promise<Result<ChartData>> {
  const charts = await source.readCharts();
  if (!charts.ok) return charts;
  const chart = charts.value.find((each) => each.id === id);
  if (!chart) return fail('chart-missing', { chart: id });
  const read = new Map<string, Snapshot | null>();
  const keyOf = (sheet: string, area: Area) => `${sheet.toLowerCase()} ${formatArea(area)}`;
  for (const { sheet, areas } of cellsOfChart(chart)) {
    for (const area of areas) {
      const key = keyOf(sheet, area);
      if (read.has(key) || cellCount(area) > MAX_POINTS) continue;
      // With the look, since hidden rows are left out of a chart.
      const snapshot = await source.readArea(sheet, area);
      if (!snapshot.ok && snapshot.fault.code !== 'sheet-missing') return snapshot;
      read.set(key, snapshot.ok ? snapshot.value : null);
    }
  }
  return ok(chartData(chart, (sheet, area) => read.get(keyOf(sheet, area)) ?? null));
}
