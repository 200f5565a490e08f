import {
  type ChartMaking,
  canCarryOn,
  extendChart,
  type ForecastWish,
  forecastInputs,
  makeChart,
  type Snapshot,
  suggestMaking,
  takenChartData,
} from '@tether/core';
import { lazy, Suspense, useMemo } from 'react';
import { Said } from '../Said.tsx';
import { useForecasts } from './forecasts.ts';

// The drawing library is large: documents without a chart open without it.
const ChartFigure = lazy(() =>
  import('./ChartFigure.tsx').then((module) => ({ default: module.ChartFigure })),
);

interface Props {
  snapshot: Snapshot;
  /** How it is made; absent for as the source draws it, or as it is suggested. */
  making: ChartMaking | undefined;
  /** How its series are carried on; not at all when absent. */
  forecast?: ForecastWish | undefined;
  label: string;
  height?: number;
}

/** A placed chart of the cells that an object takes, as wide as the box around it. */
export function PlacedChart({ snapshot, making, forecast, label, height = 300 }: Props) {
  const { data, own } = useMemo(() => {
    const taken = making ? null : takenChartData(snapshot);
    const made = making ?? suggestMaking(snapshot);
    return { data: taken ?? makeChart(snapshot, made), own: taken ? null : made };
  }, [snapshot, making]);
  const wish = own && canCarryOn(own) ? forecast : undefined;
  const inputs = useMemo(
    () => (wish && own ? forecastInputs(snapshot, own) : null),
    [snapshot, own, wish],
  );
  const forecasts = useForecasts(inputs, wish);
  const shown = useMemo(
    () => (wish && own && forecasts ? extendChart(data, snapshot, own, wish, forecasts) : data),
    [data, snapshot, own, wish, forecasts],
  );
  return (
    <figure className="m-0">
      {data.groups[0]?.series.length ? (
        <div style={{ height }} {...(wish && !forecasts ? { 'data-pending': true } : {})}>
          <Suspense fallback={<div className="size-full animate-pulse bg-mist" aria-hidden />}>
            <ChartFigure data={shown} label={label} />
          </Suspense>
        </div>
      ) : (
        <p className="border border-dashed border-hairline p-4 font-sans text-base text-muted">
          {data.warnings[0]} Change what it takes, or turn it into a table.
        </p>
      )}
      {/* What could not be carried on. */}
      {shown.warnings
        .filter((warning) => !data.warnings.includes(warning))
        .map((warning) => (
          <Said key={warning} words={warning} />
        ))}
    </figure>
  );
}
