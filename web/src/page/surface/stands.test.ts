import { describe, expect, it } from '@jest/globals';
import { cornerPlace } from './stands.ts';

const SPACE = { x: 20, y: 10, width: 390, height: 277 };
const TITLE_BLOCK = { x: 230, y: 251, width: 180, height: 36 };
const SIZE = { width: 80, height: 50 };

describe('a corner of the frame', () => {
  it('is where something of its size fits in exactly', () => {
    expect(cornerPlace('upper left', SIZE, SPACE, [])).toEqual({ x: 20, y: 10 });
    const { x, y } = cornerPlace('lower right', SIZE, SPACE, []);
    expect([x, y]).toEqual([expect.closeTo(330, 0), expect.closeTo(237, 0)]);
    // What is rounded must not go over the frame.
    expect(x + SIZE.width).toBeLessThan(410);
    expect(y + SIZE.height).toBeLessThan(287);
  });

  it('is above the title block where that stands in it', () => {
    const { x, y } = cornerPlace('lower right', SIZE, SPACE, [TITLE_BLOCK]);
    expect([x, y]).toEqual([expect.closeTo(330, 0), expect.closeTo(201, 0)]);
    expect(y + SIZE.height).toBeLessThan(251);
    expect(cornerPlace('lower left', SIZE, SPACE, [TITLE_BLOCK]).y).toBeCloseTo(237, 0);
  });

  it('is where the frame begins for what is larger than it', () => {
    const large = { width: 500, height: 400 };
    expect(cornerPlace('lower right', large, SPACE, [])).toEqual({ x: 20, y: 10 });
  });
});
