import { expect, it } from '@jest/globals';
import { copiesOf, renamed } from './copies.ts';
import { kindOfThing, type Thing, thingSchema } from './table.ts';

const id = (nth: number) => `00000000-0000-4000-8000-${String(nth).padStart(12, '0')}`;
const HASH = 'a'.repeat(64);
const made = (nth: number, said: object): Thing =>
  thingSchema.parse({ id: id(nth), page: id(1), order: nth, x: 10, y: 20, ...said });

const VIEW = made(11, {
  ...{ kind: 'view', hash: HASH, pixelWidth: 100, pixelHeight: 100, trueWidth: 1e5 },
  ...{ width: 100, height: 100, scale: 0.001, centre: { x: 0, y: 0 } },
});
const OBJECT = made(12, { kind: 'object', tetherId: id(101), form: 'table', field: 'date' });
const LOWER = made(13, {
  ...{ kind: 'object', tetherId: id(102), form: 'table' },
  below: { of: id(12), gap: 5 },
});
const MARKS = made(14, {
  ...{ kind: 'marks', of: id(101), view: id(11), key: 'Pile', from: { kind: 'hand' } },
});
const DIMENSION = made(15, { kind: 'dimension', to: { x: 50, y: 0 }, view: id(11) });

const copied = (things: Thing[], kept: string[] = []) => {
  let last = 500;
  return copiesOf(things, {
    ...{ page: id(2), order: 100, by: { x: 5.004, y: 0 } },
    isKept: (tether) => kept.includes(tether),
    newId: () => id(++last),
  });
};

it('things that are copied together belong to each other as those did that they are copies of', () => {
  const [view, object, lower, marks, dimension] = copied([VIEW, OBJECT, LOWER, MARKS, DIMENSION]);
  expect(lower).toMatchObject({ below: { of: object!.id, gap: 5 } });
  expect(marks).toMatchObject({ view: view!.id, of: (object as { tetherId: string }).tetherId });
  expect(dimension).toMatchObject({ view: view!.id, page: id(2), x: 15, y: 20 });
  // A field is filled once on a page.
  expect(object).toMatchObject({ copyOf: id(101), field: null });
});

it('what is copied alone stays with the view that it stands in, and below nothing', () => {
  expect(copied([MARKS, DIMENSION])).toMatchObject([
    { view: id(11), of: id(101) },
    { view: id(11) },
  ]);
  expect(copied([LOWER])).toMatchObject([{ below: null }]);
});

it('an object whose tether is kept is the same one', () => {
  expect(copied([OBJECT], [id(101)])).toMatchObject([{ tetherId: id(101) }]);
  expect(copied([OBJECT], [id(101)])[0]).not.toHaveProperty('copyOf');
});

it('in a copy of the whole document everything stays where it is, with tethers of its own', () => {
  const names = { tether: (name: string) => `${name} anew`, thing: (name: string) => name };
  const whole = { ...names, isWhole: true };
  expect(renamed(LOWER, whole)).toEqual({
    ...LOWER,
    tetherId: `${id(102)} anew`,
    copyOf: id(102),
  });
  expect(renamed(OBJECT, whole)).toMatchObject({ field: 'date' });
});

it('a thing stands in the box that it is given, as far as its kind takes one', () => {
  const box = { x: 33.333, y: 44, width: 55, height: 66, turn: 30 };
  const around = { size: null, boxOf: () => null, field: () => null };
  const rounded = { ...box, x: 33.33 };
  for (const thing of [
    VIEW,
    made(21, { kind: 'rectangle', width: 1, height: 1 }),
    made(22, { kind: 'ellipse', width: 1, height: 1 }),
    made(23, { kind: 'text', width: 1, height: 1, text: '' }),
    made(24, {
      ...{ kind: 'picture', width: 1, height: 1, hash: HASH, pixelWidth: 1, pixelHeight: 1 },
    }),
  ]) {
    const { extent, sized, boxed } = kindOfThing(thing);
    expect(extent).toBe('box');
    const after = { ...thing, ...sized(thing, box, undefined) } as Thing;
    expect(boxed(after, around)).toEqual(rounded);
  }
  // What is drawn by points is only turned; what was below another thing stands for itself once it is moved.
  const { sized } = kindOfThing(DIMENSION);
  expect(sized(DIMENSION, box, undefined)).toEqual({ turn: 30 });
  expect(kindOfThing(LOWER).sized(LOWER, box, undefined)).toMatchObject({ below: null });
  const still = { ...box, x: 10, y: 20, turn: 0 };
  expect(kindOfThing(LOWER).sized(LOWER, { ...still, width: 90 }, still)).toEqual({
    width: 90,
    height: 66,
  });
});
