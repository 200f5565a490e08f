import {
  type ForecastWish,
  fail,
  type Result,
  type SeriesForecast,
  type SeriesInput,
} from '@tether/core';
import { useEffect, useState } from 'react';
import type { ForecastAnswer, ForecastQuestion } from './forecast.worker.ts';

/** What a forecast is asked for: it is computed once for the same question. */
interface Asked {
  inputs: SeriesInput[];
  wish: ForecastWish;
}
export type Forecasts = Result<SeriesForecast>[];

const MOST_KEPT = 60;
const kept = new Map<string, Promise<Forecasts>>();
const waiting = new Map<
  number,
  { inputs: SeriesInput[]; answer: (forecasts: Forecasts) => void }
>();
let worker: Worker | null = null;
let asked = 0;

/** Computes in a thread of its own, so that typing and scrolling go on meanwhile. */
function compute(question: Asked): Promise<Forecasts> {
  if (!worker) {
    worker = new Worker(new URL('./forecast.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<ForecastAnswer>) => {
      waiting.get(data.id)?.answer(data.forecasts);
      waiting.delete(data.id);
    };
    // A thread that breaks down answers nothing any more: whoever waits is told, the next question gets a new one.
    worker.onerror = () => {
      worker?.terminate();
      worker = null;
      const detail = 'the forecast could not be computed';
      for (const { inputs, answer } of waiting.values()) {
        answer(inputs.map(() => fail('unexpected', { detail })));
      }
      waiting.clear();
      kept.clear();
    };
  }
  const id = ++asked;
  return new Promise((resolve) => {
    waiting.set(id, { inputs: question.inputs, answer: resolve });
    worker!.postMessage({ id, ...question } satisfies ForecastQuestion);
  });
}

/** What comes after series, as wished; null while it is computed, nothing without a wish. */
export function useForecasts(
  inputs: SeriesInput[] | null,
  wish: ForecastWish | undefined,
): Forecasts | null {
  const key = inputs && wish ? JSON.stringify([inputs, wish]) : null;
  const [done, setDone] = useState<{ key: string; forecasts: Forecasts } | null>(null);
  useEffect(() => {
    if (key === null) return;
    const [forInputs, forWish] = JSON.parse(key) as [SeriesInput[], ForecastWish];
    let computing = kept.get(key);
    if (!computing) {
      computing = compute({ inputs: forInputs, wish: forWish });
      kept.set(key, computing);
      const oldest = kept.keys().next().value;
      if (kept.size > MOST_KEPT && oldest !== undefined) kept.delete(oldest);
    }
    let isWanted = true;
    void computing.then((forecasts) => isWanted && setDone({ key, forecasts }));
    return () => {
      isWanted = false;
    };
  }, [key]);
  return done && done.key === key ? done.forecasts : null;
}
