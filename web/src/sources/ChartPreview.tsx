import type { SourceChart } from '@tether/core';
import { lazy, Suspense } from 'react';
import { DrawnOrFault } from '../placed/DrawnOrFault.tsx';
import { faultOf, useChartQuery } from '../state/api.ts';
import { FaultNote } from '../ui/FaultNote.tsx';

// The drawing library is large, and most sources are looked at without it.
const ChartFigure = lazy(() =>
  import('../placed/chart/ChartFigure.tsx').then((module) => ({ default: module.ChartFigure })),
);

interface Props {
  sourceId: string;
  hash: string;
  chart: SourceChart;
}

/** A chart of a source, drawn from what its cells hold now, as large as the box around it. */
export function ChartDrawing({ sourceId, hash, chart }: Props) {
  const { data } = useChartQuery({ sourceId, hash, chart: chart.id });
  if (!data) return null;
  return (
    <DrawnOrFault resetKeys={[data]}>
      <Suspense fallback={null}>
        <ChartFigure data={data} label={`Chart ${chart.name}`} isBesideCells />
      </Suspense>
    </DrawnOrFault>
  );
}

/** A chart of a source with what is to be known about it. */
export function ChartPreview(props: Props) {
  const { sourceId, hash, chart } = props;
  const { data, error } = useChartQuery({ sourceId, hash, chart: chart.id });
  if (error) return <FaultNote fault={faultOf(error)} />;
  return (
    <div>
      <div className="h-[200px] border border-hairline bg-white p-1">
        <ChartDrawing {...props} />
      </div>
      {data?.warnings.map((warning) => (
        <p key={warning} className="text-sm text-muted">
          {warning}
        </p>
      ))}
    </div>
  );
}
