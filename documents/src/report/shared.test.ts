import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import * as Y from 'yjs';
import { readContent } from '../registry.ts';
import { sharedDressings, writeDressing } from '../shared/dressings.ts';
import type { ReportContent } from './content.ts';
import { sharedReport, sharedText } from './shared.ts';

const one = '11111111-1111-4111-8111-111111111111';
const two = '22222222-2222-4222-8222-222222222222';

const paragraph = (...words: string[]) => ({
  type: 'paragraph',
  content: words.map((text, at) => ({
    type: 'text',
    text,
    ...(at % 2 ? { marks: [{ type: 'bold' }] } : {}),
  })),
});
const object = (tetherId: string, dressing: object = {}) => ({
  type: 'placedObject',
  attrs: { tetherId, form: 'table', dressing: dressing as never },
});

const content: ReportContent = {
  type: 'doc',
  attrs: { footer: { left: 'Foot', middle: '', right: '{page}' } },
  content: [
    { type: 'heading', attrs: { level: 1 }, content: [{ type: 'text', text: 'Counts' }] },
    paragraph('Plain, ', 'bold', ' and plain.'),
    {
      type: 'captioned',
      attrs: { kind: 'table', of: one },
      content: [
        object(one, { beside: 2 }),
        { type: 'caption', content: [{ type: 'text', text: 'Of' }] },
      ],
    },
    paragraph(),
    object(two, {
      table: { fills: 'document' },
      overrides: [
        {
          row: null,
          column: { text: 'Plants', nth: 0, before: null, after: 'Alive' },
          look: { bold: true, fill: '#ffeecc' },
        },
      ],
    }),
  ],
};

/** A shared document of its own with the content. */
function sharing(from: ReportContent, client?: number): Y.Doc {
  const doc = new Y.Doc();
  if (client !== undefined) doc.clientID = client;
  doc.transact(() => sharedReport.write(doc, from));
  return doc;
}
const read = (doc: Y.Doc) => {
  const checked = readContent('report', sharedReport.read(doc));
  if (!checked.ok) throw new Error(checked.fault.message);
  return checked.value;
};
/** The same as JSON without what says nothing. */
const plain = (value: unknown) =>
  JSON.parse(
    JSON.stringify(value, (_, each) =>
      Array.isArray(each) && each.length === 0 ? undefined : each,
    ),
  ) as unknown;

/** Gives each what the others have. */
function exchange(...docs: Y.Doc[]): void {
  const updates = docs.map((doc) => Y.encodeStateAsUpdate(doc));
  for (const doc of docs) for (const update of updates) Y.applyUpdate(doc, update);
}

describe('a report as a shared type', () => {
  it('comes back as it was', () => {
    expect(plain(read(sharing(content)))).toEqual(plain(content));
  });

  it('is not touched where nothing differs', () => {
    const doc = sharing(content);
    let updates = 0;
    doc.on('update', () => updates++);
    sharedReport.write(doc, content);
    expect(updates).toBe(0);
  });

  it('written anew by a program keeps what somebody types elsewhere meanwhile', () => {
    const server = sharing(content);
    const person = new Y.Doc();
    exchange(server, person);
    const heading = sharedText(person).get(0) as Y.XmlElement;
    (heading.get(0) as Y.XmlText).insert(6, ' of plants');
    sharedReport.write(server, {
      ...content,
      content: [...content.content, paragraph('A last word.')],
    });
    exchange(server, person);
    const texts = read(server).content.map((node) => node.content?.[0]?.text);
    expect(texts[0]).toBe('Counts of plants');
    expect(texts.at(-1)).toBe('A last word.');
  });

  it('keeps what two people set of one object at the same time, also while a third moves it', () => {
    const [a, b, c] = [sharing(content), new Y.Doc(), new Y.Doc()];
    exchange(a, b, c);
    writeDressing(sharedDressings(a), two, { table: { fills: 'document', letters: 'document' } });
    const column = { text: 'Plants', nth: 0, before: null, after: 'Alive' };
    writeDressing(sharedDressings(b), two, {
      table: { fills: 'document' },
      beside: 3,
      overrides: [{ row: null, column, look: { bold: true, fill: '#ffeecc', width: 30 } }],
    });
    const moved = read(c);
    sharedReport.write(c, {
      ...moved,
      content: [moved.content.at(-1)!, ...moved.content.slice(0, -1)],
    });
    exchange(a, b, c);
    for (const doc of [a, b, c]) {
      const [first] = read(doc).content;
      // The first took the overrides away, the second set one property more: only what was taken away is gone.
      expect(first!.attrs).toMatchObject({
        tetherId: two,
        dressing: {
          table: { fills: 'document', letters: 'document' },
          beside: 3,
          overrides: [{ row: null, column, look: { width: 30 } }],
        },
      });
    }
  });
});

const kept = fc.record({
  who: fc.nat(2),
  what: fc.constantFrom('type', 'put in', 'take out', 'dress', 'settle'),
  where: fc.nat(30),
  meet: fc.option(fc.nat(2), { nil: null }),
});

it('three people who write at random and meet at random end with the same report, and no word is lost', () => {
  fc.assert(
    fc.property(fc.array(kept, { maxLength: 60 }), (acts) => {
      const docs = [sharing(content, 1), new Y.Doc(), new Y.Doc()];
      exchange(...docs);
      const words: string[] = [];
      /** Blocks that are never taken out hold all that was typed. */
      acts.forEach(({ who, what, where, meet }, at) => {
        const doc = docs[who]!;
        const text = sharedText(doc);
        if (what === 'type') {
          const word = `<${at}>`;
          words.push(word);
          const line = (text.get(1) as Y.XmlElement).get(0) as Y.XmlText;
          line.insert(Math.min(where, line.length), word);
        } else if (what === 'put in') {
          text.insert(2 + (where % (text.length - 1)), [new Y.XmlElement('paragraph')]);
        } else if (what === 'take out') {
          const index = 2 + (where % (text.length - 2));
          if ((text.get(index) as Y.XmlElement).nodeName === 'paragraph') text.delete(index, 1);
        } else if (what === 'dress') {
          writeDressing(sharedDressings(doc), two, { beside: 1 + (where % 6) });
        } else sharedReport.write(doc, { ...read(doc), attrs: { look: { decimals: where % 5 } } });
        if (meet !== null && meet !== who) exchange(doc, docs[meet]!);
      });
      exchange(...docs);
      exchange(...docs);
      const [first, ...others] = docs.map((doc) => JSON.stringify(read(doc)));
      for (const other of others) expect(other).toBe(first);
      // A word may have been typed into the middle of another one: its letters are all there.
      const line = read(docs[0]!)
        .content[1]!.content!.map(({ text }) => text)
        .join('');
      const letters = (all: string) => [...all].sort().join('');
      expect(letters(line)).toBe(letters(`Plain, bold and plain.${words.join('')}`));
    }),
    { numRuns: runs(200) },
  );
});
