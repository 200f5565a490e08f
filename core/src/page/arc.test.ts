import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { svgPathProperties } from 'svg-path-properties';
import { type Arc, arcBox, arcPath, circleOf } from './arc.ts';

const coordinate = fc.integer({ min: -500, max: 500 });
const arcs = fc
  .record({
    from: fc.record({ x: coordinate, y: coordinate }),
    to: fc.record({ x: coordinate, y: coordinate }),
    bow: fc.integer({ min: -300, max: 300 }),
  })
  .filter(({ from, to, bow }) => Math.hypot(to.x - from.x, to.y - from.y) > 5 && Math.abs(bow) > 1);

describe('an arc', () => {
  it('is half a circle where it bows as far as half of its chord', () => {
    const half: Arc = { from: { x: 0, y: 0 }, to: { x: 20, y: 0 }, bow: -10 };
    expect(circleOf(half)).toEqual({
      centre: { x: 10, y: expect.closeTo(0, 9) },
      radius: 10,
      angle: expect.closeTo(180, 9),
      length: expect.closeTo(Math.PI * 10, 9),
    });
    // To the left of the way from left to right is up, since the sheet is measured downwards.
    expect(arcBox(half)).toEqual({
      x: 0,
      y: expect.closeTo(-10, 9),
      width: 20,
      height: expect.closeTo(10, 9),
    });
  });

  it('is a straight line where it does not bow', () => {
    const straight: Arc = { from: { x: 1, y: 2 }, to: { x: 9, y: 4 }, bow: 0 };
    expect(circleOf(straight)).toBeNull();
    expect(arcPath(straight)).toBe('M1 2L9 4');
    expect(arcBox(straight)).toEqual({ x: 1, y: 2, width: 8, height: 2 });
  });

  it('is as long, and passes where, another library has it', () => {
    fc.assert(
      fc.property(arcs, (arc) => {
        const path = new svgPathProperties(arcPath(arc));
        const { length } = circleOf(arc)!;
        expect(Math.abs(path.getTotalLength() - length)).toBeLessThan(length * 1e-3 + 0.01);
        // Its middle lies as far beside the middle of the chord as it bows, on the side that it says.
        const { from, to, bow } = arc;
        const middle = path.getPointAtLength(path.getTotalLength() / 2);
        const chord = Math.hypot(to.x - from.x, to.y - from.y);
        const across =
          ((to.x - from.x) * (middle.y - from.y) - (to.y - from.y) * (middle.x - from.x)) / chord;
        expect(Math.abs(across - bow)).toBeLessThan(Math.abs(bow) * 0.01 + 0.5);
      }),
    );
  });

  it('has the box that its points have', () => {
    fc.assert(
      fc.property(arcs, (arc) => {
        const path = new svgPathProperties(arcPath(arc));
        const all = path.getTotalLength();
        const points = Array.from({ length: 400 }, (_, at) =>
          path.getPointAtLength((all * at) / 399),
        );
        const box = arcBox(arc);
        const slack = all * 2e-3 + 0.1;
        const [xs, ys] = [points.map(({ x }) => x), points.map(({ y }) => y)];
        expect(Math.abs(Math.min(...xs) - box.x)).toBeLessThan(slack);
        expect(Math.abs(Math.max(...xs) - box.x - box.width)).toBeLessThan(slack);
        expect(Math.abs(Math.min(...ys) - box.y)).toBeLessThan(slack);
        expect(Math.abs(Math.max(...ys) - box.y - box.height)).toBeLessThan(slack);
      }),
      { numRuns: runs(50) },
    );
  });
});
