const MONTHS = [
  ...['january', 'february', 'march', 'april', 'may', 'june', 'july'],
  ...['august', 'september', 'october', 'november', 'december'],
];

/** A word that names a period, and what names the next one; `carry` says whether the year goes on too. */
interface Named {
  next: string;
  carry: boolean;
}

/** Words that stand for themselves: letters beside them make them parts of others. */
const WORD = /[a-z]+|\d+|[^a-z\d]+/gi;

/**
 * What a file of the next period may be called, the likeliest first, by what its name says: a month (`October`, `oct`), a quarter
 * (`Q3`), a year (`2026`), a month of a year (`2026-10`). With the last month or quarter the year goes on, where the name has one. Empty
 * where it names no period.
 */
export function nextPeriods(name: string): string[] {
  const found = [nextMonthOfYear(name), nextNamed(name), nextYear(name)];
  return [...new Set(found.flatMap((each) => each ?? []))].filter((each) => each !== name);
}

/** `2026-10`, `2026_10`, `202610`: the month behind its year. */
function nextMonthOfYear(name: string): string | null {
  const match = /(?<!\d)((?:19|20)\d\d)([-_. ]?)(0[1-9]|1[0-2])(?!\d)/.exec(name);
  if (!match) return null;
  const [whole, year, mark, month] = match;
  const isLast = month === '12';
  const next = `${Number(year) + (isLast ? 1 : 0)}${mark}${isLast ? '01' : String(Number(month) + 1).padStart(2, '0')}`;
  return name.replace(whole, next);
}

/** A month or a quarter by its name. */
function nextNamed(name: string): string | null {
  const words = name.match(WORD) ?? [];
  const at = words.findIndex((word, index) => namedAt(words, index, word) !== null);
  if (at < 0) return null;
  const { next, carry } = namedAt(words, at, words[at]!)!;
  const made = [...words];
  // A quarter is a letter and its number.
  if (/^q$/i.test(words[at]!)) made[at + 1] = next;
  else made[at] = next;
  return carry ? yearOn(made.join('')) : made.join('');
}

function namedAt(words: readonly string[], at: number, word: string): Named | null {
  const lower = word.toLowerCase();
  if (lower === 'q' && /^[1-4]$/.test(words[at + 1] ?? '')) {
    const quarter = Number(words[at + 1]);
    return { next: String((quarter % 4) + 1), carry: quarter === 4 };
  }
  const full = MONTHS.indexOf(lower);
  const short = lower.length === 3 ? MONTHS.findIndex((month) => month.startsWith(lower)) : -1;
  const month = full >= 0 ? full : short;
  if (month < 0) return null;
  const next = MONTHS[(month + 1) % 12]!;
  return { next: likeCased(word, full >= 0 ? next : next.slice(0, 3)), carry: month === 11 };
}

/** As the other word: in capitals, with one at its beginning, or without. */
function likeCased(like: string, word: string): string {
  if (like === like.toUpperCase()) return word.toUpperCase();
  return like[0] === like[0]!.toUpperCase() ? word[0]!.toUpperCase() + word.slice(1) : word;
}

function nextYear(name: string): string | null {
  const next = yearOn(name);
  return next === name ? null : next;
}

/** The name with its last year one on; `2026-27` and `2026/27` name two. */
function yearOn(name: string): string {
  const both = /(?<!\d)((?:19|20)\d\d)([-/_])(\d\d)(?!\d)/.exec(name);
  if (both && Number(both[3]) === (Number(both[1]) + 1) % 100) {
    const year = Number(both[1]) + 1;
    return name.replace(both[0], `${year}${both[2]}${String((year + 1) % 100).padStart(2, '0')}`);
  }
  const years = [...name.matchAll(/(?<!\d)(?:19|20)\d\d(?!\d)/g)];
  const last = years.at(-1);
  if (!last) return name;
  return name.slice(0, last.index) + String(Number(last[0]) + 1) + name.slice(last.index + 4);
}
