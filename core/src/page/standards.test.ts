import { describe, expect, it } from '@jest/globals';
import { dashes, LETTER_HEIGHTS, LINE_WIDTHS } from './drawn-lines.ts';
import { DRAWING_SIZES, type DrawingSize, fieldAt, frameOf } from './frame.ts';
import { A_SERIES } from './paper.ts';
import { isRecommended, RECOMMENDED_SCALES, readScale, scaleToFit, writeScale } from './scale.ts';

describe('sheets by ISO 216', () => {
  it('begin with a square metre in the proportion of one to the square root of two, and are halved', () => {
    // ISO 216:2007, 3.1 and 3.2: sizes are whole millimetres, rounded down where a side is halved.
    const [short, long] = A_SERIES.A0;
    expect((short * long) / 1e6).toBeCloseTo(1, 3);
    const sizes = Object.values(A_SERIES);
    for (const [at, [width, height]] of sizes.entries()) {
      expect(Math.abs(height / width - Math.SQRT2)).toBeLessThan(0.005);
      const next = sizes[at + 1];
      if (next) expect(next).toEqual([Math.floor(height / 2), width]);
    }
  });
});

describe('frames by ISO 5457', () => {
  // ISO 5457:1999, table 1: drawing space a2 × b2 of the trimmed sizes; A4 upright, the others lying.
  const spaces: [DrawingSize, number, number][] = [
    ['A0', 821, 1159],
    ['A1', 574, 811],
    ['A2', 400, 564],
    ['A3', 277, 390],
    ['A4', 277, 180],
  ];
  it.each(spaces)('%s leaves %s by %s mm for drawing', (size, height, width) => {
    const { space } = frameOf(size, size !== 'A4');
    expect([space.height, space.width]).toEqual([height, width]);
  });

  // ISO 5457:1999, table 2.
  it.each([
    ['A0', 24, 16],
    ['A1', 16, 12],
    ['A2', 12, 8],
    ['A3', 8, 6],
    ['A4', 6, 4],
  ] as const)(
    '%s has %s fields along its longer and %s along its shorter side',
    (size, long, short) => {
      const lying = frameOf(size, true);
      const upright = frameOf(size, false);
      expect([lying.across.length, lying.down.length]).toEqual([long, short]);
      expect([upright.down.length, upright.across.length]).toEqual([long, short]);
    },
  );

  it.each(DRAWING_SIZES)(
    'fields of %s are 50 mm long from the axes on, those at the corners take the rest',
    (size) => {
      for (const isLandscape of [true, false]) {
        const { across, down, space, sheet, centring } = frameOf(size, isLandscape);
        for (const [fields, from, to, axis] of [
          [across, space.x, space.x + space.width, sheet.width / 2],
          [down, space.y, space.y + space.height, sheet.height / 2],
        ] as const) {
          for (const field of fields.slice(1, -1)) expect(field.to - field.from).toBeCloseTo(50, 9);
          expect([fields[0]!.from, fields.at(-1)!.to]).toEqual([from, to]);
          expect(fields[fields.length / 2]!.from).toBeCloseTo(axis, 9);
          for (const [at, field] of fields.slice(1).entries())
            expect(field.from).toBe(fields[at]!.to);
          for (const { from: a, to: b } of fields) expect(b).toBeGreaterThan(a);
        }
        // ISO 5457:1999, 4.3: marks at the axes of the trimmed sheet, 10 mm over the frame.
        expect(centring[0]![1]).toEqual({ x: sheet.width / 2, y: space.y + 10 });
        expect(centring[1]![1]).toEqual({ x: space.x + space.width - 10, y: sheet.height / 2 });
      }
    },
  );

  it('letters go down without I and O, figures go across', () => {
    const { across, down } = frameOf('A1', false);
    expect(down.map(({ name }) => name).join('')).toBe('ABCDEFGHJKLMNPQR');
    expect(across.map(({ name }) => name)).toEqual(
      [...Array(12).keys()].map((at) => String(at + 1)),
    );
    expect(frameOf('A4', false).named).toEqual(['top', 'right']);
    expect(frameOf('A3', true).named).toHaveLength(4);
  });

  it('names the field of a place', () => {
    const frame = frameOf('A3', true);
    expect(fieldAt(frame, { x: 21, y: 11 })).toBe('A1');
    expect(fieldAt(frame, { x: 211, y: 149 })).toBe('D5');
    expect(fieldAt(frame, { x: 900, y: 900 })).toBe('F8');
  });
});

describe('scales by ISO 5455', () => {
  it('are those of its table', () => {
    // ISO 5455:1979, table 1.
    expect(RECOMMENDED_SCALES.join(' ')).toBe(
      '50:1 20:1 10:1 5:1 2:1 1:1 1:2 1:5 1:10 1:20 1:50 1:100 1:200 1:500 1:1000 1:2000 1:5000 1:10000',
    );
    for (const each of RECOMMENDED_SCALES) {
      const read = readScale(each);
      if (!read.ok) throw new Error(each);
      expect([writeScale(read.value), isRecommended(read.value)]).toEqual([each, true]);
    }
  });

  it('are read as people write them, and others are told from those', () => {
    expect(readScale(' 1 : 12,5 ')).toEqual({ ok: true, value: 0.08 });
    expect(writeScale(0.08)).toBe('1:12.5');
    expect(isRecommended(0.08)).toBe(false);
    expect(writeScale(3)).toBe('3:1');
  });

  it.each(['1:0', '0:1', '1:', 'fifty', '-1:50', '1:50:2', '', '1:1e9'])('%s is none', (text) => {
    expect(readScale(text)).toMatchObject({ ok: false, fault: { code: 'scale-malformed' } });
  });

  it('the largest at which something fits', () => {
    expect(
      writeScale(scaleToFit({ width: 18_000, height: 3_000 }, { width: 390, height: 277 })),
    ).toBe('1:50');
    expect(
      writeScale(scaleToFit({ width: 19_600, height: 3_000 }, { width: 390, height: 277 })),
    ).toBe('1:100');
    expect(writeScale(scaleToFit({ width: 1e9, height: 1 }, { width: 390, height: 277 }))).toBe(
      '1:10000',
    );
  });
});

describe('lines and letters', () => {
  it('grow by the square root of two', () => {
    // ISO 128-2:2020, 5.3 and ISO 3098-1:2015, 5.3: rounded, so that neighbours differ from it by a few hundredths.
    expect(LINE_WIDTHS.join(' ')).toBe('0.13 0.18 0.25 0.35 0.5 0.7 1 1.4 2');
    expect(LETTER_HEIGHTS.join(' ')).toBe('1.8 2.5 3.5 5 7 10 14 20');
    for (const series of [LINE_WIDTHS, LETTER_HEIGHTS]) {
      for (const [at, each] of series.slice(1).entries()) {
        expect(Math.abs(each / series[at]! - Math.SQRT2)).toBeLessThan(0.04);
      }
    }
    // Letters of type B are drawn in lines of a tenth of their height (ISO 3098-1:2015, 5.4), which is a width of the series.
    for (const height of LETTER_HEIGHTS) {
      expect(LINE_WIDTHS.some((width) => Math.abs(width - height / 10) < 0.005)).toBe(true);
    }
  });

  it('are broken in parts of their width', () => {
    // ISO 128-2:2020, table 2 and annex: dashes 12 d, long dashes 24 d, gaps 3 d, dots half a d.
    expect(dashes('dashed', 0.25)).toEqual([3, 0.75]);
    expect(dashes('long dash dot', 0.5)).toEqual([12, 1.5, 0.25, 1.5]);
    expect(dashes('continuous', 0.7)).toEqual([]);
  });
});
