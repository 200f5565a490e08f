import { describe, expect, test } from '@jest/globals';
import type { Cell, Snapshot } from '@tether/core';
import { valueText } from './value-text.ts';

const snapshotOf = (...cells: Partial<Cell>[]) => ({ cells: cells as Cell[] }) as Snapshot;
const share: Partial<Cell> = { type: 'number', value: 0.842, text: '84%', format: '0%' };

describe('a value in a sentence', () => {
  test('is shown as the source shows it, with words around it', () => {
    expect(valueText(snapshotOf(share), {})).toBe('84%');
    expect(valueText(snapshotOf(share), { before: 'about ', after: ' of all' })).toBe(
      'about 84% of all',
    );
  });
  test('or under a format of its own', () => {
    expect(valueText(snapshotOf(share), { format: '0.0%' })).toBe('84.2%');
    expect(
      valueText(snapshotOf({ type: 'date', value: '2026-10-05', text: '5 Oct 2026' }), {
        format: 'd mmmm',
      }),
    ).toBe('5 October');
  });
  test('a text takes no number format', () => {
    expect(
      valueText(snapshotOf({ type: 'text', value: 'Sea aster', text: 'Sea aster' }), {
        format: '0.0',
      }),
    ).toBe('Sea aster');
  });
  test('is the first filled cell, and a dash where there is none', () => {
    expect(valueText(snapshotOf({ type: 'blank', value: '', text: '' }, share), {})).toBe('84%');
    expect(valueText(snapshotOf(), { after: ' m' })).toBe('– m');
  });
});
