import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { drawCord, endAt, heldAlong, sagOf } from './cord.ts';

const pane = { top: 100, bottom: 500, left: 0, right: 400 };

describe('the sag of a cord', () => {
  test('nothing while in step, seen already for one cell, deeper for more', () => {
    expect(sagOf({ standing: 'in step', behindBy: 0 })).toBe(0);
    const depths = [1, 2, 4, 8].map((behindBy) => sagOf({ standing: 'behind', behindBy }));
    expect(depths[0]).toBeGreaterThan(10);
    const steps = depths.slice(1).map((depth, index) => depth - depths[index]!);
    expect(new Set(steps.map((step) => step.toFixed(6))).size).toBe(1);
  });

  test('never falls with more cells and never leaves the screen', () => {
    fc.assert(
      fc.property(fc.nat(1_000_000), fc.nat(1_000_000), (a, b) => {
        const [less, more] = a < b ? [a, b] : [b, a];
        const low = sagOf({ standing: 'behind', behindBy: less });
        const high = sagOf({ standing: 'behind', behindBy: more });
        return low <= high && high <= 100;
      }),
    );
  });
});

describe('the shape of a cord', () => {
  test('straight in step', () => {
    const cord = drawCord({ x: 0, y: 10 }, { x: 200, y: 50 }, { standing: 'in step', behindBy: 0 });
    expect(cord.knot).toBeNull();
    expect(cord.path).toBe('M0.0 10.0L200.0 50.0');
    expect(cord.middle).toEqual({ x: 100, y: 30 });
  });

  test('behind: a parabola whose middle lies the sag below the straight line', () => {
    const state = { standing: 'behind', behindBy: 4, edits: 1 } as const;
    const cord = drawCord({ x: 0, y: 0 }, { x: 200, y: 0 }, state);
    const [, x, y] = /Q([\d.]+) ([\d.]+)/.exec(cord.path)!;
    // The point of a quadratic Bézier curve at one half: a quarter, a half, a quarter of its three points.
    expect([Number(x) / 2 + 50, Number(y) / 2]).toEqual([100, sagOf(state)]);
    expect(cord.middle).toEqual({ x: 100, y: sagOf(state) });
    // Edits that wait are tied into it there.
    expect(cord.knot).toContain(`M94.0 ${sagOf(state).toFixed(1)}a4 3 `);
  });

  test('adrift: it ends before the cells, with loose strands', () => {
    const cord = drawCord({ x: 0, y: 0 }, { x: 200, y: 0 }, { standing: 'adrift', behindBy: 0 });
    const ends = [...cord.path.matchAll(/(-?[\d.]+) (-?[\d.]+)$/g)].map((match) =>
      Number(match[1]),
    );
    expect(ends[0]).toBeLessThan(150);
    expect(cord.strands?.match(/M/g)).toHaveLength(3);
  });
});

describe('where a cord is held', () => {
  test('at the side of the box that faces the other pane', () => {
    const box = { top: 200, bottom: 300, left: 50, right: 350 };
    expect(endAt(box, 'right', 210, pane)).toEqual({ x: 350, y: 210, isOutside: false });
    expect(endAt(box, 'left', 210, pane)).toEqual({ x: 50, y: 210, isOutside: false });
  });

  test('at the rim of the pane when it is scrolled out', () => {
    const above = { top: -80, bottom: 20, left: 50, right: 350 };
    expect(endAt(above, 'right', -70, pane)).toEqual({ x: 350, y: 100, isOutside: true });
    const aside = { top: 200, bottom: 220, left: 600, right: 700 };
    expect(endAt(aside, 'left', 210, pane)).toEqual({ x: 400, y: 210, isOutside: true });
  });

  test('cells at the rim are held in the middle of what is seen of them', () => {
    const held = (top: number, bottom: number) =>
      heldAlong({ top, bottom, left: 0, right: 1 }, pane);
    expect(held(200, 300)).toMatchObject({ at: { y: 250 }, edge: null });
    expect(held(400, 900)).toMatchObject({ at: { y: 450 }, edge: null });
    expect(held(600, 900)).toMatchObject({ at: { y: 500, isOutside: true }, edge: null });
    expect(held(0, 50)).toMatchObject({ at: { y: 100, isOutside: true }, edge: null });
  });

  test('to cells that begin further in it goes along the line above them, or below them', () => {
    const rim = pane.left;
    const held = (top: number, bottom: number) =>
      heldAlong({ top, bottom, left: rim + 120, right: rim + 200 }, pane);
    expect(held(200, 300)).toEqual({ at: { x: rim, y: 200, isOutside: false }, edge: rim + 120 });
    expect(held(20, 300)).toEqual({ at: { x: rim, y: 300, isOutside: false }, edge: rim + 120 });
    // With neither line in sight it stays at the rim, and so it does with cells that are scrolled out.
    expect(held(20, 900)).toMatchObject({ at: { x: rim, y: 300 }, edge: null });
    expect(held(600, 900)).toMatchObject({ at: { x: rim, y: 500, isOutside: true }, edge: null });
  });
});
