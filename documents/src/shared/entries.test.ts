import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import * as Y from 'yjs';
import { drawingSettingsSchema } from '../drawing/content.ts';
import { marksSchema } from '../page/things/marks.ts';
import { viewSchema } from '../page/things/view.ts';
import { reportSettingsSchema } from '../report/settings.ts';
import { deckSettingsSchema } from '../slides/content.ts';
import { partsOf, saidBy, setSaid, writeSaid } from './entries.ts';

type Said = Record<string, unknown>;

const MARKS = partsOf(marksSchema);
const id = (nth: number) => `00000000-0000-4000-8000-${String(nth).padStart(12, '0')}`;
const ALONG = {
  kind: 'along',
  line: [
    { x: 0, y: 0 },
    { x: 9_000, y: 0 },
  ],
  chainage: 'Chainage',
  offset: null,
  unit: 1_000,
} as const;
const marks = marksSchema.parse({
  ...{ id: id(1), kind: 'marks', page: id(2), order: 0, x: 0, y: 0 },
  ...{ of: id(3), view: id(4), key: 'Pile', labels: ['Pile', 'Length'], from: ALONG },
  places: { 'P.01': { x: 1, y: 2 } },
});

/** People who begin with the same map, and the way to let all have what each did. */
function people(count: number, parts: ReturnType<typeof partsOf>, said: Said) {
  const docs = Array.from({ length: count }, (_, at) => {
    const doc = new Y.Doc();
    doc.clientID = at + 2;
    return doc;
  });
  const begin = new Y.Doc();
  begin.clientID = 1;
  writeSaid(begin.getMap('all'), parts, said);
  for (const doc of docs) Y.applyUpdate(doc, Y.encodeStateAsUpdate(begin));
  const map = (who: number) => docs[who]!.getMap('all');
  return {
    set: (who: number, name: string, value: unknown) => setSaid(map(who), parts, name, value),
    read: (who: number) => saidBy(map(who).entries(), parts),
    meet() {
      const updates = docs.map((doc) => Y.encodeStateAsUpdate(doc));
      for (const doc of docs) for (const update of updates) Y.applyUpdate(doc, update);
      const [first, ...others] = docs.map((_, who) => saidBy(map(who).entries(), parts));
      for (const other of others) expect(other).toEqual(first);
      return first!;
    },
  };
}

describe('properties as single entries', () => {
  it('read as they were written, whatever lies by its parts', () => {
    const { read } = people(1, MARKS, marks);
    expect(marksSchema.parse(read(0))).toEqual(marks);
    const settings = reportSettingsSchema.parse({ header: { left: 'a', middle: '', right: 'b' } });
    const report = people(1, partsOf(reportSettingsSchema), settings);
    expect(reportSettingsSchema.parse(report.read(0))).toEqual(settings);
  });

  it('of former days are read where they lie as one, and lie by their parts once they are set', () => {
    const map = new Y.Doc().getMap('all');
    for (const [name, value] of Object.entries(marks)) map.set(name, value);
    const read = () => saidBy(map.entries(), MARKS);
    expect(read()).toEqual(marks);
    setSaid(map, MARKS, 'from', { ...ALONG, unit: 1 });
    setSaid(map, MARKS, 'labels', ['Length']);
    expect(read()).toEqual({ ...marks, from: { ...ALONG, unit: 1 }, labels: ['Length'] });
    expect([map.get('from'), map.get('from.along.unit'), map.has('labels')]).toEqual([
      'along',
      1,
      false,
    ]);
  });

  it('change only what differs', () => {
    const doc = new Y.Doc();
    writeSaid(doc.getMap('all'), MARKS, marks);
    const before = Y.encodeStateVector(doc);
    doc.transact(() => writeSaid(doc.getMap('all'), MARKS, marks));
    expect(Y.encodeStateVector(doc)).toEqual(before);
  });

  it('leave a place one value: nobody’s x comes with another one’s y', () => {
    const { set, meet } = people(2, MARKS, marks);
    set(0, 'places.P.01', { x: 5, y: 2 });
    set(1, 'places.P.01', { x: 1, y: 7 });
    const { places } = meet() as typeof marks;
    expect([
      { x: 5, y: 2 },
      { x: 1, y: 7 },
    ]).toContainEqual(places['P.01']);
  });
});

describe('two who set something else of one part at the same time', () => {
  it('both keep it, where neither was set before', () => {
    for (const schema of [drawingSettingsSchema, deckSettingsSchema, reportSettingsSchema]) {
      const { set, meet } = people(2, partsOf(schema), {});
      const { look } = schema.parse({});
      set(0, 'look', { ...look, decimals: 3 });
      set(1, 'look', { ...look, dates: 'yyyy-mm-dd' });
      expect(schema.parse(meet()).look).toEqual({ ...look, decimals: 3, dates: 'yyyy-mm-dd' });
    }
  });

  it('both keep it, in any depth', () => {
    const { set, meet } = people(2, partsOf(reportSettingsSchema), {});
    const { paper, footer } = reportSettingsSchema.parse({});
    set(0, 'paper', { ...paper, margins: { ...paper.margins, left: 40 } });
    set(0, 'footer', { ...footer, left: 'Saltmarsh' });
    set(1, 'paper', { ...paper, isLandscape: true, margins: { ...paper.margins, top: 33 } });
    set(1, 'footer', { ...footer, middle: 'Draft' });
    const after = reportSettingsSchema.parse(meet());
    expect(after.paper).toEqual({
      ...paper,
      isLandscape: true,
      margins: { ...paper.margins, left: 40, top: 33 },
    });
    expect(after.footer).toEqual({ ...footer, left: 'Saltmarsh', middle: 'Draft' });
  });

  it('both keep it of how marks stand, of their labels, and of the layers that a view leaves out', () => {
    const { set, meet } = people(2, MARKS, marks);
    set(0, 'from', { ...ALONG, offset: 'Offset' });
    set(0, 'labels', [...marks.labels, 'Crown']);
    set(1, 'from', { ...ALONG, unit: 1 });
    set(1, 'labels', ['Length']);
    expect(meet()).toMatchObject({
      from: { ...ALONG, offset: 'Offset', unit: 1 },
      labels: ['Length', 'Crown'],
    });
    const layers = people(2, partsOf(viewSchema), { without: ['0'] });
    layers.set(0, 'without', ['0', '1']);
    layers.set(1, 'without', ['0', '2.1']);
    expect((layers.meet().without as string[]).sort()).toEqual(['0', '1', '2.1']);
  });

  it('never add more to a list together than it can have: it is read still', () => {
    const headers = (from: number, to: number) =>
      Array.from({ length: to - from }, (_, at) => `Column ${from + at}`);
    const { set, meet } = people(2, MARKS, { ...marks, labels: headers(0, 15) });
    set(0, 'labels', headers(0, 20));
    set(1, 'labels', [...headers(0, 15), ...headers(30, 35)]);
    expect(marksSchema.parse(meet()).labels).toHaveLength(20);
  });

  it('come out with something whole, whichever way of standing each of three goes over to, and when', () => {
    const text = fc.constantFrom('Chainage', 'Offset', 'East', 'North');
    const unit = fc.constantFrom(1, 10, 1_000);
    const from = fc.oneof(
      fc.constant({ kind: 'hand' as const }),
      fc.record({ kind: fc.constant('coordinates' as const), x: text, y: text, unit }),
      fc.record({ kind: fc.constant('along' as const), chainage: text, offset: text, unit }),
    );
    const act = fc.record({ who: fc.nat(2), from, meets: fc.boolean() });
    fc.assert(
      fc.property(fc.array(act, { maxLength: 20 }), (acts) => {
        const { set, meet } = people(3, MARKS, marks);
        for (const { who, from: next, meets } of acts) {
          set(who, 'from', next.kind === 'along' ? { ...ALONG, ...next } : next);
          if (meets) meet();
        }
        const after = marksSchema.parse(meet());
        const kinds = acts.map(({ from: { kind } }) => kind);
        expect(['along', ...kinds]).toContain(after.from.kind);
      }),
      { numRuns: runs(100) },
    );
  });

  it('find texts in the order that whoever ordered them last left, each once', () => {
    const list = fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd.e', 'f'));
    fc.assert(
      fc.property(fc.array(list, { maxLength: 8 }), list, (before, last) => {
        const { set, read } = people(1, MARKS, marks);
        for (const each of [...before, last]) set(0, 'labels', each);
        expect(read(0).labels ?? []).toEqual(last);
      }),
      { numRuns: runs(300) },
    );
  });
});
