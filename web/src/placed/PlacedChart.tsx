import {
  type ChartMaking,
  makeChart,
  type Snapshot,
  suggestMaking,
  takenChartData,
} from '@tether/core';
import { lazy, Suspense, useMemo } from 'react';

// The drawing library is large: documents without a chart open without it.
const ChartFigure = lazy(() =>
  import('./ChartFigure.tsx').then((module) => ({ default: module.ChartFigure })),
);

interface Props {
  snapshot: Snapshot;
  /** How it is made; absent for as the source draws it, or as it is suggested. */
  making: ChartMaking | undefined;
  label: string;
  height?: number;
}

/** A placed chart of the cells that an object takes, as wide as the box around it. */
export function PlacedChart({ snapshot, making, label, height = 300 }: Props) {
  const data = useMemo(() => {
    const taken = making ? null : takenChartData(snapshot);
    return taken ?? makeChart(snapshot, making ?? suggestMaking(snapshot));
  }, [snapshot, making]);
  return (
    <figure className="m-0">
      {data.groups[0]?.series.length ? (
        <div style={{ height }}>
          <Suspense fallback={<div className="size-full animate-pulse bg-mist" aria-hidden />}>
            <ChartFigure data={data} label={label} />
          </Suspense>
        </div>
      ) : (
        <p className="border border-dashed border-hairline p-4 font-sans text-base text-muted">
          {data.warnings[0]} Change what it takes, or turn it into a table.
        </p>
      )}
    </figure>
  );
}
