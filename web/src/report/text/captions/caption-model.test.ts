import { describe, expect, it } from '@jest/globals';
import { Schema } from '@tiptap/pm/model';
import { EditorState } from '@tiptap/pm/state';
import { captionsIn, mend } from './caption-model.ts';

const schema = new Schema({
  nodes: {
    doc: { content: 'block+' },
    text: { group: 'inline' },
    paragraph: { group: 'block', content: 'inline*' },
    placedObject: { group: 'block', atom: true, attrs: { tetherId: { default: null } } },
    captioned: {
      group: 'block',
      content: 'placedObject? caption?',
      attrs: { kind: { default: 'table' }, of: { default: null } },
    },
    caption: { content: 'inline*' },
  },
});
const paragraph = (words: string) => schema.node('paragraph', null, [schema.text(words)]);
const object = (tetherId: string) => schema.node('placedObject', { tetherId });
const caption = (words: string) => schema.node('caption', null, words ? [schema.text(words)] : []);
const captioned = (tetherId: string, words: string, kind = 'table') =>
  schema.node('captioned', { kind, of: tetherId }, [object(tetherId), caption(words)]);
const textOf = (...blocks: ReturnType<typeof paragraph>[]) =>
  EditorState.create({ doc: schema.node('doc', null, blocks) });
const mended = (state: EditorState) => {
  const tr = mend(state);
  return tr ? state.apply(tr).doc : null;
};
const shape = (doc: ReturnType<typeof mended>) => doc && doc.toString();

describe('captions', () => {
  it('are counted in reading order, tables and figures each by themselves', () => {
    const { doc } = textOf(
      captioned('a', 'one'),
      captioned('b', 'two', 'figure'),
      paragraph('between'),
      captioned('c', 'three'),
    );
    expect(
      captionsIn(doc).map(({ tetherId, kind, number, words }) => [tetherId, kind, number, words]),
    ).toEqual([
      ['a', 'table', 1, 'one'],
      ['b', 'figure', 1, 'two'],
      ['c', 'table', 2, 'three'],
    ]);
  });

  it('are left as they are while nothing is wrong', () => {
    expect(mend(textOf(captioned('a', 'one'), paragraph('x')))).toBeNull();
  });

  it('come to their object where it was dragged away alone, up or down', () => {
    const empty = schema.node('captioned', { kind: 'table', of: 'a' }, [caption('one')]);
    const whole = 'captioned(placedObject, caption("one"))';
    expect(shape(mended(textOf(empty, paragraph('x'), object('a'))))).toBe(
      `doc(paragraph("x"), ${whole})`,
    );
    expect(shape(mended(textOf(object('a'), paragraph('x'), empty)))).toBe(
      `doc(${whole}, paragraph("x"))`,
    );
  });

  it('stay as a paragraph when their object is gone, and go when they have no words', () => {
    const of = (words: string) =>
      schema.node('captioned', { kind: 'table', of: 'a' }, [caption(words)]);
    expect(shape(mended(textOf(of('one'), paragraph('x'))))).toBe(
      'doc(paragraph("one"), paragraph("x"))',
    );
    expect(shape(mended(textOf(of(''), paragraph('x'))))).toBe('doc(paragraph("x"))');
  });

  it('that were deleted leave their object alone', () => {
    const bare = schema.node('captioned', { kind: 'table', of: 'a' }, [object('a')]);
    expect(shape(mended(textOf(bare, paragraph('x'))))).toBe('doc(placedObject, paragraph("x"))');
  });

  it('are of the object that they stand with, when that got another tether', () => {
    const copy = schema.node('captioned', { kind: 'table', of: 'a' }, [
      object('b'),
      caption('one'),
    ]);
    expect(mended(textOf(copy))!.firstChild!.attrs.of).toBe('b');
  });

  it('are mended one after the other', () => {
    const empty = (of: string) => schema.node('captioned', { kind: 'table', of }, [caption(of)]);
    const doc = mended(textOf(object('a'), empty('b'), empty('a'), object('b')));
    expect(shape(doc)).toBe(
      'doc(captioned(placedObject, caption("a")), captioned(placedObject, caption("b")))',
    );
  });
});
