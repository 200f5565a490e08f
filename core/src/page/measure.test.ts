import { point as flatPoint, Polygon, segment } from '@flatten-js/core';
import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { svgPathProperties } from 'svg-path-properties';
import type { Point } from './box.ts';
import { dimensionLines } from './dimension.ts';
import { areaOf, centreOf, distanceToLine, lengthOf, placeAt, stationOf } from './measure.ts';
import { onPlan, onSheet, type PlanView, scaleBarLength } from './view.ts';

const coordinate = fc.double({ min: -10_000, max: 10_000, noNaN: true });
const points = fc.record({ x: coordinate, y: coordinate });
const lines = fc
  .array(
    fc.record({
      x: fc.integer({ min: -9999, max: 9999 }),
      y: fc.integer({ min: -9999, max: 9999 }),
    }),
    { minLength: 2, maxLength: 12 },
  )
  .filter((line) => lengthOf(line) > 1);
const pathOf = (line: readonly Point[]) =>
  new svgPathProperties(`M ${line.map(({ x, y }) => `${x} ${y}`).join(' L ')}`);
/** Corners of a star around the origin, which never crosses itself. */
const stars = fc
  .array(fc.double({ min: 5, max: 900, noNaN: true }), { minLength: 3, maxLength: 20 })
  .map((radii) =>
    radii.map((radius, at) => {
      const angle = (at / radii.length) * 2 * Math.PI;
      return { x: radius * Math.cos(angle), y: radius * Math.sin(angle) };
    }),
  );

describe('lengths and areas', () => {
  it('are those of two other libraries', () => {
    fc.assert(
      fc.property(lines, (line) => {
        expect(lengthOf(line)).toBeCloseTo(pathOf(line).getTotalLength(), 4);
      }),
    );
    fc.assert(
      fc.property(stars, (star) => {
        const theirs = new Polygon(star.map(({ x, y }) => flatPoint(x, y)));
        expect(areaOf(star)).toBeCloseTo(theirs.area(), 4);
        expect(areaOf([...star].reverse())).toBeCloseTo(theirs.area(), 4);
      }),
    );
  });

  it('of shapes whose formulas stand in every handbook', () => {
    // Right triangle of 3, 4 and 5: area 6, centroid at a third of its legs.
    const triangle = [
      { x: 0, y: 0 },
      { x: 3, y: 0 },
      { x: 0, y: 4 },
    ];
    expect(areaOf(triangle)).toBe(6);
    expect(lengthOf([...triangle, triangle[0]!])).toBe(12);
    expect(centreOf(triangle)).toEqual({ x: 1, y: expect.closeTo(4 / 3) });
    expect(
      centreOf([
        { x: 2, y: 2 },
        { x: 4, y: 2 },
      ]),
    ).toEqual({ x: 3, y: 2 });
  });

  it('the distance from a line is that of its nearest piece', () => {
    fc.assert(
      fc.property(lines, points, (line, point) => {
        const theirs = Math.min(
          ...line.slice(1).map(({ x, y }, at) => {
            const from = line[at]!;
            const here = flatPoint(point.x, point.y);
            return from.x === x && from.y === y
              ? here.distanceTo(flatPoint(x, y))[0]
              : here.distanceTo(segment(from.x, from.y, x, y))[0];
          }),
        );
        expect(distanceToLine(line, point)).toBeCloseTo(theirs, 4);
      }),
    );
  });
});

describe('setting out along a line', () => {
  it('stands at a chainage where another library says that it stands', () => {
    fc.assert(
      fc.property(lines, fc.double({ min: 0, max: 1, noNaN: true }), (line, share) => {
        const along = share * lengthOf(line);
        const theirs = pathOf(line).getPointAtLength(along);
        const ours = placeAt(line, { along, beside: 0 })!;
        expect(ours.x).toBeCloseTo(theirs.x, 3);
        expect(ours.y).toBeCloseTo(theirs.y, 3);
      }),
    );
  });

  it('goes to the right for what is beside it, and straight on over its ends', () => {
    const line = [
      { x: 0, y: 0 },
      { x: 100, y: 0 },
      { x: 100, y: 50 },
    ];
    // Looking along x with y downwards, the right hand is down.
    expect(placeAt(line, { along: 40, beside: 3 })).toEqual({ x: 40, y: 3 });
    expect(placeAt(line, { along: 120, beside: 3 })).toEqual({ x: 97, y: 20 });
    expect(placeAt(line, { along: -10, beside: 0 })).toEqual({ x: -10, y: 0 });
    expect(placeAt(line, { along: 160, beside: -2 })).toEqual({ x: 102, y: 60 });
    expect(
      placeAt(
        [
          { x: 1, y: 1 },
          { x: 1, y: 1 },
        ],
        { along: 0, beside: 0 },
      ),
    ).toBeNull();
  });

  it('finds the station of what was set out', () => {
    const line = [
      { x: 0, y: 0 },
      { x: 100, y: 0 },
      { x: 200, y: 30 },
    ];
    fc.assert(
      fc.property(
        fc.double({ min: -50, max: 300, noNaN: true }),
        fc.double({ min: -5, max: 5, noNaN: true }),
        (along, beside) => {
          // Near the bend a place inside it has two stations.
          fc.pre(Math.abs(along - 100) > 3);
          const found = stationOf(line, placeAt(line, { along, beside })!)!;
          expect(found.along).toBeCloseTo(along, 6);
          expect(found.beside).toBeCloseTo(beside, 6);
        },
      ),
    );
  });
});

describe('a view of a plan', () => {
  const view: PlanView = {
    box: { x: 30, y: 20, width: 300, height: 120 },
    scale: 1 / 50,
    centre: { x: 9_000, y: 1_500 },
    turn: 0,
  };
  it('shows a metre at 1:50 in 20 millimetres', () => {
    const [a, b] = [onSheet(view, { x: 0, y: 0 }), onSheet(view, { x: 1_000, y: 0 })];
    expect(b.x - a.x).toBeCloseTo(20, 9);
    expect(onSheet(view, view.centre)).toEqual({ x: 180, y: 80 });
  });

  it('goes there and back, turned or not, and its matrix does the same', () => {
    fc.assert(
      fc.property(points, fc.double({ min: -360, max: 360, noNaN: true }), (place, turn) => {
        const turned = { ...view, turn };
        const there = onSheet(turned, place);
        const back = onPlan(turned, there);
        expect(back.x).toBeCloseTo(place.x, 5);
        expect(back.y).toBeCloseTo(place.y, 5);
      }),
    );
  });

  it('has a scale bar of a round length', () => {
    // 60 mm at 1:50 are 3 m: the bar shows 2 m.
    expect(scaleBarLength(1 / 50, 60)).toBe(2_000);
    expect(scaleBarLength(1 / 50, 100)).toBe(5_000);
    expect(scaleBarLength(1 / 1000, 60)).toBe(50_000);
    expect(scaleBarLength(10, 60)).toBe(5);
  });
});

describe('a dimension', () => {
  it('stands beside what it measures, its figures over the line', () => {
    const lines = dimensionLines({ x: 10, y: 50 }, { x: 60, y: 50 }, -8)!;
    expect(lines.length).toBe(50);
    expect(lines.line).toEqual([
      { x: 10, y: 42 },
      { x: 60, y: 42 },
    ]);
    // Extension lines begin a little off the outline and go on over the dimension line.
    expect(lines.extensions[0]).toEqual([
      { x: 10, y: 49 },
      { x: 10, y: 40 },
    ]);
    expect(lines.text).toEqual({ at: { x: 35, y: 41 }, turn: 0 });
    expect(lines.arrows.map(({ turn }) => turn)).toEqual([180, 0]);
  });

  it('is read from below or from the right, whichever way it goes', () => {
    fc.assert(
      fc.property(
        points,
        points,
        fc.double({ min: -50, max: 50, noNaN: true }),
        (from, to, beside) => {
          const lines = dimensionLines(from, to, beside);
          if (!lines) return;
          // ISO 129-1:2018, 5.6.
          expect(lines.text.turn).toBeGreaterThanOrEqual(-90.000001);
          expect(lines.text.turn).toBeLessThan(90);
        },
      ),
    );
    expect(dimensionLines({ x: 0, y: 0 }, { x: 0, y: 40 }, 5)!.text).toEqual({
      at: { x: -6, y: expect.closeTo(20) },
      turn: -90,
    });
    expect(dimensionLines({ x: 1, y: 1 }, { x: 1, y: 1 }, 5)).toBeNull();
  });
});
