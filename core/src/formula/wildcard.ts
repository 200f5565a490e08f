/**
 * Patterns of formulas: `*` stands for any letters, `?` for one, `~` before them for themselves; letters match whatever
 * their case. Every part between two `*` is looked for once, from where the one before ended, so that no pattern takes
 * longer than its length times that of the text. (As a regular expression some took longer than anybody waits.)
 */
interface Pattern {
  /** What stands between the `*`, each letter folded; null stands for any one letter. */
  parts: (string | null)[][];
}

/** Letters without their case, and as many of them as before: a letter whose other case is longer stays as it is. */
function folded(text: string): string {
  const lower = text.toLowerCase();
  if (lower.length === text.length) return lower;
  return Array.from({ length: text.length }, (_, at) => {
    const letter = text[at]!.toLowerCase();
    return letter.length === 1 ? letter : text[at]!;
  }).join('');
}

function parse(pattern: string): Pattern {
  const parts: Pattern['parts'] = [[]];
  const letters = folded(pattern);
  for (let at = 0; at < letters.length; at++) {
    const letter = letters[at]!;
    if (letter === '~' && '*?~'.includes(letters[at + 1] ?? ' '))
      parts.at(-1)!.push(letters[++at]!);
    else if (letter === '*') parts.push([]);
    else parts.at(-1)!.push(letter === '?' ? null : letter);
  }
  return { parts };
}

function standsAt(part: readonly (string | null)[], text: string, at: number): boolean {
  if (at < 0 || at + part.length > text.length) return false;
  return part.every((letter, offset) => letter === null || letter === text[at + offset]);
}

/** Where the part first stands from `from` on; -1 where it does not. */
function find(part: readonly (string | null)[], text: string, from: number): number {
  if (!part.includes(null)) return text.indexOf(part.join(''), from);
  for (let at = from; at + part.length <= text.length; at++) {
    if (standsAt(part, text, at)) return at;
  }
  return -1;
}

/** Tells of texts whether the whole of them is as the pattern says. */
export function wildcardTest(pattern: string): (text: string) => boolean {
  const { parts } = parse(pattern);
  const first = parts[0]!;
  const last = parts.at(-1)!;
  return (given) => {
    const text = folded(given);
    if (parts.length === 1) return text.length === first.length && standsAt(first, text, 0);
    if (!standsAt(first, text, 0)) return false;
    let at = first.length;
    for (const part of parts.slice(1, -1)) {
      const found = find(part, text, at);
      if (found < 0) return false;
      at = found + part.length;
    }
    const end = text.length - last.length;
    return end >= at && standsAt(last, text, end);
  };
}

/** Where something that is as the pattern says first begins in the text, at `from` or behind it; -1 where nothing does. */
export function wildcardSearch(pattern: string, given: string, from: number): number {
  const text = folded(given);
  const [first, ...others] = parse(pattern).parts;
  const start = find(first!, text, from);
  if (start < 0) return -1;
  let at = start + first!.length;
  for (const part of others) {
    const found = find(part, text, at);
    // What does not follow the first place where it begins follows no later one either.
    if (found < 0) return -1;
    at = found + part.length;
  }
  return start;
}
