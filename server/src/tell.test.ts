import { describe, expect, test } from '@jest/globals';
import { lineOf, reasonOf } from './tell.ts';

describe('what the server says of a failure', () => {
  test('is one line, whatever words got into it', () => {
    const error = new Error('no name “a\n2026-11-28 signed in: the owner\u2028\u001b[2K”');
    error.stack = `Error: ${error.message}\n    at sign (a.ts:1:1)`;
    expect(lineOf('Signing in\r', error).split('\n')).toEqual([
      'Signing in\\u000d: no name “a\\u000a2026-11-28 signed in: the owner\\u2028\\u001b[2K”',
      '    at sign (a.ts:1:1)',
    ]);
  });

  test('does not print what a query was to store', () => {
    const failed = new Error('Failed query: insert … params: {"text":"the whole report"}', {
      cause: Object.assign(new Error('invalid byte sequence for encoding "UTF8": 0x00'), {
        code: '22021',
      }),
    });
    expect(lineOf('Answering', failed)).toContain('Answering: invalid byte sequence');
    expect(lineOf('Answering', failed)).toContain('(22021)');
    expect(lineOf('Answering', failed)).not.toContain('whole report');
    expect(reasonOf(failed)).toBe('invalid byte sequence for encoding "UTF8": 0x00');
  });
});
