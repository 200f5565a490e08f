import { describe, expect, it } from '@jest/globals';
import {
  kindOf,
  plainRich,
  richOf,
  type TextThing,
  type Thing,
  tethersIn,
  thingSchema,
  type ViewThing,
  valueIn,
} from '@tether/documents';
import * as Y from 'yjs';
import { setTrueWidth } from '../plan/plans.ts';
import { PageDocument } from './page-document.ts';
import type { PageKind } from './page-kind.ts';
import { PageSurface } from './page-surface.ts';

const id = (nth: number) => `00000000-0000-4000-8000-${String(nth).padStart(12, '0')}`;
const SPACE = { x: 20, y: 10, width: 390, height: 277 };
const TITLE_BLOCK = { x: 230, y: 251, width: 180, height: 36 };
const KIND: PageKind = {
  name: 'drawing',
  hasPlans: true,
  size: () => ({ width: 420, height: 297 }),
  space: () => SPACE,
  fields: () => new Map([['date', { x: 300, y: 270, width: 30, height: 6 }]]),
  spaceName: 'frame',
  kept: () => [{ id: 'the title block', box: TITLE_BLOCK }],
  look: () => ({ tableStyle: 'hairlines', decimals: 1, dates: 'd mmm yyyy' }),
};

function open(): PageSurface {
  const doc = new Y.Doc();
  const kind = kindOf('drawing');
  doc.transact(() => kind.shared.write(doc, kind.firstContent('Boardwalk')));
  const surface = new PageSurface(new PageDocument(doc, kindOf('drawing').shared), KIND);
  surface.shown.setEditable(true);
  return surface;
}
const put = (surface: PageSurface, said: Record<string, unknown>): Thing => {
  const thing = thingSchema.parse({ ...surface.shown.fresh(), x: 30, y: 40, ...said });
  surface.steps.add([thing]);
  return thing;
};
const box = (surface: PageSurface, x: number, y: number) =>
  put(surface, { kind: 'rectangle', x, y, width: 40, height: 20 });
const object = (surface: PageSurface, nth: number, said: Record<string, unknown> = {}) =>
  put(surface, { kind: 'object', tetherId: id(nth), form: 'table', ...said });
const at = (surface: PageSurface, thing: Thing) => {
  const { x, y } = surface.pages.thing(thing.id)!;
  return [x, y];
};

describe('what is chosen on a page', () => {
  it('moves together, is set in line with the frame, and goes back step by step', () => {
    const surface = open();
    const [one, two] = [box(surface, 30, 40), box(surface, 100, 90)];
    surface.shown.choose([one.id, two.id]);
    surface.steps.moveChosen({ x: 5, y: -5 });
    expect([at(surface, one), at(surface, two)]).toEqual([
      [35, 35],
      [105, 85],
    ]);
    surface.steps.align('right', true);
    expect([at(surface, one), at(surface, two)]).toEqual([
      [370, 35],
      [370, 85],
    ]);
    surface.undo();
    surface.undo();
    expect(at(surface, one)).toEqual([30, 40]);
  });

  it('comes with its group, and what is locked stays', () => {
    const surface = open();
    const [one, two, three] = [box(surface, 30, 40), box(surface, 100, 90), box(surface, 200, 90)];
    surface.shown.choose([one.id, two.id]);
    surface.steps.group();
    surface.shown.choose([one.id]);
    expect([...surface.shown.chosenIds()].sort()).toEqual([one.id, two.id].sort());
    surface.shown.choose([three.id]);
    surface.steps.lock(true);
    surface.steps.moveChosen({ x: 5, y: 5 });
    surface.steps.removeChosen();
    expect(at(surface, three)).toEqual([200, 90]);
  });

  it('copied again and again goes on by the step that the copy was moved by', () => {
    const surface = open();
    const one = box(surface, 30, 40);
    surface.shown.choose([one.id]);
    surface.steps.duplicate();
    surface.steps.moveChosen({ x: 25, y: -5 });
    surface.steps.duplicate();
    surface.steps.duplicate();
    const places = surface.shown.thingsHere().map(({ x, y }) => [x, y]);
    expect(places).toEqual([
      [30, 40],
      [60, 40],
      [90, 40],
      [120, 40],
    ]);
  });
});

describe('objects on a page', () => {
  it('go below the one that is chosen, and move with it', () => {
    const surface = open();
    const upper = object(surface, 21);
    surface.boxes.measured(upper.id, { width: 80, height: 50 });
    surface.shown.choose([upper.id]);
    surface.insert({ id: id(22), form: 'table' });
    const lower = surface.pages.objectThing(id(22))!;
    expect(surface.boxes.all().get(lower.id)).toMatchObject({ x: 30, y: 95 });
    surface.boxes.measured(upper.id, { width: 80, height: 70 });
    expect(surface.boxes.all().get(lower.id)!.y).toBe(115);
    // Moved by hand it stands for itself.
    surface.shown.choose([lower.id]);
    surface.steps.moveChosen({ x: 0, y: 10 });
    expect(surface.pages.objectThing(id(22))).toMatchObject({ below: null, y: 125 });
  });

  it('copied get tethers of their own; marks, and what stands below, belong to the copies', () => {
    const surface = open();
    const upper = object(surface, 21);
    const lower = object(surface, 22, { below: { of: upper.id, gap: 5 } });
    const view = put(surface, {
      ...{ kind: 'view', width: 100, height: 50, hash: 'a'.repeat(64), pixelWidth: 10 },
      ...{ pixelHeight: 5, trueWidth: 5_000, scale: 0.02, centre: { x: 2_500, y: 1_250 } },
    });
    const marks = put(surface, {
      ...{ kind: 'marks', of: id(21), view: view.id, key: 'Pile', from: { kind: 'hand' } },
    });
    const copies = surface.steps.copiesOf([upper, lower, view, marks], { x: 5, y: 5 });
    const [a, b, c, d] = copies as [Thing, Thing, Thing, Thing];
    expect(a).toMatchObject({ copyOf: id(21), x: 35 });
    expect(b).toMatchObject({ copyOf: id(22), below: { of: a.id, gap: 5 } });
    expect(d).toMatchObject({ of: (a as { tetherId?: string }).tetherId, view: c.id });
    // Those that were cut are the same ones.
    const [same] = surface.steps.copiesOf([upper], { x: 0, y: 0 }, () => true);
    expect(same).toMatchObject({ tetherId: id(21) });
    expect((same as { copyOf?: string }).copyOf ?? null).toBeNull();
  });

  it('let go leave words or a picture, and come back to where these stand', () => {
    const surface = open();
    const thing = object(surface, 21, { x: 77, y: 88 });
    surface.fix(id(21), [
      ['Pile', 'Length'],
      ['P-01', '4.20'],
    ]);
    expect(surface.objects()).toEqual([]);
    expect(surface.pages.thing(thing.id)).toMatchObject({
      kind: 'text',
      text: 'Pile\tLength\nP-01\t4.20',
    });
    expect(surface.remains()).toEqual([id(21)]);
    surface.shown.choose([thing.id]);
    surface.steps.moveChosen({ x: 3, y: 0 });
    surface.bringIn({ id: id(21), form: 'table' });
    expect(surface.pages.objectThing(id(21))).toMatchObject({ id: thing.id, x: 80, y: 88 });
    surface.undo();
    expect(surface.remains()).toEqual([id(21)]);
  });

  it('a plan that gets its true size keeps what is marked in it where it is', () => {
    const surface = open();
    const view = put(surface, {
      ...{ kind: 'view', width: 100, height: 50, hash: 'a'.repeat(64), pixelWidth: 10 },
      ...{ pixelHeight: 5, trueWidth: 5_000, scale: 0.02, centre: { x: 2_500, y: 1_250 } },
    });
    const marks = put(surface, {
      ...{ kind: 'marks', of: id(21), view: view.id, key: 'Pile', from: { kind: 'hand' } },
      places: { 'P-01': { x: 1_000, y: 500 } },
    });
    if (view.kind !== 'view') throw new Error('a view');
    setTrueWidth(surface, view, 10_000);
    expect(surface.pages.thing(marks.id)).toMatchObject({
      places: { 'P-01': { x: 2_000, y: 1_000 } },
    });
    expect(surface.pages.thing(view.id)).toMatchObject({
      trueWidth: 10_000,
      centre: { x: 5_000, y: 2_500 },
    });
  });
});

describe('a dimension in a plan', () => {
  it('measures the same places of the plan when its view is moved, made smaller, or shows it otherwise', () => {
    const surface = open();
    const view = put(surface, {
      ...{ kind: 'view', x: 40, y: 40, width: 200, height: 100, hash: '0'.repeat(64) },
      ...{ pixelWidth: 100, pixelHeight: 50, trueWidth: 20_000, scale: 1 / 100 },
      centre: { x: 10_000, y: 5_000 },
    });
    const measure = put(surface, {
      ...{ kind: 'dimension', x: 60, y: 60, to: { x: 50, y: 0 }, view: view.id },
    });
    const stands = () => {
      const thing = surface.pages.thing(measure.id)!;
      return thing.kind === 'dimension' ? [thing.x, thing.y, thing.to.x, thing.to.y] : [];
    };
    surface.shown.choose([view.id]);
    // Smaller by 40 mm at the right, its middle is 20 mm further left, and what it shows with it.
    surface.steps.setBox(view.id, { x: 40, y: 40, width: 160, height: 100, turn: 0 });
    expect(stands()).toEqual([40, 60, 50, 0]);
    surface.steps.changeChosen(() => ({ scale: 1 / 200 }));
    expect(stands()[2]).toBe(25);
    surface.undo();
    surface.steps.changeChosen(() => ({ planTurn: 90 }));
    expect(stands().slice(2)).toEqual([0, 50]);
    surface.undo();
    surface.undo();
    expect(stands()).toEqual([60, 60, 50, 0]);
    // A plan that is half as large as was thought: so is what is measured in it, on the sheet.
    setTrueWidth(surface, surface.pages.thing(view.id) as ViewThing, 10_000);
    expect(stands()[2]).toBe(25);
  });
});

describe('a new object', () => {
  const thingOf = (surface: PageSurface, nth: number) => surface.pages.objectThing(id(nth))!;

  it('can stand in any corner, once it is known how large it is, and goes back in one step', () => {
    const surface = open();
    const offers = surface.stands();
    expect(offers.map(({ words }) => words)).toEqual([
      'upper left of the frame',
      'upper right of the frame',
      'lower left of the frame',
      'lower right of the frame',
      'where I click',
    ]);
    surface.insert({ id: id(7), form: 'table' }, offers[3]!.at);
    surface.boxes.measured(thingOf(surface, 7).id, { width: 80, height: 50 });
    const { x, y } = thingOf(surface, 7);
    // Above the title block, which lies there.
    expect([x, y]).toEqual([expect.closeTo(330, 0), expect.closeTo(201, 0)]);
    // It was put there once: when it grows it stays where it is.
    surface.boxes.measured(thingOf(surface, 7).id, { width: 80, height: 60 });
    expect(thingOf(surface, 7).y).toBe(y);
    surface.undo();
    expect(surface.objects()).toEqual([]);
  });

  it('can stand below another one, which is offered first while that is chosen', () => {
    const surface = open();
    const upper = object(surface, 7);
    surface.shown.choose([]);
    expect(surface.stands().map(({ beside }) => beside)).toContain(id(7));
    surface.shown.choose([upper.id]);
    const [first] = surface.stands();
    expect(first).toMatchObject({ words: 'below', beside: id(7) });
    surface.insert({ id: id(8), form: 'table' }, first!.at);
    expect(thingOf(surface, 8).below).toEqual({ of: upper.id, gap: 5 });
  });

  it('can wait for the place that is clicked next', () => {
    const surface = open();
    surface.insert({ id: id(7), form: 'table' }, surface.stands().at(-1)!.at);
    expect(surface.newObjects.waiting()).toBe(thingOf(surface, 7).id);
    surface.newObjects.putWaiting({ x: 123, y: 45 });
    expect(surface.newObjects.waiting()).toBeNull();
    expect(at(surface, thingOf(surface, 7))).toEqual([123, 45]);
    surface.insert({ id: id(8), form: 'table' }, surface.stands().at(-1)!.at);
    const before = at(surface, thingOf(surface, 8));
    surface.newObjects.putWaiting(null);
    expect([surface.newObjects.waiting(), at(surface, thingOf(surface, 8))]).toEqual([
      null,
      before,
    ]);
  });

  it('goes onto the layer that new things come onto', () => {
    const surface = open();
    const layer = crypto.randomUUID();
    surface.pages.step(() =>
      surface.pages.addPart('layers', { id: layer, name: 'Set out', order: 1 }),
    );
    surface.shown.setLayerForNew(layer);
    surface.insert({ id: id(7), form: 'table' });
    expect(thingOf(surface, 7).layer).toBe(layer);
    expect(surface.layersForNew()).toEqual([
      { id: layer, words: 'Set out' },
      { id: null, words: 'the usual one' },
    ]);
    // For one object another can be chosen, and nothing else comes of it.
    surface.insert({ id: id(8), form: 'table' }, undefined, null);
    expect([thingOf(surface, 8).layer, surface.shown.layerForNew()]).toEqual([null, layer]);
    surface.pages.step(() =>
      surface.pages.changePart('layers', layer, { isVisible: false, isLocked: true }),
    );
    expect(surface.layersForNew()[0]!.words).toBe('Set out, hidden, locked');
    // One that is gone is the usual one again.
    surface.pages.step(() => surface.pages.removePart('layers', layer));
    expect(box(surface, 1, 1).layer).toBeNull();
    expect(surface.layersForNew()).toEqual([]);
    surface.insert({ id: id(9), form: 'table' }, undefined, layer);
    expect(thingOf(surface, 9).layer).toBeNull();
  });
});

describe('values in the lines of a text', () => {
  const words = (said: string) => ({ type: 'text' as const, text: said });
  const text = (surface: PageSurface, said = 'Alive: ') => {
    const name = surface.addText(said, { x: 50, y: 60 });
    return surface.pages.thing(name) as TextThing;
  };
  const now = (surface: PageSurface, { id: name }: TextThing) =>
    surface.pages.thing(name) as TextThing;
  const value = (surface: PageSurface, nth: number) => object(surface, nth, { form: 'value' });

  it('are put into them and taken out again, each as one step', () => {
    const surface = open();
    const sentence = text(surface);
    const alive = value(surface, 7);
    surface.texts.putInText(id(7), sentence.id);
    expect(tethersIn(richOf(now(surface, sentence)))).toEqual([id(7)]);
    expect(surface.pages.objectThing(id(7))?.within).toBe(sentence.id);
    // It stands where its text stands, and is not moved by itself.
    expect(surface.boxes.all().get(alive.id)).toMatchObject({ x: 50, y: 60 });
    surface.shown.choose([alive.id]);
    surface.steps.moveChosen({ x: 10, y: 0 });
    expect(surface.boxes.all().get(alive.id)).toMatchObject({ x: 50, y: 60 });
    surface.undo();
    expect(tethersIn(richOf(now(surface, sentence)))).toEqual([]);
    surface.redo();
    surface.texts.putInText(id(7), null);
    expect(now(surface, sentence)).toMatchObject({ text: 'Alive: ', rich: null });
    expect(surface.pages.objectThing(id(7))?.within).toBeNull();
  });

  it('come where the caret was, as the first place that is offered', () => {
    const surface = open();
    const sentence = text(surface, 'Alive in October');
    surface.texts.setCaret({
      of: sentence.id,
      blocks: richOf(sentence),
      with: (inline) => [
        { type: 'paragraph', content: [words('Alive '), inline, words('in October')] },
      ],
    });
    const [first] = surface.stands();
    expect(first!.words).toBe('in the line where I wrote');
    surface.insert({ id: id(7), form: 'value' }, first!.at);
    expect(now(surface, sentence).text).toBe('Alive …in October');
    // A table cannot stand in a line: it goes where it usually goes.
    surface.texts.setCaret({ of: sentence.id, blocks: [], with: () => null });
    surface.insert({ id: id(8), form: 'table' });
    expect(surface.pages.objectThing(id(8))?.within).toBeNull();
    // What was changed meanwhile takes it at its end.
    surface.texts.setCaret({ of: sentence.id, blocks: [], with: () => [] });
    surface.insert({ id: id(9), form: 'value' });
    expect(now(surface, sentence).text).toBe('Alive …in October…');
  });

  it('go with their text, and are copied with it with tethers of their own', () => {
    const surface = open();
    const sentence = text(surface);
    value(surface, 7);
    surface.texts.putInText(id(7), sentence.id);
    surface.shown.choose([sentence.id]);
    surface.steps.duplicate();
    const [first, second, ...more] = surface.objects();
    expect([first, more]).toEqual([id(7), []]);
    expect(surface.pages.objectThing(second!)?.copyOf).toBe(id(7));
    const [copy] = surface.shown.chosenThings();
    expect(tethersIn(richOf(copy as TextThing))).toEqual([second]);
    surface.steps.removeChosen();
    expect(surface.objects()).toEqual([id(7)]);
    // Two that are taken out of one line in one step.
    const other = value(surface, 8);
    surface.texts.putInText(id(8), sentence.id);
    surface.shown.choose([other.id, surface.pages.objectThing(id(7))!.id]);
    surface.steps.removeChosen();
    expect([surface.objects(), now(surface, sentence).text]).toEqual([[], 'Alive: ']);
    surface.undo();
    surface.remove(id(8));
    surface.remove(id(7));
    expect([surface.objects(), now(surface, sentence).text]).toEqual([[], 'Alive: ']);
  });

  it('become words where they are fixed, and stand for themselves as a table', () => {
    const surface = open();
    const sentence = text(surface);
    for (const nth of [7, 8]) {
      value(surface, nth);
      surface.texts.putInText(id(nth), sentence.id);
    }
    surface.fix(id(7), [['1,815']]);
    expect(now(surface, sentence).text).toBe('Alive: 1,815…');
    surface.turn(id(8), 'table');
    expect(now(surface, sentence).text).toBe('Alive: 1,815');
    expect(surface.pages.objectThing(id(8))).toMatchObject({ form: 'table', within: null, x: 50 });
  });

  it('get a tether of their own where they were pasted a second time, and go where they were deleted', () => {
    const surface = open();
    const sentence = text(surface);
    value(surface, 7);
    surface.texts.putInText(id(7), sentence.id);
    const before = now(surface, sentence);
    surface.texts.written(before, [
      { type: 'paragraph', content: [valueIn(id(7)), words(' and '), valueIn(id(7))] },
    ]);
    const [, second] = tethersIn(richOf(now(surface, sentence)));
    expect(surface.pages.objectThing(second!)).toMatchObject({
      copyOf: id(7),
      within: sentence.id,
    });
    surface.texts.written(now(surface, sentence), plainRich('None.'));
    expect(surface.objects()).toEqual([]);
  });

  it('are not written over: what a colleague wrote meanwhile stays, and both are told', () => {
    const surface = open();
    const sentence = text(surface);
    const told: [string, unknown, unknown][] = [];
    surface.pages.onCollision(({ property, mine, theirs }) => told.push([property, mine, theirs]));
    surface.pages.change(sentence.id, { text: 'Alive in October: ' });
    surface.texts.written(sentence, plainRich('Survived: '));
    expect(now(surface, sentence).text).toBe('Alive in October: ');
    expect(told).toEqual([
      ['text', 'Survived: ', 'Alive in October: '],
      ['rich', null, null],
    ]);
    // One that was taken out meanwhile comes back with what was written.
    surface.pages.remove(sentence.id);
    surface.texts.written(sentence, plainRich('Survived: '));
    expect(now(surface, sentence).text).toBe('Survived: ');
    // Without words it is nothing.
    surface.texts.written(now(surface, sentence), plainRich(' '));
    expect(surface.pages.thing(sentence.id)).toBeNull();
  });

  it('are kept while one writes, as one step with what is written at the end', () => {
    const surface = open();
    const sentence = text(surface);
    value(surface, 7);
    surface.texts.putInText(id(7), sentence.id);
    const begun = now(surface, sentence);
    // Cut out for a moment, to be put in elsewhere: the object stays until writing ends.
    expect(surface.texts.keepWriting(begun, plainRich('Alive in '), 'writing 1')).toBe(true);
    expect([now(surface, sentence).text, surface.objects()]).toEqual(['Alive in ', [id(7)]]);
    const kept = now(surface, sentence);
    const end = [
      { type: 'paragraph' as const, content: [words('Alive in all: '), valueIn(id(7))] },
    ];
    surface.texts.written(kept, end, 'writing 1');
    expect(now(surface, sentence).text).toBe('Alive in all: …');
    surface.undo();
    expect(now(surface, sentence).text).toBe('Alive: …');
    // What a colleague wrote is not written over, nor is a text emptied while somebody thinks.
    surface.pages.change(sentence.id, { text: 'Theirs', rich: null });
    expect(surface.texts.keepWriting(kept, plainRich('Mine'), 'writing 2')).toBe(false);
    const theirs = now(surface, sentence);
    expect(surface.texts.keepWriting(theirs, plainRich(' '), 'writing 2')).toBe(false);
    expect(now(surface, sentence).text).toBe('Theirs');
  });
});
