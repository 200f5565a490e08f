import { describe, expect, it } from '@jest/globals';
import { type DrawingContent, kindOf } from '@tether/documents';
import * as Y from 'yjs';
import { type Collision, PageDocument } from './page-document.ts';

const id = (nth: number) => `00000000-0000-4000-8000-${String(nth).padStart(12, '0')}`;
const [SHEET, NOTE, BOX] = [1, 11, 12].map(id) as [string, string, string];

function content(): DrawingContent {
  const base = { page: SHEET, layer: null, isLocked: false, turn: 0, group: null };
  return {
    ...kindOf('drawing').firstContent('Boardwalk'),
    pages: [{ id: SHEET, name: 'Sheet 1', order: 0, size: 'A3', isLandscape: true }],
    things: [
      {
        ...{ ...base, id: NOTE, kind: 'text', order: 1, x: 30, y: 20, width: 60, height: 10 },
        ...{
          role: null,
          rich: null,
          text: 'Larch',
          letters: 3.5,
          align: 'left',
          bold: false,
          colour: '#10242b',
          leader: null,
        },
      },
      {
        ...{ ...base, id: BOX, kind: 'rectangle', order: 0, x: 30, y: 20, width: 60, height: 10 },
        ...{ line: 0.25, lineKind: 'continuous', colour: '#10242b', fill: 'none' },
      },
    ],
  };
}

function open(client: number, from?: Y.Doc) {
  const doc = new Y.Doc();
  doc.clientID = client;
  if (from) Y.applyUpdate(doc, Y.encodeStateAsUpdate(from));
  else doc.transact(() => kindOf('drawing').shared.write(doc, content()));
  const pages = new PageDocument(doc, kindOf('drawing').shared);
  const collisions: Collision[] = [];
  pages.onCollision((each) => collisions.push(each));
  return { doc, pages, collisions };
}
type Open = ReturnType<typeof open>;
const tell = (from: Open, to: Open) => Y.applyUpdate(to.doc, Y.encodeStateAsUpdate(from.doc));
const meet = (one: Open, other: Open) => {
  const [a, b] = [one, other].map(({ doc }) => Y.encodeStateAsUpdate(doc));
  Y.applyUpdate(other.doc, a!);
  Y.applyUpdate(one.doc, b!);
};

describe('the things of an open document', () => {
  it('come from back to front, each the same value until it changes', () => {
    const { pages } = open(1);
    const before = pages.things();
    expect(before.map((each) => each.id)).toEqual([BOX, NOTE]);
    pages.step(() => pages.change(NOTE, { x: 40 }));
    const after = pages.things();
    expect(after[0]).toBe(before[0]);
    expect(after[1]).toMatchObject({ id: NOTE, x: 40 });
    pages.step(() => pages.change(BOX, { order: 2 }));
    expect(pages.things().map((each) => each.id)).toEqual([NOTE, BOX]);
  });

  it('are told of once a step, and of nothing where nothing differs', () => {
    const { pages } = open(1);
    let told = 0;
    pages.subscribe(() => told++);
    pages.step(() => {
      pages.change(NOTE, { x: 40, y: 41 });
      pages.change(BOX, { x: 40 });
    });
    const once = told;
    pages.step(() => pages.change(NOTE, { x: 40 }));
    expect([once, told]).toEqual([1, 1]);
  });

  it('go back step by step; one that is nudged goes back at once', () => {
    const { pages } = open(1);
    pages.step(() => pages.change(NOTE, { x: 40 }));
    pages.step(() => pages.change(NOTE, { x: 50 }));
    for (let at = 0; at < 20; at++) pages.step(() => pages.change(NOTE, { x: 51 + at }), 'nudge');
    pages.step(() => pages.remove(BOX));
    pages.undo();
    expect(pages.thing(BOX)).not.toBeNull();
    pages.undo();
    expect(pages.thing(NOTE)).toMatchObject({ x: 50 });
    pages.undo();
    expect(pages.thing(NOTE)).toMatchObject({ x: 40 });
    pages.redo();
    pages.redo();
    expect(pages.thing(NOTE)).toMatchObject({ x: 70 });
    expect(pages.canRedo).toBe(true);
  });

  it('undo takes back one’s own steps alone', () => {
    const one = open(1);
    const other = open(2, one.doc);
    one.pages.step(() => one.pages.change(NOTE, { x: 40 }));
    other.pages.step(() => other.pages.change(NOTE, { y: 90 }));
    meet(one, other);
    one.pages.undo();
    expect(one.pages.thing(NOTE)).toMatchObject({ x: 30, y: 90 });
    expect(one.pages.canUndo).toBe(false);
  });
});

describe('the pages of an open document', () => {
  const names = ({ pages }: Open) => pages.pages().map((page) => page.id.slice(-2));
  const sheet = (nth: number) => ({ ...content().pages[0]!, id: id(nth) });

  it('come and go to any place, also where two people added one at once and both have one number', () => {
    const one = open(1);
    const other = open(2, one.doc);
    one.pages.step(() => one.pages.addPage(sheet(2), 1));
    other.pages.step(() => other.pages.addPage(sheet(3), 1));
    meet(one, other);
    expect(names(one)).toEqual(['01', '02', '03']);
    expect(new Set(one.pages.pages().map(({ order }) => order)).size).toBe(2);
    one.pages.step(() => one.pages.movePage(SHEET, 1));
    expect(names(one)).toEqual(['02', '01', '03']);
    one.pages.step(() => one.pages.movePage(id(3), 0));
    expect(names(one)).toEqual(['03', '02', '01']);
    one.pages.undo();
    one.pages.undo();
    expect(names(one)).toEqual(['01', '02', '03']);
    tell(one, other);
    expect(names(other)).toEqual(['01', '02', '03']);
  });

  it('have room between them however often one is put there', () => {
    const one = open(1);
    one.pages.step(() => one.pages.addPage(sheet(2), 1));
    for (let nth = 3; nth < 120; nth++) one.pages.step(() => one.pages.addPage(sheet(nth), 1));
    const ids = one.pages.pages().map((page) => page.id);
    expect(ids.slice(0, 3)).toEqual([SHEET, id(119), id(118)]);
    expect(ids.at(-1)).toBe(id(2));
  });
});

describe('two who change one thing at the same time', () => {
  it('keep both changes where the properties differ, without a word', () => {
    const one = open(1);
    const other = open(2, one.doc);
    one.pages.step(() => one.pages.change(NOTE, { x: 40 }));
    other.pages.step(() => other.pages.change(NOTE, { width: 90 }));
    meet(one, other);
    expect(one.pages.thing(NOTE)).toMatchObject({ x: 40, width: 90 });
    expect([...one.collisions, ...other.collisions]).toEqual([]);
  });

  it('are told of the same property: exactly the one whose value gave way, with both values', () => {
    const one = open(1);
    const other = open(2, one.doc);
    one.pages.step(() => one.pages.change(NOTE, { x: 40 }));
    other.pages.step(() => other.pages.change(NOTE, { x: 70 }));
    meet(one, other);
    const { x } = one.pages.thing(NOTE)!;
    expect(other.pages.thing(NOTE)!.x).toBe(x);
    const told = [...one.collisions, ...other.collisions];
    expect(told).toEqual([
      { list: 'things', id: NOTE, property: 'x', mine: x === 40 ? 70 : 40, theirs: x },
    ]);
    expect((x === 40 ? other : one).collisions).toHaveLength(1);
  });

  it('are not told of a change by somebody who had seen theirs', () => {
    const one = open(1);
    const other = open(2, one.doc);
    one.pages.step(() => one.pages.change(NOTE, { x: 40 }));
    tell(one, other);
    other.pages.step(() => other.pages.change(NOTE, { x: 70 }));
    tell(other, one);
    expect(one.pages.thing(NOTE)).toMatchObject({ x: 70 });
    expect(one.collisions).toEqual([]);
  });
});
