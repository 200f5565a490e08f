import { expect, test } from '@jest/globals';
import { describeMode, type Mode, modeOf } from './mode.ts';

const AUTOMATIC: Mode = { kind: 'automatic' };
const MANUAL: Mode = { kind: 'manual' };

test('the object’s word holds before the source’s, and that before the document’s', () => {
  expect(modeOf({ object: MANUAL, source: AUTOMATIC, document: AUTOMATIC })).toEqual({
    mode: MANUAL,
    from: 'object',
  });
  expect(modeOf({ object: null, source: MANUAL, document: AUTOMATIC }).from).toBe('source');
  expect(modeOf({ object: null, source: null, document: AUTOMATIC }).mode).toBe(AUTOMATIC);
  expect(modeOf({ object: null, source: null, document: null }).mode).toEqual({
    kind: 'on opening',
    how: 'ask',
  });
});

test('modes are said in few words', () => {
  // In the words of the field in which it is chosen.
  expect(describeMode({ kind: 'manual' })).toBe('only by hand');
  expect(describeMode({ kind: 'timetable', timetable: { every: 15 } })).toBe('every 15 minutes');
  expect(
    describeMode({
      kind: 'timetable',
      timetable: { at: '07:30', days: 'weekdays', zone: 'Europe/London' },
    }),
  ).toBe('weekdays at 07:30 (Europe/London)');
});
