import { withoutNote } from '../reach/take-from.ts';
import { type Area, holds, union } from '../sheet/address.ts';
import { cutSnapshot, type Snapshot } from '../sheet/sheet.ts';
import type { SourceChart } from '../sheet/source-chart.ts';
import { type ChartData, cellsOfChart, chartData } from './chart-data.ts';

/** The areas that a chart is drawn from, one for each sheet, that of its first values first. */
export function areasOfChart(chart: SourceChart): { sheet: string; area: Area }[] {
  const first = chart.groups.flatMap(({ series }) => series).find(({ values }) => values)?.values;
  const all = [...(first ? [first] : []), ...cellsOfChart(chart)];
  const bySheet = new Map<string, { sheet: string; area: Area }>();
  for (const { sheet, areas } of all) {
    for (const area of areas) {
      const key = sheet.toLowerCase();
      const known = bySheet.get(key);
      bySheet.set(key, { sheet, area: known ? union(known.area, area) : area });
    }
  }
  return [...bySheet.values()];
}

/** What an object that takes a chart shows: its cells alone, without what stands between them, and the chart. */
export function takeChartFrom(chart: SourceChart, parts: readonly Snapshot[]): Snapshot {
  const cells = cellsOfChart(chart);
  const own = parts.map((part) => {
    const areas = cells
      .filter(({ sheet }) => sheet.toLowerCase() === part.sheet.toLowerCase())
      .flatMap((each) => each.areas);
    const kept = part.cells.filter((cell) => areas.some((area) => holds(area, cell)));
    return { ...part, cells: kept.map(withoutNote) };
  });
  const [main, ...elsewhere] = own;
  return { ...main!, chart, ...(elsewhere.length > 0 ? { elsewhere } : {}) };
}

/** What a taken chart draws, from the cells that were taken with it; null where no chart was taken. */
export function takenChartData(snapshot: Snapshot): ChartData | null {
  const { chart, elsewhere = [] } = snapshot;
  if (!chart) return null;
  const parts = [snapshot, ...elsewhere];
  return chartData(chart, (sheet, area) => {
    const part = parts.find((each) => each.sheet.toLowerCase() === sheet.toLowerCase());
    return part ? cutSnapshot(part, area) : null;
  });
}
