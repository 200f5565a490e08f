import {
  type ChartMaking,
  type ForecastWish,
  forecastInputs,
  type Snapshot,
  USUAL_FORECAST,
} from '@tether/core';
import { useMemo } from 'react';
import { useForecasts } from '../placed/chart/forecasts.ts';
import { NumberField } from '../ui/fields/NumberField.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { Tick } from '../ui/fields/Tick.tsx';

/** Whether and how the series of an object are carried on, and what the fit found. */
export function ForecastFields(props: {
  snapshot: Snapshot;
  /** Of a chart: how it is made; a table is carried on by its columns. */
  making: ChartMaking | undefined;
  wish: ForecastWish | undefined;
  isAllowed: boolean;
  onChange: (wish: ForecastWish | undefined) => void;
}) {
  const { snapshot, making, wish, isAllowed, onChange } = props;
  const inputs = useMemo(
    () => (wish ? forecastInputs(snapshot, making) : null),
    [snapshot, making, wish],
  );
  const forecasts = useForecasts(inputs, wish);
  const set = (part: Partial<ForecastWish>) => wish && onChange({ ...wish, ...part });
  const kind = typeof wish?.season === 'number' ? 'set' : wish?.season;
  return (
    <>
      {isAllowed && (
        <Tick
          isOn={wish !== undefined}
          onChange={(isOn) => onChange(isOn ? USUAL_FORECAST : undefined)}
        >
          Continue with a forecast
        </Tick>
      )}
      {wish && (
        <>
          <NumberField
            label="Steps to forecast"
            value={wish.periods}
            unit=""
            min={1}
            max={400}
            disabled={!isAllowed}
            onChange={(periods) => set({ periods: Math.round(periods ?? USUAL_FORECAST.periods) })}
          />
          <SelectField
            label="Season"
            value={kind ?? 'found'}
            options={[
              { value: 'found', label: 'as found in the figures' },
              { value: 'set', label: 'of a set length' },
              { value: 'none', label: 'none' },
            ]}
            disabled={!isAllowed}
            onChange={(how) =>
              set({
                season:
                  how === 'set' ? (forecasts?.find((each) => each.ok)?.value.season ?? 12) : how,
              })
            }
          />
          {typeof wish.season === 'number' && (
            <NumberField
              label="Season length"
              value={wish.season}
              unit="steps"
              min={2}
              max={400}
              disabled={!isAllowed}
              onChange={(season) => set({ season: Math.round(season ?? 12) })}
            />
          )}
          <NumberField
            label="Confidence"
            value={wish.confidence}
            unit="%"
            min={50}
            max={99}
            disabled={!isAllowed}
            onChange={(confidence) => set({ confidence: confidence ?? USUAL_FORECAST.confidence })}
          />
          <div
            role="status"
            className="flex flex-col gap-2 border-l-2 border-hairline pl-2 text-sm"
          >
            {forecasts === null && <p className="text-muted">Computing …</p>}
            {inputs?.length === 0 && <p>There are no series of numbers in these cells.</p>}
            {forecasts?.map((forecast, index) => (
              <div key={index}>
                <p className="font-semibold">{inputs?.[index]?.name}</p>
                {forecast.ok ? (
                  <Fit forecast={forecast.value} />
                ) : (
                  <p>
                    {forecast.fault.message} {forecast.fault.hint}
                  </p>
                )}
              </div>
            ))}
          </div>
        </>
      )}
    </>
  );
}

type Done = Extract<NonNullable<ReturnType<typeof useForecasts>>[number], { ok: true }>['value'];

function Fit({ forecast }: { forecast: Done }) {
  const { parameters, season, error, notes } = forecast;
  const { alpha, beta, gamma } = parameters;
  const shown = (value: number) => (value < 0.0005 ? '<0.001' : value.toFixed(3));
  return (
    <>
      <p className="font-mono text-[12px]">
        α {shown(alpha)} β {shown(beta)}
        {gamma !== null && ` γ ${shown(gamma)}`}
      </p>
      <p className="text-muted">
        {season === null ? 'No season' : `A season of ${season} steps`}; typical error of a step{' '}
        {error.toPrecision(3)} (root mean square).
      </p>
      {notes.map((note) => (
        <p key={note}>{note}</p>
      ))}
    </>
  );
}
