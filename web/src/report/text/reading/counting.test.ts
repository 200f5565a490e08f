import { describe, expect, it } from '@jest/globals';
import { Schema } from '@tiptap/pm/model';
import { countIn } from './counting.ts';

const schema = new Schema({
  nodes: {
    doc: { content: 'block+' },
    paragraph: { group: 'block', content: 'inline*' },
    captioned: { group: 'block', content: 'object caption' },
    object: { atom: true },
    caption: { content: 'inline*' },
    value: { group: 'inline', inline: true, atom: true },
    footnote: { group: 'inline', inline: true, atom: true, content: 'text*' },
    text: { group: 'inline' },
  },
});
const { nodes } = schema;
const text = (words: string) => schema.text(words);
const line = (...words: string[]) =>
  nodes.paragraph!.create(
    null,
    words.map((each) => text(each)),
  );

describe('what is written is counted', () => {
  it('by words, characters and paragraphs; empty lines are none', () => {
    const doc = nodes.doc!.create(null, [line('Plots were counted.'), line(), line('In October')]);
    expect(countIn(doc, 'en')).toEqual({
      words: 5,
      characters: 29,
      withoutSpaces: 26,
      paragraphs: 2,
    });
  });

  it('by the rules of UAX #29: numbers and shortened words are one word each, signs none', () => {
    // From its table of word boundaries, section 4: “can't”, “32.3”, quotation marks.
    const doc = nodes.doc!.create(null, [
      line('The quick (“brown”) fox can’t jump 32.3 feet, right?'),
    ]);
    expect(countIn(doc, 'en').words).toBe(9);
  });

  it('by characters as people see them (UAX #29, grapheme clusters)', () => {
    const doc = nodes.doc!.create(null, [line('e\u0301 🇳🇱 👩‍🌾')]);
    expect(countIn(doc, 'en')).toMatchObject({ characters: 5, withoutSpaces: 3 });
  });

  it('with the words of captions, without the figures of objects', () => {
    const doc = nodes.doc!.create(null, [
      nodes.paragraph!.create(null, [text('Of '), nodes.value!.create(), text(' plots')]),
      nodes.captioned!.create(null, [
        nodes.object!.create(),
        nodes.caption!.create(null, text('Plots by year')),
      ]),
    ]);
    expect(countIn(doc, 'en')).toMatchObject({ words: 5, paragraphs: 1 });
  });

  it('between two places', () => {
    const doc = nodes.doc!.create(null, [line('One two three'), line('four five')]);
    // From “two” to “four”.
    expect(countIn(doc, 'en', { from: 5, to: 20 })).toMatchObject({ words: 3, paragraphs: 2 });
  });

  it('with the words of notes, which are no paragraphs', () => {
    const noted = nodes.doc!.create(null, [
      nodes.paragraph!.create(null, [
        text('All plots'),
        nodes.footnote!.create(null, text('By boat.')),
        text(' again'),
      ]),
    ]);
    expect(countIn(noted, 'en-GB')).toMatchObject({ words: 5, paragraphs: 1 });
  });
});
