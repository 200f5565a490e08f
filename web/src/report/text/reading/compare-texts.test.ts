import { describe, expect, test } from '@jest/globals';
import type { ReportContent, ReportNode } from '@tether/documents';
import { compareTexts } from './compare-texts.ts';

const one = '11111111-1111-4111-8111-111111111111';
const line = (text: string, marks?: ReportNode['marks']): ReportNode => ({
  type: 'paragraph',
  content: [{ type: 'text', text, ...(marks ? { marks } : {}) }],
});
const object = (form: string, dressing = {}): ReportNode => ({
  type: 'placedObject',
  attrs: { tetherId: one, copyOf: null, form, dressing },
});
const text = (...content: ReportNode[]): ReportContent => ({ type: 'doc', content });
const compared = (before: ReportContent, after: ReportContent) =>
  compareTexts(before, after, (id) => (id === one ? 'Counts' : undefined)).map(
    ({ kind, parts }) => [
      kind,
      parts
        .map(({ words, kind: side }) =>
          side === 'came' ? `{+${words}+}` : side === 'went' ? `{-${words}-}` : words,
        )
        .join(''),
    ],
  );

describe('two states of a text', () => {
  test('that are the same have nothing that differs', () => {
    const same = text(line('All plots were counted.'), object('table'));
    expect(compared(same, same)).toEqual([
      ['same', 'All plots were counted.'],
      ['same', '[Counts, as a table]'],
    ]);
  });

  test('are the same in whatever order they were kept', () => {
    const kept: ReportNode = { content: [{ text: 'Plain.', type: 'text' }], type: 'paragraph' };
    const open: ReportNode = { ...line('Plain.'), attrs: { textAlign: null } };
    expect(compared(text(kept), text(open))).toEqual([['same', 'Plain.']]);
  });

  test('show words that came and went within a block', () => {
    expect(
      compared(
        text(line('All plots were counted in October at low water.')),
        text(line('All plots were counted in November at low water.')),
      ),
    ).toEqual([['changed', 'All plots were counted in {-October-}{+November+} at low water.']]);
  });

  test('show blocks that came and went, at their place', () => {
    expect(
      compared(
        text(line('First.'), line('The sluice stood open.'), line('Last.')),
        text(line('First.'), line('Last.'), line('Decking starts in spring.')),
      ),
    ).toEqual([
      ['same', 'First.'],
      ['went', '{-The sluice stood open.-}'],
      ['same', 'Last.'],
      ['came', '{+Decking starts in spring.+}'],
    ]);
  });

  test('tell letters and dressings apart from words', () => {
    expect(
      compared(
        text(line('Plain.'), object('table')),
        text(line('Plain.', [{ type: 'bold' }]), object('table', { beside: 2 })),
      ).map(([kind]) => kind),
    ).toEqual(['dressed', 'dressed']);
    expect(compared(text(object('table')), text(object('chart')))).toEqual([
      ['changed', '[Counts, as a {-table-}{+chart+}]'],
    ]);
  });

  test('are compared item by item and row by row', () => {
    const list = (...items: string[]): ReportNode => ({
      type: 'bulletList',
      content: items.map((item) => ({ type: 'listItem', content: [line(item)] })),
    });
    const table = (...rows: string[][]): ReportNode => ({
      type: 'table',
      content: rows.map((cells) => ({
        type: 'tableRow',
        content: cells.map((cell) => ({ type: 'tableCell', content: [line(cell)] })),
      })),
    });
    expect(
      compared(
        text(list('Fence first', 'Replant'), table(['North', '12'], ['South', '9'])),
        text(list('Fence first', 'Wait', 'Replant'), table(['North', '12'], ['South', '11'])),
      ),
    ).toEqual([
      ['same', 'Fence first'],
      ['came', '{+Wait+}'],
      ['same', 'Replant'],
      ['same', 'North | 12'],
      ['changed', 'South | {-9-}{+11+}'],
    ]);
  });
});
