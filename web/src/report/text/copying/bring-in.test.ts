import { describe, expect, it } from '@jest/globals';
import { runs } from '@tether/core/testing';
import { Schema, type Node as TextNode } from '@tiptap/pm/model';
import { EditorState, TextSelection } from '@tiptap/pm/state';
import fc from 'fast-check';
import { turnInto } from './bring-in.ts';

const schema = new Schema({
  nodes: {
    doc: { content: 'block+' },
    paragraph: { group: 'block', content: 'inline*', attrs: { level: { default: 0 } } },
    object: { group: 'block', atom: true, attrs: { id: { default: '' } } },
    text: { group: 'inline' },
  },
});
const textOf = (blocks: readonly string[]): TextNode =>
  schema.nodes.doc!.create(
    null,
    blocks.map((words) =>
      words.startsWith('#')
        ? schema.nodes.object!.create({ id: words })
        : schema.nodes.paragraph!.create(null, words === '' ? [] : schema.text(words)),
    ),
  );
const stateOf = (doc: TextNode) => EditorState.create({ doc });

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
    fc.assert(
      fc.property(blocks, blocks, (one, other) => {
        const { tr } = stateOf(textOf(one));
        const next = textOf(other);
        turnInto(tr, next);
        expect(tr.doc.toJSON()).toEqual(next.toJSON());
      }),
      { seed: 7, numRuns: runs(1000) },
    );
  });
});
