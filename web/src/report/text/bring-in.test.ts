import { describe, expect, it } from '@jest/globals';
import { history, undo, undoDepth } from '@tiptap/pm/history';
import { Schema, type Node as TextNode } from '@tiptap/pm/model';
import { EditorState, TextSelection } from '@tiptap/pm/state';
import fc from 'fast-check';
import { turnInto, withoutUndo } from './bring-in.ts';

const schema = new Schema({
  nodes: {
    doc: { content: 'block+', attrs: { paper: { default: null } } },
    paragraph: { group: 'block', content: 'inline*', attrs: { level: { default: 0 } } },
    object: { group: 'block', atom: true, attrs: { id: { default: '' } } },
    text: { group: 'inline' },
  },
});
const textOf = (blocks: readonly string[], attrs = {}): TextNode =>
  schema.nodes.doc!.create(
    attrs,
    blocks.map((words) =>
      words.startsWith('#')
        ? schema.nodes.object!.create({ id: words })
        : schema.nodes.paragraph!.create(null, words === '' ? [] : schema.text(words)),
    ),
  );
const stateOf = (doc: TextNode) => EditorState.create({ doc, plugins: [history()] });

/** The words around the cursor, with the cursor between. */
const aroundCursor = (state: EditorState) => {
  const { $head } = state.selection;
  const { textContent } = $head.parent;
  return `${textContent.slice(0, $head.parentOffset)}|${textContent.slice($head.parentOffset)}`;
};

describe('a text that comes in', () => {
  it('leaves the cursor in its words while blocks before, behind and around change', () => {
    const before = stateOf(textOf(['Plots', 'Piles were driven.', '#a', 'Cover']));
    const { doc } = before;
    const at = doc.resolve(0).posAtIndex(1) + 1 + 'Piles were'.length;
    const tr = before.tr.setSelection(TextSelection.create(doc, at));
    turnInto(
      tr,
      textOf(['Plots of autumn', 'New', 'Two piles were driven.'.replace('piles', 'Piles'), '#a']),
    );
    expect(aroundCursor(before.apply(tr))).toBe('Two Piles were| driven.');
  });

  it('comes in as it is, whatever stood there', () => {
    const blocks = fc.array(fc.constantFrom('', 'a', 'ab', 'aab', 'b', '#1', '#2', 'c d'), {
      minLength: 1,
      maxLength: 8,
    });
    const paper = fc.constantFrom(null, 'A3');
    fc.assert(
      fc.property(blocks, blocks, paper, (one, other, size) => {
        const { tr } = stateOf(textOf(one));
        const next = textOf(other, { paper: size });
        turnInto(tr, next);
        expect(tr.doc.toJSON()).toEqual(next.toJSON());
      }),
      { seed: 7, numRuns: 1000 },
    );
  });

  it('is not crossed by undo', () => {
    let state = stateOf(textOf(['One']));
    state = state.apply(state.tr.insertText('Mine ', 1));
    expect(undoDepth(state)).toBe(1);
    const { tr } = state;
    turnInto(tr, textOf(['Theirs']));
    state = withoutUndo(state.apply(tr));
    expect(undoDepth(state)).toBe(0);
    expect(undo(state)).toBe(false);
    // What is written from now on can be undone as always.
    state = state.apply(state.tr.insertText('More ', 1));
    undo(state, (each) => {
      state = state.apply(each);
    });
    expect(state.doc.textContent).toBe('Theirs');
  });
});
