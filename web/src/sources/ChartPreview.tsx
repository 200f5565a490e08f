import type { SourceChart } from '@tether/core';
import { lazy, Suspense } from 'react';
import { faultOf, useChartQuery } from '../app/api.ts';
import { FaultNote } from '../ui/FaultNote.tsx';

// The drawing library is large, and most sources are looked at without it.
const ChartFigure = lazy(() =>
  import('../placed/ChartFigure.tsx').then((module) => ({ default: module.ChartFigure })),
);

/** A chart of a source, drawn from what its cells hold now. */
export function ChartPreview(props: { sourceId: string; hash: string; chart: SourceChart }) {
  const { sourceId, hash, chart } = props;
  const { data, error } = useChartQuery({ sourceId, hash, chart: chart.id });
  if (error) return <FaultNote fault={faultOf(error)} />;
  return (
    <div>
      <div className="h-[200px] border border-hairline bg-white p-1" data-testid="chart">
        {data && (
          <Suspense fallback={null}>
            <ChartFigure data={data} label={`Chart ${chart.name}`} />
          </Suspense>
        )}
      </div>
      {data?.warnings.map((warning) => (
        <p key={warning} className="text-sm text-muted">
          {warning}
        </p>
      ))}
    </div>
  );
}
