import {
  type ForecastWish,
  forecastSeries,
  type Result,
  type SeriesForecast,
  type SeriesInput,
} from '@tether/core';

export interface ForecastQuestion {
  id: number;
  inputs: SeriesInput[];
  wish: ForecastWish;
}
export interface ForecastAnswer {
  id: number;
  forecasts: Result<SeriesForecast>[];
}

self.onmessage = ({ data: { id, inputs, wish } }: MessageEvent<ForecastQuestion>) => {
  const forecasts = inputs.map((input) => forecastSeries(input, wish));
  self.postMessage({ id, forecasts } satisfies ForecastAnswer);
};
