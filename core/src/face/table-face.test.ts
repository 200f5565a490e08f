import { describe, expect, it } from '@jest/globals';
import { type DocumentLook, USUAL_LOOK } from '../look/look.ts';
import type { Snapshot } from '../sheet/sheet.ts';
import { type FixtureValue, snapshotOf } from '../sheet/snapshot.fixture.ts';
import { fittedText } from './fitting.ts';
import { faceTable } from './table-face.ts';

const document: DocumentLook = USUAL_LOOK;
const ALL = {
  letters: 'document',
  fills: 'document',
  formats: 'document',
  widths: 'document',
} as const;
const face = (snapshot: Snapshot, look: Parameters<typeof faceTable>[1]['look'] = {}, beside = 1) =>
  faceTable(snapshot, { look, document, overrides: [], beside, room: 600, pageHeight: 900 });
const shown = ({ strips }: ReturnType<typeof face>) =>
  new Set(strips.flatMap(({ parts }) => parts.flatMap(({ columns }) => columns))).size;

describe('a placed table of any shape is ready to be drawn', () => {
  it.each([
    ['an empty one', snapshotOf([[null]])],
    ['one cell', snapshotOf([[7]])],
    ['nothing but errors', snapshotOf([[{ error: '#N/A' }, { error: '#DIV/0!' }]])],
    ['only a header', snapshotOf([['Plot', 'Planted']])],
  ])('%s', (_, snapshot) => {
    for (const look of [{}, ALL]) {
      const { strips, layout } = face(snapshot, look);
      expect(strips.length).toBeGreaterThan(0);
      expect(layout.heights.every((height) => height > 0)).toBe(true);
    }
  });

  it('300 columns, in strips below one another, each as wide as the room at most', () => {
    const row = (of: (column: number) => FixtureValue) =>
      Array.from({ length: 300 }, (_, c) => of(c));
    const wide = snapshotOf([row((c) => `Column ${c}`), row((c) => (c === 0 ? 'SC-01' : c))]);
    const result = face(wide);
    expect(shown(result)).toBe(300);
    for (const { parts } of result.strips) {
      const width = parts[0]!.columns.reduce(
        (sum, column) => sum + result.layout.widths[column]!,
        0,
      );
      expect(width).toBeLessThanOrEqual(600);
      expect(parts[0]!.columns[0]).toBe(0);
    }
  });

  it.each([11, 25, 300])('%i columns that follow the report show every figure whole', (count) => {
    const row = (of: (column: number) => FixtureValue) =>
      Array.from({ length: count }, (_, c) => of(c));
    const figures = snapshotOf([
      row((c) => (c === 0 ? 'Plot' : `Surviving in month ${c}`)),
      row((c) => (c === 0 ? 'SC-01' : 1_234_567.89 + c)),
    ]);
    const result = face(figures, ALL);
    expect(shown(result)).toBe(count);
    for (const cell of result.snapshot.cells) {
      if (cell.type !== 'number') continue;
      const dress = cell.dress === undefined ? undefined : result.snapshot.dresses[cell.dress];
      const width = result.layout.widths[cell.column - 1]!;
      expect(fittedText(cell, dress, width, 'page')).toBe(cell.text);
    }
    for (const { parts } of result.strips) {
      const width = parts[0]!.columns.reduce((sum, c) => sum + result.layout.widths[c]!, 0);
      expect(width).toBeLessThanOrEqual(600);
    }
  });

  it('5,000 rows in parts side by side, every strip as high as a page at most', () => {
    const rows = Array.from({ length: 5000 }, (_, at): FixtureValue[] => [`P-${at}`, at]);
    const { strips } = face(snapshotOf([['Plot', 'Planted'], ...rows]), {}, 4);
    expect(strips.every(({ parts, height }) => parts.length <= 4 && height <= 900)).toBe(true);
    const count = strips.flatMap(({ parts }) => parts.map(({ from, to }) => to - from));
    expect(count.reduce((sum, each) => sum + each, 0)).toBe(5000);
  });

  it('parts side by side that fit the page share its width', () => {
    const rows = Array.from({ length: 20 }, (_, at): FixtureValue[] => [`Plot ${at}`, at]);
    const { strips, layout } = face(
      snapshotOf([['Plot', 'Planted'], ...rows]),
      { widths: 'document' },
      2,
    );
    expect(strips[0]!.parts).toHaveLength(2);
    expect(layout.widths.reduce((sum, each) => sum + each, 0)).toBe(288);
  });
});

describe('a table on a page that it may not go over', () => {
  const long = snapshotOf([
    ['Pile', 'Length'],
    ...Array.from({ length: 60 }, (_, at): FixtureValue[] => [`P${at + 1}`, 4 + at / 10]),
  ]);
  const fitting = (pageHeight: number, room = 600) =>
    faceTable(long, { look: {}, document, overrides: [], beside: 'fitting', room, pageHeight });
  const parts = ({ strips }: ReturnType<typeof face>) => strips.map((strip) => strip.parts.length);

  it('stands in as few parts side by side as it takes, every row in one of them', () => {
    const whole = fitting(10_000);
    expect(parts(whole)).toEqual([1]);
    const [{ height }] = whole.strips as [(typeof whole.strips)[0]];
    const halved = fitting(height * 0.6);
    expect(parts(halved)).toEqual([2]);
    const rows = halved.strips.flatMap((strip) => strip.parts.map(({ from, to }) => [from, to]));
    expect(rows.flat()).toEqual([1, rows[0]![1], rows[0]![1], 61]);
    expect(parts(fitting(height * 0.4))).toEqual([3]);
    for (const face of [halved, fitting(height * 0.4)]) {
      for (const strip of face.strips) expect(strip.height).toBeLessThanOrEqual(height * 0.6);
    }
  });

  it('stays as one where no number of parts has room', () => {
    expect(parts(fitting(60))).toEqual([1]);
    expect(parts(fitting(300, 150))).toEqual([1]);
  });
});
