import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { statesToForget } from './thin.ts';

const NOW = Date.parse('2026-11-20T12:00:00Z');
const at = (iso: string) => Date.parse(iso);

test('all of the last thirty days stay, then the last of a day, then the last of a month', () => {
  const states = [
    { id: 1, at: at('2025-03-02T08:00Z') },
    { id: 2, at: at('2025-03-30T08:00Z') },
    { id: 3, at: at('2026-06-01T08:00Z') },
    { id: 4, at: at('2026-06-01T17:00Z') },
    { id: 5, at: at('2026-06-02T09:00Z') },
    { id: 6, at: at('2026-11-19T09:00Z') },
    { id: 7, at: at('2026-11-19T09:01Z') },
  ];
  expect(statesToForget(states, NOW).sort()).toEqual([1, 3]);
});

test('thinning twice forgets nothing more, and the newest always stays', () => {
  const state = fc.record({
    id: fc.nat(),
    at: fc.integer({ min: at('2021-01-01'), max: NOW }),
  });
  fc.assert(
    fc.property(fc.uniqueArray(state, { selector: ({ id }) => id, minLength: 1 }), (states) => {
      const gone = new Set(statesToForget(states, NOW));
      const left = states.filter(({ id }) => !gone.has(id));
      expect(statesToForget(left, NOW)).toEqual([]);
      const newest = Math.max(...states.map((each) => each.at));
      expect(left.some((each) => each.at === newest)).toBe(true);
    }),
  );
});
