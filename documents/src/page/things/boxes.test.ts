import { expect, it } from '@jest/globals';
import { boxesOf } from './boxes.ts';
import { type Thing, thingSchema } from './table.ts';

const id = (nth: number) => `00000000-0000-4000-8000-${String(nth).padStart(12, '0')}`;
const object = (nth: number, said: object): Thing =>
  thingSchema.parse({
    ...{ id: id(nth), kind: 'object', page: id(1), order: nth, x: 10, y: 20 },
    ...{ tetherId: id(nth + 100), form: 'table', ...said },
  });
const sizes = new Map([11, 12, 13].map((nth) => [id(nth), { width: 80, height: nth }]));
const where = (things: Thing[], fields = new Map()) => boxesOf(things, { sizes, fields });

it('an object below another one stands under it and moves when that grows', () => {
  const [upper, lower] = [object(11, {}), object(12, { below: { of: id(11), gap: 5 } })];
  expect(where([lower, upper]).get(id(12))).toEqual({
    x: 10,
    y: 36,
    width: 80,
    height: 12,
    turn: 0,
  });
  const grown = new Map([...sizes, [id(11), { width: 80, height: 100 }]]);
  expect(boxesOf([upper, lower], { sizes: grown, fields: new Map() }).get(id(12))!.y).toBe(125);
});

it('objects that stand below each other in a circle, or below nothing, stand where they say', () => {
  const circle = [
    object(11, { below: { of: id(12), gap: 5 } }),
    object(12, { below: { of: id(11), gap: 5 }, y: 70 }),
    object(13, { below: { of: id(99), gap: 5 }, y: 90 }),
  ];
  const boxes = where(circle);
  expect(boxes.get(id(13))!.y).toBe(90);
  expect([boxes.get(id(11))!.y, boxes.get(id(12))!.y]).toEqual([87, 70]);
});

it('an object in a field stands there; lines and dimensions have the box of what is drawn', () => {
  const field = { x: 230, y: 245, width: 40, height: 10 };
  expect(where([object(11, { field: 'date' })], new Map([['date', field]])).get(id(11))).toEqual({
    ...field,
    turn: 0,
  });
  const line = thingSchema.parse({
    ...{ id: id(20), kind: 'line', page: id(1), order: 0, x: 100, y: 100 },
    points: [
      { x: 0, y: 0 },
      { x: -20, y: 30 },
    ],
  });
  const dimension = thingSchema.parse({
    ...{ id: id(21), kind: 'dimension', page: id(1), order: 0, x: 100, y: 100 },
    ...{ to: { x: 50, y: 0 }, beside: -8 },
  });
  const boxes = where([line, dimension]);
  expect(boxes.get(id(20))).toEqual({ x: 80, y: 100, width: 20, height: 30, turn: 0 });
  // The extension lines go 2 mm over the dimension line, which is 8 mm away.
  expect(boxes.get(id(21))).toEqual({ x: 100, y: 90, width: 50, height: 10, turn: 0 });
});
