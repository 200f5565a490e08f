import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import * as Y from 'yjs';
import type { DrawingContent } from '../drawing/content.ts';
import { drawing } from '../drawing/drawing.ts';
import { TITLE_BLOCK, TITLE_FIELDS, titleCells } from '../drawing/title-block.ts';
import { readContent } from '../registry.ts';
import { objectsOnPages } from './content.ts';
import { pageSettings, sharedParts } from './shared.ts';

const id = (nth: number) => `00000000-0000-4000-8000-${String(nth).padStart(12, '0')}`;
const [SHEET, OTHER, SCHEDULE, NOTE, TETHER, LAYER] = [1, 2, 11, 12, 21, 31].map(id) as [
  string,
  string,
  string,
  string,
  string,
  string,
];

const content: DrawingContent = {
  type: 'drawing',
  settings: {
    look: { tableStyle: 'hairlines', decimals: 1, dates: 'dd.mm.yyyy' },
    grid: 5,
    fields: { number: 'BW-01', title: 'Boardwalk' },
  },
  pages: [
    { id: SHEET, name: 'Sheet 1', order: 0, size: 'A3', isLandscape: true },
    { id: OTHER, name: 'Sheet 2', order: 1, size: 'A4', isLandscape: false },
  ],
  layers: [
    {
      id: LAYER,
      name: 'Notes',
      order: 0,
      isVisible: true,
      isPrinted: true,
      isLocked: false,
      colour: null,
      line: null,
    },
  ],
  things: [
    {
      ...{ id: SCHEDULE, kind: 'object', page: SHEET, order: 0, layer: null, isLocked: false },
      ...{
        x: 230,
        y: 20,
        turn: 0,
        group: null,
        width: 180,
        height: null,
        below: null,
        letters: null,
        field: null,
        within: null,
        pulled: { 1: { x: 0, y: 60 } },
      },
      ...{ tetherId: TETHER, form: 'table', dressing: { beside: 2 } },
    },
    {
      ...{ id: NOTE, kind: 'text', page: OTHER, order: 1, layer: LAYER, isLocked: false },
      ...{
        x: 30,
        y: 20,
        turn: 0,
        group: null,
        width: 60,
        height: 10,
        text: 'All piles of larch.',
        role: null,
        rich: null,
      },
      ...{ letters: 3.5, align: 'left', bold: false, colour: '#10242b', leader: null },
    },
  ],
};

function sharing(from: DrawingContent, client?: number): Y.Doc {
  const doc = new Y.Doc();
  if (client !== undefined) doc.clientID = client;
  doc.transact(() => drawing.shared.write(doc, from));
  return doc;
}
const read = (doc: Y.Doc): DrawingContent => {
  const checked = readContent('drawing', drawing.shared.read(doc));
  if (!checked.ok) throw new Error(checked.fault.message);
  return checked.value;
};
/** Two people who begin with the same drawing, and the way to let each have what the other did. */
function two() {
  const first = sharing(content, 1);
  const second = new Y.Doc();
  second.clientID = 2;
  Y.applyUpdate(second, Y.encodeStateAsUpdate(first));
  const meet = () => {
    const [a, b] = [Y.encodeStateAsUpdate(first), Y.encodeStateAsUpdate(second)];
    Y.applyUpdate(second, a);
    Y.applyUpdate(first, b);
    expect(read(first)).toEqual(read(second));
    return read(first);
  };
  const thing = (doc: Y.Doc, name: string) => sharedParts(doc, 'things').get(name)!;
  return { first, second, meet, thing };
}

describe('a drawing as a shared type', () => {
  it('reads as it was written', () => {
    expect(read(sharing(content))).toEqual(content);
    const first = drawing.firstContent('Boardwalk');
    expect(read(sharing(first))).toEqual(first);
  });

  it('changes only what differs', () => {
    const doc = sharing(content);
    const before = Y.encodeStateVector(doc);
    doc.transact(() => drawing.shared.write(doc, content));
    expect(Y.encodeStateVector(doc)).toEqual(before);
    const changed = JSON.parse(JSON.stringify(content)) as DrawingContent;
    changed.things[0]!.x = 100;
    doc.transact(() => drawing.shared.write(doc, changed));
    expect(read(doc)).toEqual(changed);
    expect(Y.encodeStateAsUpdate(doc, before).byteLength).toBeLessThan(80);
  });

  it('keeps what two people change of one thing at the same time', () => {
    const { first, second, meet, thing } = two();
    thing(first, SCHEDULE).set('x', 40);
    thing(second, SCHEDULE).set('width', 90);
    pageSettings(first).set('fields.revision', 'B');
    pageSettings(second).set('fields.approvedBy', 'T. Reedsby');
    const after = meet();
    expect(after.things[0]).toMatchObject({ x: 40, y: 20, width: 90 });
    expect(after.settings.fields).toEqual({
      number: 'BW-01',
      title: 'Boardwalk',
      revision: 'B',
      approvedBy: 'T. Reedsby',
    });
  });

  it('keeps where two people pull two parts of one table to', () => {
    const { first, second, meet, thing } = two();
    thing(first, SCHEDULE).set('pulled.1', { x: 90, y: 0 });
    thing(second, SCHEDULE).set('pulled.2', { x: 0, y: 120 });
    expect(meet().things[0]).toMatchObject({ pulled: { 1: { x: 90, y: 0 }, 2: { x: 0, y: 120 } } });
  });

  it('brings things onto the first sheet when theirs was taken out meanwhile', () => {
    const { first, second, meet, thing } = two();
    sharedParts(first, 'pages').delete(OTHER);
    sharedParts(first, 'layers').delete(LAYER);
    thing(second, NOTE).set('text', 'All piles of oak.');
    meet();
    drawing.shared.mend(first);
    expect(meet().things[1]).toMatchObject({ page: SHEET, layer: null, text: 'All piles of oak.' });
  });

  it('lets one object stand once, whoever put it in', () => {
    const { first, second, meet, thing } = two();
    const copy = (doc: Y.Doc, as: string) =>
      sharedParts(doc, 'things').set(as, new Y.Map([...thing(doc, SCHEDULE).entries()]));
    copy(first, id(13));
    copy(second, id(14));
    meet();
    drawing.shared.mend(second);
    expect(objectsOnPages(meet()).map((each) => each.id)).toEqual([SCHEDULE]);
  });

  it('comes out equal for everybody, whatever three people do in whatever order it arrives', () => {
    const act = fc.record({
      who: fc.nat(2),
      thing: fc.constantFrom(SCHEDULE, NOTE, id(13), id(14)),
      what: fc.constantFrom('x', 'y', 'order', 'turn', 'add', 'delete', 'page'),
      value: fc.integer({ min: 0, max: 200 }),
    });
    fc.assert(
      fc.property(
        fc.array(act, { maxLength: 30 }),
        fc.array(fc.tuple(fc.nat(2), fc.nat(2)), { maxLength: 10 }),
        (acts, meetings) => {
          const docs = [1, 2, 3].map((client) => {
            const doc = new Y.Doc();
            doc.clientID = client;
            Y.applyUpdate(doc, Y.encodeStateAsUpdate(sharing(content, 9)));
            return doc;
          });
          const tell = (from: number, to: number) =>
            Y.applyUpdate(docs[to]!, Y.encodeStateAsUpdate(docs[from]!));
          for (const [at, { who, thing: name, what, value }] of acts.entries()) {
            const things = sharedParts(docs[who]!, 'things');
            if (what === 'add') {
              const note = content.things[1]!;
              if (!things.has(name))
                things.set(
                  name,
                  new Y.Map(
                    Object.entries({ ...note, x: value, id: undefined }).filter(
                      ([, each]) => each !== undefined,
                    ),
                  ),
                );
            } else if (what === 'delete') things.delete(name);
            else if (what === 'page') sharedParts(docs[who]!, 'pages').delete(OTHER);
            else things.get(name)?.set(what, value);
            const meeting = meetings[at % Math.max(1, meetings.length)];
            if (meeting) tell(...meeting);
          }
          for (let round = 0; round < 2; round++) {
            for (let from = 0; from < 3; from++) for (let to = 0; to < 3; to++) tell(from, to);
          }
          drawing.shared.mend(docs[0]!);
          tell(0, 1);
          tell(0, 2);
          const [one, another, third] = docs.map(read);
          expect(another).toEqual(one);
          expect(third).toEqual(one);
          for (const { page } of one!.things)
            expect(one!.pages.some((each) => each.id === page)).toBe(true);
        },
      ),
      { numRuns: runs(60) },
    );
  });
});

describe('a drawing for others', () => {
  it('names its objects in reading order', () => {
    const object = (nth: number, page: string, x: number, y: number) => ({
      ...content.things[0]!,
      ...{ id: id(nth), tetherId: id(nth + 100), page, x, y },
    });
    const all = {
      ...content,
      things: [
        object(1, OTHER, 30, 20),
        object(2, SHEET, 200, 21),
        object(3, SHEET, 30, 20),
        object(4, SHEET, 30, 9),
      ],
    };
    const names = drawing.placements(all as DrawingContent).map(({ tetherId }) => tetherId);
    expect(names).toEqual([104, 103, 102, 101].map(id));
  });

  it('marks every object as a copy for a document of its own', () => {
    let made = 500;
    const copy = drawing.asCopies(content, () => id(++made));
    expect(copy.things[0]).toMatchObject({
      tetherId: id(501),
      copyOf: TETHER,
      dressing: { beside: 2 },
    });
    expect(copy.things[1]).toEqual(content.things[1]);
  });

  it('is shown without what is not known here, and refused with it', () => {
    const strange = {
      ...content,
      things: [...content.things, { ...content.things[1], kind: 'hologram' }],
    };
    expect(readContent('drawing', strange)).toMatchObject({
      ok: false,
      fault: { code: 'request-malformed' },
    });
    const { content: known, unknown } = drawing.knownPart(strange as DrawingContent);
    expect([known.things.length, unknown]).toEqual([2, ['hologram']]);
  });

  it('shows its first sheet as a small picture', () => {
    expect(drawing.beginning(content).pages).toHaveLength(1);
    expect(drawing.beginning(content).things.map((each) => each.id)).toEqual([SCHEDULE]);
  });
});

describe('the title block', () => {
  it('has the fields that ISO 7200 wants, in 180 mm', () => {
    // ISO 7200:2004, tables 1 to 3: what is mandatory; the sheet number is known from the sheet.
    const needed = Object.entries(TITLE_FIELDS).filter(([, { isNeeded }]) => isNeeded);
    expect(needed.map(([, { name }]) => name).sort()).toEqual([
      'Approved by',
      'Created by',
      'Date of issue',
      'Document type',
      'Identification number',
      'Legal owner',
      'Title',
    ]);
    expect(TITLE_BLOCK.width).toBe(180);
  });

  it('shows each field once, cell beside cell without a gap', () => {
    const cells = titleCells();
    expect(cells.map(({ cell }) => cell).sort()).toEqual(
      [...Object.keys(TITLE_FIELDS), 'sheet'].sort(),
    );
    const area = cells.reduce((sum, { width, height }) => sum + width * height, 0);
    expect(area).toBe(TITLE_BLOCK.width * TITLE_BLOCK.height);
    for (const { x, y, width, height } of cells) {
      expect(x + width).toBeLessThanOrEqual(TITLE_BLOCK.width);
      expect(y + height).toBeLessThanOrEqual(TITLE_BLOCK.height);
    }
  });
});
