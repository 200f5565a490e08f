import { describe, expect, it } from '@jest/globals';
import { fillLine, lineForEditing, lineFromEditing } from './running-line.ts';

const objects = [
  { id: 'a-1', name: 'Survivors' },
  { id: 'a-2', name: 'Planted' },
];

describe('head and foot of pages', () => {
  it('fill in pages, the title and values', () => {
    const fields = { page: 2, pages: 9, title: 'Autumn', values: new Map([['a-1', '1,815']]) };
    expect(fillLine('{title}: {#a-1} · {page} / {pages}', fields)).toBe('Autumn: 1,815 · 2 / 9');
  });

  it('leave braces that mean nothing, and show a dash for an object that is gone', () => {
    const fields = { page: 1, pages: 1, title: '', values: new Map() };
    expect(fillLine('{x} {#a-9}', fields)).toBe('{x} –');
  });

  it('name objects for writing and keep their tethers, whatever they are renamed to', () => {
    const kept = lineFromEditing('{Survivors} of {Planted}, {page}', objects);
    expect(kept).toBe('{#a-1} of {#a-2}, {page}');
    expect(lineForEditing(kept, [{ id: 'a-1', name: 'Alive' }, objects[1]!])).toBe(
      '{Alive} of {Planted}, {page}',
    );
  });
});
