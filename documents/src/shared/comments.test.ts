import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import * as Y from 'yjs';
import {
  addComment,
  addNote,
  type CommentNote,
  readComments,
  removeNote,
  settleThread,
  sharedComments,
} from './comments.ts';

const ines = { id: 'i', name: 'Ines Fallow' };
const odile = { id: 'o', name: 'Odile Marram' };
const note = (id: string, words: string, minute: number, by = ines): CommentNote => ({
  id,
  by,
  words,
  at: `2026-10-05T09:${String(minute).padStart(2, '0')}:00.000Z`,
});
const ABOUT = { kind: 'object', tetherId: 't' } as const;

describe('comments', () => {
  it('are read in the order in which they were said', () => {
    const comments = sharedComments(new Y.Doc());
    addComment(comments, 'b', ABOUT, note('1', 'Second', 5));
    addComment(
      comments,
      'a',
      { kind: 'words', from: 1, to: 2, quote: 'plots' },
      note('1', 'First', 1),
    );
    addNote(comments, 'a', note('3', 'Last', 9));
    addNote(comments, 'a', note('2', 'Answer', 3, odile));
    const threads = readComments(comments);
    expect(threads.map(({ id }) => id)).toEqual(['a', 'b']);
    expect(threads[0]!.notes.map(({ words }) => words)).toEqual(['First', 'Answer', 'Last']);
    expect(threads[0]!.about).toEqual({ kind: 'words', from: 1, to: 2, quote: 'plots' });
  });

  it('are settled and opened again, and gone with their last note', () => {
    const comments = sharedComments(new Y.Doc());
    addComment(comments, 'a', ABOUT, note('1', 'Why?', 1));
    const resolved = { by: odile, at: '2026-10-06T08:00:00.000Z' };
    settleThread(comments, 'a', resolved);
    expect(readComments(comments)[0]!.resolved).toEqual(resolved);
    settleThread(comments, 'a', null);
    expect(readComments(comments)[0]!.resolved).toBeNull();
    removeNote(comments, 'a', '1');
    expect(readComments(comments)).toEqual([]);
  });

  it('pass over what is none', () => {
    const comments = sharedComments(new Y.Doc());
    comments.set('x:about', { kind: 'spell' });
    comments.set('y:about', ABOUT);
    comments.set('y:note:1', { words: 12 });
    comments.set('z:note:1', note('1', 'of nothing', 1));
    comments.set('words', null);
    expect(readComments(comments)).toEqual([]);
  });

  it('that two people make at the same time are all kept, and read alike by both', () => {
    const act = fc.record({
      who: fc.integer({ min: 0, max: 1 }),
      what: fc.constantFrom('begin', 'answer', 'settle', 'open'),
      thread: fc.constantFrom('a', 'b'),
      meet: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(act, { maxLength: 24 }), (acts) => {
        const docs = [new Y.Doc(), new Y.Doc()] as const;
        const meet = () => {
          Y.applyUpdate(docs[0], Y.encodeStateAsUpdate(docs[1]));
          Y.applyUpdate(docs[1], Y.encodeStateAsUpdate(docs[0]));
        };
        const said = new Set<string>();
        acts.forEach(({ who, what, thread, meet: doMeet }, index) => {
          const comments = sharedComments(docs[who as 0 | 1]);
          const fresh = note(String(index), `words ${index}`, index, who === 0 ? ines : odile);
          if (what === 'begin') addComment(comments, thread, ABOUT, fresh);
          else if (what === 'answer') addNote(comments, thread, fresh);
          else
            settleThread(comments, thread, what === 'settle' ? { by: ines, at: fresh.at } : null);
          if (what === 'begin' || what === 'answer') said.add(`${thread} ${index}`);
          if (doMeet) meet();
        });
        meet();
        const [one, other] = docs.map((doc) => readComments(sharedComments(doc)));
        expect(one).toEqual(other);
        const begun = new Set(one!.map(({ id }) => id));
        const expected = [...said].filter((each) => begun.has(each.split(' ')[0]!)).sort();
        const read = one!
          .flatMap(({ id, notes }) => notes.map((each) => `${id} ${each.id}`))
          .sort();
        expect(read).toEqual(expected);
      }),
    );
  });
});
