import { describe, expect, it } from '@jest/globals';
import { Schema } from '@tiptap/pm/model';
import { EditorState } from '@tiptap/pm/state';
import { findingOf, findingPlugin, goOn, look, placesOf, replaceAt } from './finding.ts';

const schema = new Schema({
  nodes: {
    doc: { content: 'block+' },
    paragraph: { group: 'block', content: 'inline*' },
    figure: { group: 'block', content: 'caption' },
    caption: { content: 'inline*' },
    text: { group: 'inline' },
    value: { group: 'inline', inline: true, atom: true },
    footnote: { group: 'inline', inline: true, atom: true, content: 'text*' },
  },
  marks: { bold: {} },
});
const { paragraph, figure, caption, value, doc } = schema.nodes;
const text = doc!.create(null, [
  paragraph!.create(null, [
    schema.text('Plots and p'),
    schema.text('lots', [schema.marks.bold!.create()]),
    value!.create(),
    schema.text(' of PLOTS'),
  ]),
  figure!.create(null, caption!.create(null, schema.text('The plots'))),
  paragraph!.create(null, schema.text('plo')),
  paragraph!.create(null, schema.text('ts')),
]);
const wordsAt = (found: { from: number; to: number }[]) =>
  found.map(({ from, to }) => text.textBetween(from, to));

describe('words are found', () => {
  it('over letters of another look and behind values, in captions, and not from one paragraph into the next', () => {
    expect(wordsAt(placesOf(text, { words: 'plots', withCase: false }))).toEqual([
      'Plots',
      'plots',
      'PLOTS',
      'plots',
    ]);
    expect(wordsAt(placesOf(text, { words: 'plots', withCase: true }))).toEqual(['plots', 'plots']);
    expect(placesOf(text, { words: '', withCase: false })).toEqual([]);
  });

  it('where small letters are as many as capitals, and else as they are written', () => {
    const line = doc!.create(null, paragraph!.create(null, schema.text('İstanbul istanbul')));
    expect(placesOf(line, { words: 'istanbul', withCase: false })).toEqual([{ from: 10, to: 18 }]);
  });

  it('and replaced with the look they had', () => {
    const state = EditorState.create({ doc: text });
    const places = placesOf(text, { words: 'plots', withCase: false });
    const { doc: after } = replaceAt(state.tr, places, 'beds');
    expect(after.textBetween(0, after.content.size, '|', '#')).toBe(
      'beds and beds# of beds|The beds|plo|ts',
    );
  });

  it('one after the other, around the end, and again when the text changes', () => {
    let state = EditorState.create({ doc: text, plugins: [findingPlugin()] });
    state = state.apply(look(state, { words: 'plots', withCase: false }));
    expect(findingOf(state)).toMatchObject({ at: 0 });
    const visited = [0, 1, 2, 3].map(() => {
      state = state.apply(goOn(state, 1)!);
      return findingOf(state).at;
    });
    expect(visited).toEqual([1, 2, 3, 0]);
    state = state.apply(goOn(state, -1)!);
    expect(findingOf(state).at).toBe(3);
    state = state.apply(state.tr.insertText('New plots. ', 1));
    expect(findingOf(state)).toMatchObject({ at: 4 });
    expect(findingOf(state).places).toHaveLength(5);
    state = state.apply(look(state, null));
    expect(findingOf(state).places).toEqual([]);
  });
});

describe('in a line with notes', () => {
  const { footnote } = schema.nodes;
  const noted = doc!.create(null, [
    paragraph!.create(null, [
      schema.text('All plots'),
      footnote!.create(null, schema.text('Plots under water later.')),
      schema.text(' and plots'),
    ]),
  ]);

  it('words are found behind a note at their own place, and in the note', () => {
    const found = placesOf(noted, { words: 'plots', withCase: false });
    expect(found.map(({ from, to }) => noted.textBetween(from, to))).toEqual([
      'plots',
      'plots',
      'Plots',
    ]);
  });

  it('words do not reach across a note', () => {
    expect(placesOf(noted, { words: 'plots and', withCase: false })).toEqual([]);
  });

  it('are replaced in the line and in the note', () => {
    const state = EditorState.create({ doc: noted });
    const places = placesOf(noted, { words: 'plots', withCase: false }).sort(
      (a, b) => a.from - b.from,
    );
    const changed = replaceAt(state.tr, places, 'beds').doc;
    expect(changed.firstChild!.child(1).textContent).toBe('beds under water later.');
    expect(changed.firstChild!.lastChild!.text).toBe(' and beds');
  });
});
