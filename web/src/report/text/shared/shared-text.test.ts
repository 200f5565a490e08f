import { expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import { kindOf, type ReportContent, readContent, sharedText } from '@tether/documents';
import { Schema, type Node as TextNode } from '@tiptap/pm/model';
import { EditorState, type Transaction } from '@tiptap/pm/state';
import { initProseMirrorDoc, updateYFragment } from '@tiptap/y-tiptap';
import fc from 'fast-check';
import * as Y from 'yjs';
import { placeBlocks } from './place-blocks.ts';
import { changeBetween } from './shared-text.ts';

const schema = new Schema({
  nodes: {
    doc: { content: 'block+' },
    paragraph: { group: 'block', content: 'inline*' },
    heading: { group: 'block', content: 'inline*', attrs: { level: { default: 1 } } },
    placedObject: {
      group: 'block',
      atom: true,
      attrs: { tetherId: { default: null }, form: { default: 'table' } },
    },
    captioned: {
      group: 'block',
      content: 'placedObject? caption?',
      attrs: { kind: { default: 'table' }, of: { default: null } },
    },
    caption: { content: 'inline*' },
    text: { group: 'inline' },
  },
});

const OBJECTS = [1, 2, 3].map((digit) => `${digit}1111111-1111-4111-8111-111111111111`);
const first: ReportContent = {
  type: 'doc',
  content: [
    { type: 'heading', attrs: { level: 1 }, content: [{ type: 'text', text: 'Counts' }] },
    ...OBJECTS.flatMap((tetherId) => [
      { type: 'paragraph', content: [{ type: 'text', text: 'Words before it.' }] },
      { type: 'placedObject', attrs: { tetherId, form: 'table' } },
    ]),
    { type: 'paragraph' },
  ],
};

/** Somebody with the report open: what the editor does, without drawing it. */
class Person {
  readonly doc = new Y.Doc();
  private readonly missed: Uint8Array[] = [];
  state!: EditorState;
  private meta!: { mapping: Map<unknown, unknown>; isOMark: Map<unknown, unknown> };
  words = '';

  constructor(beginning: Uint8Array) {
    Y.applyUpdate(this.doc, beginning);
    this.draw();
  }

  /** What others wrote comes in. */
  hear(update: Uint8Array): void {
    this.missed.push(update);
  }
  catchUp(): void {
    if (this.missed.length === 0) return;
    for (const update of this.missed.splice(0)) Y.applyUpdate(this.doc, update);
    this.draw();
  }

  private draw(): void {
    const drawn = initProseMirrorDoc(sharedText(this.doc), schema);
    this.meta = drawn.meta as Person['meta'];
    this.state = EditorState.create({ schema, doc: drawn.doc });
  }

  apply(act: (tr: Transaction) => void): void {
    const { tr } = this.state;
    act(tr);
    if (!tr.docChanged) return;
    this.state = this.state.apply(tr);
    this.doc.transact(() => {
      placeBlocks(sharedText(this.doc), this.state.doc, this.meta);
      updateYFragment(this.doc as never, sharedText(this.doc), this.state.doc, this.meta as never);
    });
  }

  /** Places of the text's blocks of these kinds. */
  places(...kinds: string[]): { position: number; node: TextNode }[] {
    const found: { position: number; node: TextNode }[] = [];
    this.state.doc.forEach((node, position) => {
      if (kinds.includes(node.type.name)) found.push({ position, node });
    });
    return found;
  }

  do(what: (typeof ACTS)[number], where: number, nth: number): void {
    const lines = this.places('paragraph', 'heading');
    const line = lines[where % lines.length]!;
    const objects = this.places('placedObject');
    const object = objects[where % Math.max(1, objects.length)];
    if (what === 'type') {
      const word = `<${nth}>`;
      this.words += word;
      const at = line.position + 1 + (where % (line.node.content.size + 1));
      this.apply((tr) => tr.insertText(word, at));
    } else if (what === 'split') {
      const at = line.position + 1 + (where % (line.node.content.size + 1));
      this.apply((tr) => tr.split(at));
    } else if (!object) return;
    else if (what === 'take out') {
      this.apply((tr) => tr.delete(object.position, object.position + 1));
    } else if (what === 'move') {
      const to = lines[nth % lines.length]!;
      this.apply((tr) => {
        tr.delete(object.position, object.position + 1);
        tr.insert(tr.mapping.map(to.position), object.node);
      });
    } else {
      this.apply((tr) => {
        const of = object.node.attrs.tetherId as string;
        const caption = schema.nodes.caption!.create(null, schema.text('Caption'));
        const whole = schema.nodes.captioned!.create({ of }, [object.node, caption]);
        tr.replaceWith(object.position, object.position + 1, whole);
      });
    }
  }
}

const ACTS = ['type', 'type', 'split', 'move', 'caption', 'take out'] as const;
const step = fc.record({
  who: fc.nat(2),
  what: fc.constantFrom(...ACTS),
  where: fc.nat(500),
  /** Who hears of all that was written until now: the others are without a connection. */
  hears: fc.option(fc.nat(2), { nil: null }),
});

it('three people edit one report at random, each often offline: all end equal, no letter is lost, every object is there once', () => {
  const beginning = new Y.Doc();
  kindOf('report').shared.write(beginning, first);
  const start = Y.encodeStateAsUpdate(beginning);
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
      const people = [0, 1, 2].map(() => new Person(start));
      for (const person of people) {
        person.doc.on('update', (update: Uint8Array, _origin, _doc, { local }) => {
          if (!local) return;
          for (const other of people) if (other !== person) other.hear(update);
        });
      }
      steps.forEach(({ who, what, where, hears }, nth) => {
        people[who]!.do(what, where, nth);
        if (hears !== null) people[hears]!.catchUp();
      });
      for (const person of people) person.catchUp();
      // The server takes out what came in twice; everybody hears of that too.
      const server = new Y.Doc();
      Y.applyUpdate(server, Y.encodeStateAsUpdate(people[0]!.doc));
      kindOf('report').shared.mend(server);
      for (const person of people) {
        person.hear(Y.encodeStateAsUpdate(server));
        person.catchUp();
        person.state.doc.check();
      }
      const read = readContent('report', kindOf('report').shared.read(server));
      if (!read.ok) throw new Error(read.fault.message);
      const placements = kindOf('report').placements(read.value);
      const ids = placements.map(({ tetherId }) => tetherId);
      expect(ids.length).toBe(new Set(ids).size);
      const wasTakenOut = steps.some(({ what }) => what === 'take out');
      if (!wasTakenOut) expect([...ids].sort()).toEqual(OBJECTS);
      const [one, ...others] = people.map(({ state }) => JSON.stringify(state.doc.toJSON()));
      for (const other of others) expect(other).toBe(one);
      // Two who part one line at one place both take its end along: then it is there twice, and never gone.
      const { textContent } = people[0]!.state.doc;
      const count = (all: string, letter: string) => all.split(letter).length - 1;
      const written = `Counts${'Words before it.'.repeat(3)}${people.map(({ words }) => words).join('')}`;
      for (const letter of new Set(written)) {
        expect(count(textContent, letter)).toBeGreaterThanOrEqual(count(written, letter));
      }
      if (!steps.some(({ what }) => what === 'split')) {
        const letters = [...textContent.replace(/Caption/g, '')].sort().join('');
        expect(letters).toBe([...written].sort().join(''));
      }
    }),
    { seed: 16, numRuns: runs(200) },
  );
});

it('where a text was changed is found, so that what stands beside it stays where it is', () => {
  const text = (...lines: string[]) =>
    schema.nodes.doc!.create(
      null,
      lines.map((line) => schema.nodes.paragraph!.create(null, line ? schema.text(line) : null)),
    );
  const lines = fc.array(fc.constantFrom('', 'a', 'aa', 'ab', 'b', 'abab'), {
    minLength: 1,
    maxLength: 6,
  });
  fc.assert(
    fc.property(lines, lines, lines, (head, middle, tail) => {
      const [before, after] = [text(...head, ...tail), text(...head, ...middle, ...tail)];
      const mapping = changeBetween(before, after);
      // What stands before what came stays, what stands behind it moves by as much as came.
      expect(mapping.map(0, -1)).toBe(0);
      expect(mapping.map(before.content.size, 1)).toBe(after.content.size);
      const grown = after.content.size - before.content.size;
      before.forEach((_, position) => {
        expect([position, position + grown]).toContain(mapping.map(position));
      });
    }),
  );
});
