import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import type { LiveEvent } from '@tether/contract';
import { LiveStream, SILENT_MS, TOGETHER_MS } from './live-stream.ts';

/** A stream that says what it is told to say. */
class Fake {
  readyState = 1;
  onopen: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  close() {
    this.readyState = 2;
  }
  say(event: LiveEvent | object) {
    this.onmessage?.({ data: JSON.stringify(event) });
  }
}

let streams: Fake[];
let heard: LiveEvent[][];
let connected: boolean[];
let database: boolean[];
let live: LiveStream;

beforeEach(() => {
  jest.useFakeTimers();
  streams = [];
  heard = [];
  connected = [];
  database = [];
  live = new LiveStream(
    {
      heard: (events) => heard.push(events),
      connected: (is) => connected.push(is),
      database: (is) => database.push(is),
    },
    () => {
      const stream = new Fake();
      streams.push(stream);
      return stream as unknown as EventSource;
    },
  );
});
afterEach(() => {
  live.close();
  jest.useRealTimers();
});

const latest = () => streams.at(-1)!;

test('events that come close together are told as one', () => {
  latest().say({ kind: 'tethers', documentId: 'a' });
  jest.advanceTimersByTime(TOGETHER_MS - 1);
  latest().say({ kind: 'log' });
  expect(heard).toEqual([]);
  jest.advanceTimersByTime(1);
  expect(heard).toEqual([[{ kind: 'tethers', documentId: 'a' }, { kind: 'log' }]]);
  latest().say({ kind: 'jobs' });
  jest.advanceTimersByTime(TOGETHER_MS);
  expect(heard[1]).toEqual([{ kind: 'jobs' }]);
});

test('what nobody knows, and the beat, is told to nobody', () => {
  latest().say({ kind: 'beat', hasDatabase: true });
  latest().say({ kind: 'something newer' });
  jest.advanceTimersByTime(TOGETHER_MS);
  expect(heard).toEqual([]);
});

test('a stream that beats lives on, one that is silent is followed by another', () => {
  latest().onopen!();
  for (let beat = 0; beat < 10; beat++) {
    jest.advanceTimersByTime(8_000);
    latest().say({ kind: 'beat', hasDatabase: true });
  }
  expect(streams).toHaveLength(1);
  jest.advanceTimersByTime(SILENT_MS + 5_000);
  expect(streams).toHaveLength(2);
  expect(streams[0]!.readyState).toBe(2);
  latest().onopen!();
  expect(connected).toEqual([true, false, true]);
});

test('after a sleep it is found out at once', () => {
  // Timers stand still in a sleep; the clock does not.
  jest.setSystemTime(Date.now() + 3_600_000);
  live.check();
  expect(streams).toHaveLength(2);
});

test('the browser reconnects by itself, unless the server refused', () => {
  latest().readyState = 0;
  latest().onerror!();
  jest.advanceTimersByTime(3_000);
  expect(streams).toHaveLength(1);
  latest().readyState = 2;
  latest().onerror!();
  jest.advanceTimersByTime(3_000);
  expect(streams).toHaveLength(2);
  expect(connected).toEqual([false, false]);
});

test('once closed, nothing more is opened or told', () => {
  latest().say({ kind: 'log' });
  live.close();
  jest.advanceTimersByTime(10 * SILENT_MS);
  expect(streams).toHaveLength(1);
  expect(heard).toEqual([]);
});

test('the beat tells whether the server has its database', () => {
  latest().say({ kind: 'beat', hasDatabase: false });
  latest().say({ kind: 'beat', hasDatabase: true });
  jest.advanceTimersByTime(TOGETHER_MS);
  expect(database).toEqual([false, true]);
  expect(heard).toEqual([]);
});
