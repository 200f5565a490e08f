import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { fault, ok, type Result } from '@tether/core';
import type { DocumentContent } from '@tether/documents';
import { ContentSaver, QUIET_MS, RETRY_MS } from './content-saver.ts';
import type { Draft } from './draft.ts';

const text = (words: string): DocumentContent => ({
  type: 'doc',
  content: [{ type: 'paragraph', content: [{ type: 'text', text: words }] }],
});

/** A server that answers when told to. */
function setUp() {
  const sent: Draft[] = [];
  const answers: ((result: Result<number>) => void)[] = [];
  let kept: Draft | null = null;
  const saver = new ContentSaver(
    { version: 1, content: text('one') },
    {
      send: (draft) => {
        sent.push(draft);
        return new Promise((resolve) => answers.push(resolve));
      },
      keep: (draft) => {
        kept = draft;
      },
      forget: () => {
        kept = null;
      },
    },
  );
  const answer = async (result: Result<number>) => {
    answers.shift()!(result);
    await jest.advanceTimersByTimeAsync(0);
  };
  return { saver, sent, answer, kept: () => kept };
}

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

describe('saving', () => {
  test('waits until the writing pauses and sends the last text once', async () => {
    const { saver, sent, answer, kept } = setUp();
    saver.write(text('two'));
    await jest.advanceTimersByTimeAsync(QUIET_MS - 1);
    saver.write(text('three'));
    await jest.advanceTimersByTimeAsync(QUIET_MS - 1);
    expect(sent).toEqual([]);
    expect(kept()).toEqual({ version: 1, content: text('three') });
    await jest.advanceTimersByTimeAsync(1);
    expect(sent).toEqual([{ version: 1, content: text('three') }]);
    await answer(ok(2));
    expect(saver.state).toEqual({ kind: 'saved' });
    expect(kept()).toBeNull();
  });

  test('what is written while a save is on its way goes after it, upon the new version', async () => {
    const { saver, sent, answer, kept } = setUp();
    saver.write(text('two'));
    void saver.flush();
    saver.write(text('three'));
    await jest.advanceTimersByTimeAsync(QUIET_MS * 3);
    expect(sent).toHaveLength(1);
    await answer(ok(2));
    expect(kept()).toEqual({ version: 2, content: text('three') });
    await jest.advanceTimersByTimeAsync(QUIET_MS);
    expect(sent[1]).toEqual({ version: 2, content: text('three') });
    await answer(ok(3));
    expect(saver.isUnsaved).toBe(false);
  });

  test('a page opened again while the save is on its way has the text, and saves upon it', async () => {
    const { saver, sent, answer } = setUp();
    saver.write(text('the last word'));
    void saver.flush();
    // The page is opened again with what the server had before.
    expect(saver.takeNewer({ version: 1, content: text('one') })).toBe(false);
    expect(saver.content).toEqual(text('the last word'));
    saver.write(text('the last word, and one more'));
    await answer(ok(2));
    await jest.advanceTimersByTimeAsync(QUIET_MS);
    expect(sent[1]?.version).toBe(2);
    await answer(ok(3));
    expect(saver.state).toEqual({ kind: 'saved' });
  });

  test('a save that failed is tried again by itself', async () => {
    const { saver, sent, answer } = setUp();
    saver.write(text('two'));
    void saver.flush();
    await answer({ ok: false, fault: fault('unexpected', { detail: 'no connection' }) });
    expect(saver.state.kind).toBe('failed');
    await jest.advanceTimersByTimeAsync(RETRY_MS);
    expect(sent).toHaveLength(2);
    await answer(ok(2));
    expect(saver.state).toEqual({ kind: 'saved' });
  });
});

describe('somebody else saved meanwhile', () => {
  test('nothing is sent until the person decides', async () => {
    const { saver, sent, answer, kept } = setUp();
    saver.write(text('mine'));
    void saver.flush();
    await answer({ ok: false, fault: fault('document-saved-elsewhere', { who: 'Tam Reedsby' }) });
    expect(saver.state.kind).toBe('conflict');
    saver.write(text('mine, longer'));
    await jest.advanceTimersByTimeAsync(RETRY_MS * 2);
    expect(sent).toHaveLength(1);
    expect(kept()).toEqual({ version: 1, content: text('mine, longer') });
    saver.takeTheirs({ version: 2, content: text('theirs') });
    expect(saver.state).toEqual({ kind: 'saved' });
    expect(kept()).toBeNull();
    saver.write(text('theirs and mine'));
    await jest.advanceTimersByTimeAsync(QUIET_MS);
    expect(sent[1]).toEqual({ version: 2, content: text('theirs and mine') });
  });

  test('a newer text comes in only while nothing here is unsaved', () => {
    const { saver } = setUp();
    expect(saver.takeNewer({ version: 2, content: text('theirs') })).toBe(true);
    expect(saver.content).toEqual(text('theirs'));
    saver.write(text('mine'));
    expect(saver.takeNewer({ version: 3, content: text('more') })).toBe(false);
    expect(saver.version).toBe(2);
  });
});
