import { expect, it } from '@jest/globals';
import { crowdingOf } from './crowding.ts';

const page = { x: 0, y: 0, width: 420, height: 297 };
const space = { x: 20, y: 10, width: 390, height: 277 };
const at = (id: string, x: number, y: number, width = 100, height = 50) => ({
  id,
  box: { x, y, width, height },
});

it('tells of objects off the page, over its frame and over each other, each pair once', () => {
  const objects = [at('in', 20, 10), at('frame', 320, 20), at('off', 330, 200), at('over', 60, 30)];
  const titleBlock = at('title block', 230, 245, 180, 42);
  expect(crowdingOf(objects, [titleBlock], { page, space })).toEqual([
    { id: 'frame', kind: 'over the frame' },
    { id: 'off', kind: 'off the page' },
    { id: 'off', kind: 'over another', other: 'title block' },
    { id: 'over', kind: 'over another', other: 'in' },
  ]);
});

it('lets edges touch, and borders lie on one line', () => {
  const objects = [at('one', 20, 10), at('next', 119.8, 10), at('at the frame', 310.2, 237)];
  expect(crowdingOf(objects, [], { page, space })).toEqual([]);
});
