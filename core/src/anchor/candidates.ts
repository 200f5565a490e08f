import { KeyCounts } from './key-counts.ts';
import { type Sketch, sharedByBoth } from './sketch.ts';

/** A sheet by its name and what it holds. */
export interface SheetSketch {
  name: string;
  sketch: Sketch;
}

/** What is known of a file by which it is found again elsewhere. */
export interface FilePrint {
  /** Path within its folder, with `/` between. */
  path: string;
  /** SHA-256 of its bytes; null where nobody read them. */
  hash: string | null;
  bytes: number;
  sheets: SheetSketch[];
  /** Texts at the head of its sheets. */
  headers: string[];
  /** Names of ranges and tables. */
  names: string[];
  /** When it was saved last, in ms; null where that is not known. */
  changedAt: number | null;
}

/** What speaks for a file, each from 0 to 1. */
export interface CandidateEvidence {
  /** It is the same byte for byte. */
  isSame: boolean;
  content: number;
  sheets: number;
  headers: number;
  name: number;
  place: number;
  date: number;
}

/** A file that may be one that is looked for. */
export interface Candidate {
  path: string;
  /** From 0 to 1. */
  score: number;
  evidence: CandidateEvidence;
  /** Why, in words. */
  reasons: string[];
  /** Whether nothing else comes near, and its content says so. */
  isCertain: boolean;
}

/** What each part counts: the content most, since names are given anew. */
const COUNTS = { content: 0.6, headers: 0.12, sheets: 0.08, name: 0.12, place: 0.05, date: 0.03 };
/** Less than this is no candidate. */
const LEAST_SCORE = 0.2;
const MOST_CANDIDATES = 8;
/** So much of its content must be the same, and so far must the next one be behind, for a file to be certain. */
const CERTAIN_CONTENT = 0.6;
const CLEAR_LEAD = 0.1;

/**
 * Files that may be one that was there before, the likeliest first. One that is the same byte for byte comes before all others, of
 * several such the one that is named and placed most like it.
 */
export function rankCandidates(wanted: FilePrint, known: readonly FilePrint[]): Candidate[] {
  const ranked = worthALook(wanted, known)
    .map((file) => candidateOf(wanted, file))
    .filter(({ score }) => score >= LEAST_SCORE)
    .sort((a, b) => b.score - a.score || a.path.localeCompare(b.path))
    .slice(0, MOST_CANDIDATES);
  const [first, second] = ranked;
  if (first) {
    const lead = first.score - (second?.score ?? 0);
    const { isSame, content } = first.evidence;
    const hasTwin = isSame && second?.evidence.isSame === true;
    first.isCertain = !hasTwin && (isSame || (content >= CERTAIN_CONTENT && lead >= CLEAR_LEAD));
    if (hasTwin) first.reasons.push('Another file is the same byte for byte.');
    else if (!first.isCertain && second && lead < CLEAR_LEAD) {
      first.reasons.push(`${second.path} is nearly as likely.`);
    }
  }
  return ranked;
}

/** So many files are looked at closely. */
const MOST_CLOSE = 60;
/** By so many hashes of a sheet. */
const AT_SIGHT = 96;

/** Of many files those that have most in common at first sight, are the same, or have the same name. */
function worthALook(wanted: FilePrint, known: readonly FilePrint[]): readonly FilePrint[] {
  if (known.length <= MOST_CLOSE) return known;
  const own = wanted.sheets.flatMap(({ sketch }) => sketch.hashes);
  const marks = new KeyCounts(own.length);
  for (const hash of own) if (hash !== 0) marks.add(hash);
  const stem = stemOf(wanted.path);
  const seen = known.map((file) => {
    const isKept =
      (wanted.hash !== null && file.hash === wanted.hash) || stemOf(file.path) === stem;
    let [hits, all] = [0, 1];
    for (const { sketch } of file.sheets) {
      // The smallest ones are enough: of what both have, both have those.
      const some = Math.min(AT_SIGHT, sketch.hashes.length);
      all += some;
      for (let at = 0; at < some; at++) if (marks.get(sketch.hashes[at]!) > 0) hits++;
    }
    return { file, worth: isKept ? 2 : hits / all };
  });
  return seen
    .sort((a, b) => b.worth - a.worth)
    .slice(0, MOST_CLOSE)
    .map(({ file }) => file);
}

function candidateOf(wanted: FilePrint, file: FilePrint): Candidate {
  const isSame = wanted.hash !== null && wanted.hash === file.hash;
  const evidence: CandidateEvidence = {
    isSame,
    content: isSame ? 1 : contentShared(wanted, file),
    sheets: shareOf(
      wanted.sheets.map(({ name }) => name),
      file.sheets.map(({ name }) => name),
    ),
    headers: shareOf(wanted.headers, file.headers),
    name: likeness(stemOf(wanted.path), stemOf(file.path)),
    place: sharedFolders(wanted.path, file.path),
    date: nearness(wanted.changedAt, file.changedAt),
  };
  const { content, headers, sheets, name, place, date } = evidence;
  const sum =
    COUNTS.content * content +
    COUNTS.headers * headers +
    COUNTS.sheets * sheets +
    COUNTS.name * name +
    COUNTS.place * place +
    COUNTS.date * date;
  // Same bytes come before all else; their names and places tell several of them apart.
  const score = isSame ? 0.9 + 0.1 * (0.7 * name + 0.3 * place) : Math.min(0.89, sum);
  return {
    path: file.path,
    score: Math.round(score * 1_000) / 1_000,
    evidence,
    reasons: reasonsFor(wanted, file, evidence),
    isCertain: false,
  };
}

/** How much of the content is shared, sheet by sheet: each with the likest one of the other file. */
function contentShared(wanted: FilePrint, file: FilePrint): number {
  let [sum, weight] = [0, 0];
  for (const { sketch } of wanted.sheets) {
    const best = Math.max(0, ...file.sheets.map((each) => sharedByBoth(sketch, each.sketch)));
    sum += best * sketch.size;
    weight += sketch.size;
  }
  return weight === 0 ? 0 : sum / weight;
}

/** How many of all words of both are in both. */
function shareOf(a: readonly string[], b: readonly string[]): number {
  const [one, other] = [a, b].map((words) => new Set(words.map((word) => word.toLowerCase())));
  const all = new Set([...one!, ...other!]);
  if (all.size === 0) return 0;
  let both = 0;
  for (const word of one!) if (other!.has(word)) both++;
  return both / all.size;
}

/** The name of a file without its folder and ending, in lower case. */
function stemOf(path: string): string {
  return path
    .slice(path.lastIndexOf('/') + 1)
    .replace(/\.[^.]*$/, '')
    .toLowerCase();
}

/** How alike two names are: pairs of letters that they share (Dice, "Measures of the Amount of Ecologic Association", 1945). */
export function likeness(a: string, b: string): number {
  if (a === b) return 1;
  const pairs = (text: string) =>
    Array.from({ length: text.length - 1 }, (_, at) => text.slice(at, at + 2));
  if (a.length < 2 || b.length < 2) return 0;
  const left = new Map<string, number>();
  for (const pair of pairs(a)) left.set(pair, (left.get(pair) ?? 0) + 1);
  let both = 0;
  for (const pair of pairs(b)) {
    const many = left.get(pair) ?? 0;
    if (many === 0) continue;
    left.set(pair, many - 1);
    both++;
  }
  return (2 * both) / (a.length + b.length - 2);
}

function sharedFolders(a: string, b: string): number {
  const [one, other] = [a, b].map((path) => path.toLowerCase().split('/').slice(0, -1));
  const most = Math.max(one!.length, other!.length);
  if (most === 0) return 1;
  let same = 0;
  while (same < most && one![same] !== undefined && one![same] === other![same]) same++;
  return same / most;
}

const DAY = 86_400_000;

/** 1 for the same moment, less the farther apart: a half after a month. */
function nearness(a: number | null, b: number | null): number {
  if (a === null || b === null) return 0;
  return 1 / (1 + Math.abs(a - b) / (30 * DAY));
}

function reasonsFor(wanted: FilePrint, file: FilePrint, evidence: CandidateEvidence): string[] {
  const { isSame, content, headers, sheets, name, place } = evidence;
  const percent = (share: number) => `${Math.round(share * 100)} %`;
  const reasons: string[] = [];
  if (isSame) reasons.push('It is the same byte for byte.');
  else if (content > 0) reasons.push(`${percent(content)} of what it holds is the same.`);
  if (!isSame && headers === 1) reasons.push('Its headers are the same.');
  else if (!isSame && headers >= 0.3)
    reasons.push(`${percent(headers)} of its headers are the same.`);
  if (!isSame && sheets === 1) reasons.push('Its sheets are named the same.');
  const [was, is] = [wanted.path, file.path].map((path) => path.slice(path.lastIndexOf('/') + 1));
  if (was === is) reasons.push('It has the same name.');
  else if (was!.toLowerCase() === is!.toLowerCase()) {
    reasons.push('Its name differs only in capital letters.');
  } else if (name >= 0.6) reasons.push('Its name is much alike.');
  if (place === 1) reasons.push('It lies in the same folder.');
  return reasons;
}
