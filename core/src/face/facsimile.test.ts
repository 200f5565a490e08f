import { describe, expect, it } from '@jest/globals';
import { textWidth } from '../look/fonts/measure.ts';
import type { Dress, Snapshot } from '../sheet/sheet.ts';
import { snapshotOf } from '../sheet/snapshot.fixture.ts';
import { drawFacsimile, type Mark } from './facsimile.ts';

const letters = { family: 'Calibri', size: 11 };
const dressed = (rows: Parameters<typeof snapshotOf>[0], dress: Partial<Dress>): Snapshot => ({
  ...snapshotOf(rows),
  dresses: [{ letters, ...dress }],
});
type Text = Extract<Mark, { kind: 'text' }>;
const texts = ({ marks }: { marks: Mark[] }) =>
  marks.filter((mark): mark is Text => mark.kind === 'text');

describe('a facsimile', () => {
  it('is as large as its columns and rows, hidden ones left out', () => {
    // Columns of 9 digits at 7 pixels are 63 pixels, rows of 15 points 20 (ECMA-376 Part 1, 18.3.1.13 and 18.3.1.73).
    const all = drawFacsimile(
      snapshotOf([
        ['a', 'b'],
        ['c', 'd'],
      ]),
    );
    expect([all.width, all.height]).toEqual([126, 40]);
    const fewer = drawFacsimile(
      snapshotOf(
        [
          ['a', 'b'],
          ['c', 'd'],
        ],
        { columns: [2], rows: [1] },
      ),
    );
    expect([fewer.width, fewer.height]).toEqual([63, 20]);
    expect(texts(fewer).map(({ text }) => text)).toEqual(['c']);
  });

  it('sets texts left, numbers right and errors in the middle when the cell does not say', () => {
    const [text, number, error] = texts(drawFacsimile(snapshotOf([['a', 7, { error: '#N/A' }]])));
    expect(text!.x).toBe(3);
    expect(number!.x + number!.width).toBeCloseTo(126 - 3);
    expect(error!.x + error!.width / 2).toBeCloseTo(126 + 63 / 2);
  });

  it('shows a number too wide for its column as signs, never as other digits', () => {
    const [mark] = texts(drawFacsimile(snapshotOf([[123456789012]])));
    expect(mark!.text).toMatch(/^#+$/);
    expect(mark!.width).toBeLessThanOrEqual(63);
  });

  it('lets a text run over empty neighbours and cuts it at filled ones', () => {
    const long = 'Sea lavender on silted ground';
    expect(textWidth(long, letters)).toBeGreaterThan(126);
    const [over] = texts(drawFacsimile(snapshotOf([[long, null, null, null]])));
    expect(over!.clip).toBeNull();
    const [cut] = texts(drawFacsimile(snapshotOf([[long, 1]])));
    expect(cut!.clip).toEqual({ x: 0, y: 0, width: 63, height: 20 });
  });

  it('breaks lines where the cell wraps, and the row grows for them', () => {
    const wrapped = drawFacsimile(dressed([['Sea lavender on silted ground']], { wrap: true }));
    expect(texts(wrapped).length).toBeGreaterThan(1);
    expect(wrapped.height).toBeGreaterThan(40);
  });

  it('draws a merged cell once, over all that it covers', () => {
    const merged: Snapshot = {
      ...dressed(
        [
          ['Both', null],
          [1, 2],
        ],
        { fill: '#0B4F5C', horizontal: 'center' },
      ),
      merges: [{ top: 1, left: 1, bottom: 1, right: 2 }],
    };
    const { marks } = drawFacsimile(merged);
    expect(marks.find((mark) => mark.kind === 'fill')).toEqual({
      kind: 'fill',
      colour: '#0B4F5C',
      x: 0,
      y: 0,
      width: 126,
      height: 20,
    });
    const [title] = texts({ marks });
    expect(title!.x + title!.width / 2).toBeCloseTo(63);
  });

  it('draws borders over fills, at the sides of their cells', () => {
    const line = { style: 'thin', colour: '#10242B' };
    const { marks } = drawFacsimile(dressed([['a', 'b']], { bottom: line, fill: '#FFFFFF' }));
    expect(marks.map(({ kind }) => kind)).toEqual(['fill', 'fill', 'text', 'text', 'line', 'line']);
    expect(marks.at(-1)).toEqual({ kind: 'line', from: [63, 20], to: [126, 20], line });
  });

  it('draws bars with what they fade into, and the line at which they begin', () => {
    const bars = snapshotOf([[40, -20]]);
    bars.cells[0]!.bar = { from: 0.3, to: 0.9, colour: '#0B4F5C', isGradient: true, axis: 0.3 };
    bars.cells[1]!.bar = { from: 0, to: 0.5, colour: '#B3261E' };
    const { marks } = drawFacsimile(bars);
    expect(marks.filter(({ kind }) => kind === 'fill')).toMatchObject([
      // A quarter of the colour and three quarters of white.
      { colour: '#0B4F5C', to: '#C2D3D6', x: 63 * 0.3 },
      { colour: '#B3261E', x: 63, width: 31.5 },
    ]);
    expect(marks.filter(({ kind }) => kind === 'line')).toHaveLength(1);
  });
});
