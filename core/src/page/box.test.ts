import { Box as FlatBox, point as flatPoint, Polygon } from '@flatten-js/core';
import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { alignBoxes, distributeBoxes, ordersAt, restack, type Step } from './arrange.ts';
import {
  boundsOf,
  boxBetween,
  boxOfAll,
  cornersOf,
  directionTo,
  doOverlap,
  GRIPS,
  isIn,
  isWithin,
  resizedBox,
  type TurnedBox,
  turnedPoint,
} from './box.ts';
import { guidesOf, snap, snapBox } from './snap.ts';

// A place is nought in one way only.
const millimetres = fc.double({ min: -500, max: 1500, noNaN: true }).map((each) => each + 0);
const size = fc.double({ min: 2, max: 800, noNaN: true });
const boxes = fc.record({ x: millimetres, y: millimetres, width: size, height: size });
const turnedBoxes: fc.Arbitrary<TurnedBox> = fc.record({
  x: millimetres,
  y: millimetres,
  width: size,
  height: size,
  turn: fc.oneof(
    fc.constantFrom(0, 90, 180, 270, 360),
    fc.double({ min: -360, max: 360, noNaN: true }),
  ),
});

describe('a box', () => {
  it('turns about its middle as a polygon of another library does', () => {
    fc.assert(
      fc.property(turnedBoxes, (box) => {
        const theirs = new Polygon(
          new FlatBox(box.x, box.y, box.x + box.width, box.y + box.height),
        ).rotate(
          (box.turn * Math.PI) / 180,
          flatPoint(box.x + box.width / 2, box.y + box.height / 2),
        ).box;
        const ours = boundsOf(box);
        expect(ours.x).toBeCloseTo(theirs.xmin, 6);
        expect(ours.y).toBeCloseTo(theirs.ymin, 6);
        expect(ours.x + ours.width).toBeCloseTo(theirs.xmax, 6);
        expect(ours.y + ours.height).toBeCloseTo(theirs.ymax, 6);
      }),
    );
  });

  it('holds what lies on the page within its corners', () => {
    const box = { x: 10, y: 10, width: 40, height: 10, turn: 90 };
    // A quarter turn of a lying box stands upright: 10 wide, 40 high, around the same middle.
    expect(boundsOf(box)).toEqual({
      x: expect.closeTo(25),
      y: expect.closeTo(-5),
      width: expect.closeTo(10),
      height: expect.closeTo(40),
    });
    expect(isIn({ x: 30, y: 33 }, box)).toBe(true);
    expect(isIn({ x: 12, y: 15 }, box)).toBe(false);
    expect(cornersOf(box)[0]).toEqual({ x: expect.closeTo(35), y: expect.closeTo(-5) });
  });

  it('keeps what lies opposite of the grip that is moved', () => {
    fc.assert(
      fc.property(
        turnedBoxes,
        fc.constantFrom(...GRIPS),
        fc.record({ x: millimetres, y: millimetres }),
        fc.boolean(),
        (box, grip, by, isInShape) => {
          const after = resizedBox(box, grip, by, isInShape);
          const opposite = ({ x, y, width, height, turn }: TurnedBox) =>
            turnedPoint(
              { x: x + (width * (1 - grip.across)) / 2, y: y + (height * (1 - grip.down)) / 2 },
              { x: x + width / 2, y: y + height / 2 },
              turn,
            );
          const [before, now] = [opposite(box), opposite(after)];
          expect(now.x).toBeCloseTo(before.x, 5);
          expect(now.y).toBeCloseTo(before.y, 5);
          expect(Math.min(after.width, after.height)).toBeGreaterThanOrEqual(1 - 1e-9);
          if (isInShape) expect(after.width / after.height).toBeCloseTo(box.width / box.height, 3);
        },
      ),
    );
  });

  it('grows by what its grip was moved, along its own sides', () => {
    const box = { x: 0, y: 0, width: 100, height: 50, turn: 0 };
    expect(resizedBox(box, { across: 1, down: 1 }, { x: 10, y: -5 })).toEqual({
      ...box,
      width: 110,
      height: 45,
    });
    expect(resizedBox(box, { across: -1, down: 0 }, { x: 10, y: 99 })).toEqual({
      ...box,
      x: 10,
      width: 90,
    });
    expect(resizedBox(box, { across: 1, down: 1 }, { x: 100, y: 3 }, true)).toMatchObject({
      width: 200,
      height: 100,
    });
    // The right side of a box that was turned by a quarter points down.
    expect(resizedBox({ ...box, turn: 90 }, { across: 1, down: 0 }, { x: 7, y: 20 })).toMatchObject(
      {
        width: expect.closeTo(120),
        height: expect.closeTo(50),
      },
    );
  });

  it('tells where another lies', () => {
    const frame = { x: 20, y: 10, width: 390, height: 277 };
    expect(isWithin({ x: 20, y: 10, width: 390, height: 277 }, frame)).toBe(true);
    expect(isWithin({ x: 20, y: 10, width: 390.2, height: 277 }, frame)).toBe(false);
    expect(isWithin({ x: 20, y: 10, width: 390.2, height: 277 }, frame, 0.5)).toBe(true);
    expect(
      doOverlap({ x: 0, y: 0, width: 10, height: 10 }, { x: 10, y: 0, width: 5, height: 5 }),
    ).toBe(false);
    expect(
      doOverlap({ x: 0, y: 0, width: 10, height: 10 }, { x: 9, y: 9, width: 5, height: 5 }),
    ).toBe(true);
    expect(boxBetween({ x: 5, y: 9 }, { x: 1, y: 2 })).toEqual({ x: 1, y: 2, width: 4, height: 7 });
    expect(boxOfAll([])).toBeNull();
    expect(directionTo({ x: 10, y: 0 }, { x: 0, y: 0 })).toBe(90);
    expect(directionTo({ x: 0, y: -3 }, { x: 0, y: 0 })).toBe(0);
  });
});

describe('setting in line', () => {
  const moved = (
    all: { x: number; y: number; width: number; height: number }[],
    by: { x: number; y: number }[],
  ) => all.map((box, at) => ({ ...box, x: box.x + by[at]!.x, y: box.y + by[at]!.y }));

  it('brings edges or middles to the same place and moves nothing the other way', () => {
    fc.assert(
      fc.property(fc.array(boxes, { minLength: 1, maxLength: 6 }), (all) => {
        const lefts = moved(all, alignBoxes(all, 'left'));
        for (const each of lefts) expect(each.x).toBeCloseTo(Math.min(...all.map(({ x }) => x)), 6);
        for (const [at, { y }] of lefts.entries()) expect(y).toBeCloseTo(all[at]!.y, 9);
        const lows = moved(all, alignBoxes(all, 'bottom'));
        const lowest = Math.max(...all.map(({ y, height }) => y + height));
        for (const each of lows) expect(each.y + each.height).toBeCloseTo(lowest, 6);
        const centred = moved(all, alignBoxes(all, 'centre'));
        const [first] = centred;
        for (const each of centred)
          expect(each.x + each.width / 2).toBeCloseTo(first!.x + first!.width / 2, 6);
      }),
    );
    const [only] = alignBoxes([{ x: 0, y: 0, width: 10, height: 5 }], 'right', {
      x: 20,
      y: 10,
      width: 390,
      height: 277,
    });
    expect(only).toEqual({ x: 400, y: 0 });
  });

  it('makes gaps equal, the first and the last where they are', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(boxes, { minLength: 3, maxLength: 7, selector: ({ x }) => x }),
        fc.constantFrom('across' as const, 'down' as const),
        (all, way) => {
          const [start, length] =
            way === 'across' ? (['x', 'width'] as const) : (['y', 'height'] as const);
          const before = [...all].sort((a, b) => a[start] - b[start]);
          const after = moved(all, distributeBoxes(all, way));
          const order = before.map((box) => after[all.indexOf(box)]!);
          expect(order[0]![start]).toBe(before[0]![start]);
          expect(order.at(-1)![start]).toBe(before.at(-1)![start]);
          const gaps = order
            .slice(1)
            .map((box, at) => box[start] - order[at]![start] - order[at]![length]);
          for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0]!, 5);
        },
      ),
    );
    expect(distributeBoxes([], 'across')).toEqual([]);
  });
});

describe('the order from back to front', () => {
  const all = ['a', 'b', 'c', 'd', 'e'].map((id, at) => ({ id, order: at * 10 }));
  const after = (chosen: string[], step: Step) => {
    const fresh = restack(all, new Set(chosen), step);
    return all
      .map(({ id, order }) => ({ id, order: fresh.get(id) ?? order }))
      .sort((x, y) => x.order - y.order)
      .map(({ id }) => id)
      .join('');
  };
  it('changes for what was chosen alone', () => {
    expect(after(['b'], 'to front')).toBe('acdeb');
    expect(after(['d'], 'to back')).toBe('dabce');
    expect(after(['b'], 'forward')).toBe('acbde');
    expect(after(['b', 'd'], 'forward')).toBe('acebd');
    expect(after(['c'], 'backward')).toBe('acbde');
    expect(after(['a'], 'backward')).toBe('abcde');
    expect(after(['e'], 'forward')).toBe('abcde');
    expect(after(['a', 'b', 'c', 'd', 'e'], 'to front')).toBe('abcde');
  });

  it('has a place between any two, also where they share a number or none is left between them', () => {
    // Few numbers, and some that lie as near as numbers can: both come of people who add at once, and of many moves.
    const order = fc.oneof(fc.integer({ min: 0, max: 3 }), fc.constantFrom(1 + Number.EPSILON));
    fc.assert(
      fc.property(
        fc.array(order, { maxLength: 6 }).map((all) => all.sort((a, b) => a - b)),
        fc.integer({ min: 1, max: 3 }),
        fc.nat(6),
        (numbers, count, place) => {
          const others = numbers.map((each, nth) => ({ id: `o${nth}`, order: each }));
          const moved = Array.from({ length: count }, (_, nth) => `m${nth}`);
          const at = Math.min(place, others.length);
          const fresh = ordersAt(others, moved, at);
          const ids = others.map(({ id }) => id);
          const wanted = [...ids.slice(0, at), ...moved, ...ids.slice(at)];
          const was = new Map(others.map((each) => [each.id, each.order]));
          const now = wanted.map((id) => fresh.get(id) ?? was.get(id)!);
          for (const [nth, id] of wanted.entries()) {
            if (nth === 0 || !(fresh.has(id) || fresh.has(wanted[nth - 1]!))) continue;
            expect(now[nth]!).toBeGreaterThan(now[nth - 1]!);
          }
        },
      ),
    );
    expect(ordersAt([], ['m'], 0).size).toBe(1);
    expect([...ordersAt([{ id: 'a', order: 2 }], ['m'], 1)]).toEqual([['m', 3]]);
    expect([...ordersAt([{ id: 'a', order: 2 }], ['m'], 0)]).toEqual([['m', 1]]);
  });
});

describe('snapping', () => {
  const frame = { x: 20, y: 10, width: 390, height: 277 };
  it('takes the nearest edge or middle line within reach', () => {
    const guides = guidesOf(frame);
    const { by, at } = snapBox(
      { x: 21, y: 60, width: 50, height: 30 },
      { guides, grid: null, reach: 2 },
    );
    expect(by).toEqual({ x: -1, y: 0 });
    expect(at).toEqual([{ way: 'upright', at: 20, from: 10, to: 287 }]);
    expect(
      snapBox({ x: 358.5, y: 60, width: 50, height: 30 }, { guides, grid: null, reach: 2 }).by.x,
    ).toBe(1.5);
    expect(
      snapBox({ x: 189, y: 134, width: 50, height: 30 }, { guides, grid: null, reach: 2 }).by,
    ).toEqual({
      x: 1,
      y: -0.5,
    });
    expect(
      snapBox({ x: 30, y: 60, width: 50, height: 30 }, { guides, grid: null, reach: 2 }).at,
    ).toEqual([]);
  });

  it('takes the grid where nothing else is near', () => {
    const to = { guides: guidesOf(frame), grid: { step: 5, origin: { x: 20, y: 10 } }, reach: 3 };
    expect(snapBox({ x: 101, y: 12.4, width: 50, height: 30 }, to).by).toEqual({
      x: -1,
      y: expect.closeTo(-2.4),
    });
    expect(snap([102.6], [], to).by).toEqual({ x: expect.closeTo(2.4), y: 0 });
    expect(snap([], [], to)).toEqual({ by: { x: 0, y: 0 }, at: [] });
  });
});
