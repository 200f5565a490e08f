import { describe, expect, test } from '@jest/globals';
import { USUAL_PAPER } from '@tether/core';
import { Schema } from '@tiptap/pm/model';
import {
  hasSections,
  objectsTurned,
  orientationsIn,
  runsIn,
  sheetsOf,
  widest,
} from './orientation.ts';

const schema = new Schema({
  nodes: {
    doc: { content: '(paragraph | pageBreak | placedObject)*' },
    text: {},
    paragraph: { content: 'text*' },
    pageBreak: { attrs: { paper: { default: null } } },
    placedObject: { attrs: { tetherId: {} } },
  },
});
const line = () => schema.nodes.paragraph!.create();
const pageBreak = (paper: string | null) => schema.nodes.pageBreak!.create({ paper });
const object = (tetherId: string) => schema.nodes.placedObject!.create({ tetherId });
const text = (...blocks: ReturnType<typeof line>[]) => schema.nodes.doc!.create(null, blocks);

const mixed = text(
  line(),
  pageBreak('landscape'),
  object('a'),
  pageBreak(null),
  object('b'),
  pageBreak('portrait'),
  object('c'),
);

describe('sheets of both orientations in one text', () => {
  test('a text without sections has none, with page breaks or without', () => {
    expect(orientationsIn(text(line(), pageBreak(null), line()), 'portrait')).toBeNull();
    expect(hasSections(text(line()))).toBe(false);
    expect(hasSections(mixed)).toBe(true);
  });

  test('a break that turns the sheets counts to what is before it', () => {
    expect(orientationsIn(mixed, 'portrait')).toEqual([
      'portrait',
      'portrait',
      'landscape',
      'landscape',
      'landscape',
      'landscape',
      'portrait',
    ]);
  });

  test('sections begin behind their breaks; one at the end begins none', () => {
    const runs = (doc: typeof mixed) =>
      runsIn(doc.children, orientationsIn(doc, 'portrait'), 'portrait');
    expect(runs(mixed)).toEqual([
      { from: 0, turned: 'portrait' },
      { from: 2, turned: 'landscape' },
      { from: 6, turned: 'portrait' },
    ]);
    expect(runs(text(line(), pageBreak('landscape')))).toEqual([{ from: 0, turned: 'portrait' }]);
  });

  test('objects are known that stand on sheets turned otherwise', () => {
    const orientations = orientationsIn(mixed, 'portrait');
    expect([...objectsTurned(mixed, orientations, 'portrait')]).toEqual([
      ['a', 'landscape'],
      ['b', 'landscape'],
    ]);
    expect([...objectsTurned(mixed, orientationsIn(mixed, 'landscape'), 'landscape')]).toEqual([
      ['c', 'portrait'],
    ]);
  });

  test('the widest sheet is as wide as ISO 216 says', () => {
    const sheets = sheetsOf(USUAL_PAPER);
    expect(widest(sheets, ['portrait', 'landscape'])).toBeCloseTo((297 / 25.4) * 96);
    expect(widest(sheets, ['portrait'])).toBeCloseTo((210 / 25.4) * 96);
  });
});
