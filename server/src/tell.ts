import { types } from 'node:util';

/**
 * Says what went wrong to the server's own log: one line, whatever somebody managed to get into its words, and below it
 * where it happened. Of a failed query only its cause is told, since its text and values hold what people wrote.
 */
export function tell(where: string, error: unknown): void {
  console.error(lineOf(where, error));
}

/** The words of `tell`. */
export function lineOf(where: string, error: unknown): string {
  const reason = beneath(error);
  if (!types.isNativeError(reason)) return `${onOneLine(where)}: ${onOneLine(String(reason))}`;
  const code = 'code' in reason && typeof reason.code === 'string' ? ` (${reason.code})` : '';
  const frames = (reason.stack ?? '').split('\n').filter((line) => /^ {4}at [^\n]+$/.test(line));
  return [`${onOneLine(where)}: ${reasonOf(reason)}${code}`, ...frames.map(onOneLine)].join('\n');
}

/** Why something failed, in a line: what lies behind a failed query, not its text. */
export function reasonOf(error: unknown): string {
  const reason = beneath(error);
  return onOneLine(types.isNativeError(reason) ? reason.message : String(reason)).slice(0, 200);
}

/** What lies beneath a failed query, which itself says all of its text and values. */
function beneath(error: unknown): unknown {
  let found = error;
  for (let depth = 0; depth < 5; depth++) {
    if (!types.isNativeError(found) || !types.isNativeError(found.cause)) break;
    found = found.cause;
  }
  return found;
}

/** Control characters as their code points, so that no words of somebody else's begin a line or move the cursor. */
function onOneLine(words: string): string {
  return words.replace(
    /[\p{Cc}\u2028\u2029]/gu,
    (sign) => `\\u${sign.codePointAt(0)!.toString(16).padStart(4, '0')}`,
  );
}
