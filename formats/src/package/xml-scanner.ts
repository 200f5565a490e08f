/** Attributes of an element by local name. */
export type Attributes = Record<string, string>;

/** What a scan of an XML text calls back. Names come without their prefix. */
export interface XmlHandler {
  open?(name: string, attributes: Attributes): void;
  /** Character data and CDATA, possibly in pieces. */
  text?(text: string): void;
  close?(name: string): void;
}

/** Thrown for a text that is not well-formed XML, or declares a document type. */
export class XmlError extends Error {}

/** Elements nested deeper than this are a trap, not a document. */
const MAX_DEPTH = 4_000;
/** A tag longer than this (one with a picture in an attribute, say) is read no further. */
const MAX_TAG = 8 << 20;

const SPACE = 0x20;
const QUOTE = 0x22;
const APOSTROPHE = 0x27;
const SLASH = 0x2f;
const EQUALS = 0x3d;
const GREATER = 0x3e;
/** What a value may not hold as it is. */
const SPECIAL = /[&<\u0000-\u001f]/;
/** What a text may hold that is not told as it stands. */
const ODD_TEXT = /[&\r\]]/;
/** Letters of a piece that are kept when nothing is found in it: more than any tag that is skipped to. */
const MAX_SKIP_TAG = 64;
/** A name alone; a name with its first attribute's; a further attribute's name: with what may stand around them. */
const BARE = /^([^\s"'<>/=]+)\s*$/;
const HEAD = /^([^\s"'<>/=]+)\s+([^\s"'<>/=]+)\s*=\s*$/;
const KEY = /^\s+([^\s"'<>/=]+)\s*=\s*$/;
/** So many different pieces between values are remembered. */
const MAX_BETWEENS = 4_000;
/** Places for names met before: a power of two. */
const SLOTS = 256;

/** What stands between values, with the names in it; null for what is not as it should be. */
type Betweens = Map<string, Name[] | null>;

interface Name {
  /** As the text has it, with its prefix. */
  written: string;
  local: string;
  /** Whether it only binds a prefix to a namespace. */
  isBinding: boolean;
}

const NAMED: Record<string, string> = { lt: '<', gt: '>', amp: '&', quot: '"', apos: "'" };
const NAME = /^[\p{L}_:][\p{L}\p{N}\p{M}_:.·-]*$/u;
const PLAIN_NAME = /^[A-Za-z_][A-Za-z0-9_.-]*$/;

/**
 * Scans XML 1.0 as it arrives, several times faster than an event parser that knows everything, since it knows no
 * document types, validates no characters and resolves no namespaces. A document type declaration is refused, so that
 * nothing can be defined and nothing expands. Element and attribute names are checked and tags must match (XML 1.0,
 * 2.1); line ends become line feeds (2.11).
 */
export class XmlScanner {
  private rest = '';
  private readonly path: Name[] = [];
  private depth = 0;
  private hasRoot = false;
  private readonly names: (Name | undefined)[] = new Array(SLOTS);
  private skipping: { tags: readonly string[]; within: string | undefined } | null = null;
  private readonly upcoming = new Map<string, number>();
  private readonly bare: Betweens = new Map();
  private readonly heads: Betweens = new Map();
  private readonly keys: Betweens = new Map();

  constructor(private readonly handler: XmlHandler) {}

  /**
   * Called while an element is told: passes over what follows, unread, up to the next of these tags (written out, such as
   * `</table:table>`). Elements that were open within the innermost one named `within` count as closed and are not told;
   * without it that is the element just told alone.
   */
  skipTo(tags: readonly string[], within?: string): void {
    this.skipping = { tags, within };
  }

  /** Takes the next piece of the text. */
  write(piece: string): void {
    // The one letter without a code of its own that nothing later could keep (XML 1.0, 2.2).
    if (piece.includes('\0')) throw new XmlError('a character that XML does not know');
    // Joined, not added: a sum of strings stays in two halves, and each look at a letter of it takes ten times as long.
    const text = this.rest === '' ? piece : [this.rest, piece].join('');
    let at = 0;
    this.upcoming.clear();
    for (;;) {
      if (this.skipping) {
        const found = this.nextOf(text, this.skipping.tags, at);
        if (found < 0) {
          // Half of a tag may stand at the end.
          this.rest = text.slice(Math.max(at, text.length - MAX_SKIP_TAG));
          return;
        }
        this.skipping = null;
        at = found;
      }
      const tag = text.indexOf('<', at);
      if (tag < 0) {
        // Text may be cut within an entity or between CR and LF, so what is left waits.
        this.keep(text, at);
        return;
      }
      if (tag > at) this.tellText(text.slice(at, tag));
      const next = text.charCodeAt(tag + 1);
      if (next === 0x21 /* ! */ || next === 0x3f /* ? */) {
        const end = this.takeDeclaration(text, tag);
        if (end < 0) {
          this.keep(text, tag);
          return;
        }
        at = end;
        continue;
      }
      const shut = text.indexOf('>', tag + 1);
      if (shut < 0) {
        this.keep(text, tag);
        return;
      }
      let end = shut + 1;
      if (next === SLASH) this.takeEnd(text.slice(tag + 2, shut));
      else if (!this.takePlainStart(text.slice(tag + 1, shut))) {
        end = this.takeStart(text, tag + 1);
        if (end < 0) {
          this.keep(text, tag);
          return;
        }
      }
      at = end;
    }
  }

  /** The text is at its end. */
  close(): void {
    if (this.skipping) throw new XmlError('the text ends within an element');
    if (this.rest.trim() !== '' && this.rest !== '\uFEFF') {
      if (this.rest.includes('<')) throw new XmlError('the text ends within a tag');
      this.tellText(this.rest);
    }
    if (this.depth > 0) throw new XmlError(`${this.path[this.depth - 1]!.written} is not closed`);
    if (!this.hasRoot) throw new XmlError('the text has no root element');
  }

  /** Where the first of the tags stands; where each of them stands next is looked up once for a piece of text. */
  private nextOf(text: string, tags: readonly string[], from: number): number {
    let first = -1;
    for (const tag of tags) {
      let at = this.upcoming.get(tag);
      if (at === undefined || (at >= 0 && at < from)) {
        at = text.indexOf(tag, from);
        this.upcoming.set(tag, at);
      }
      if (at >= 0 && (first < 0 || at < first)) first = at;
    }
    return first;
  }

  private keep(text: string, at: number): void {
    this.rest = text.slice(at);
    if (this.rest.length > MAX_TAG) {
      if (this.rest[0] === '<') throw new XmlError('a tag is too long');
      // A long text may go on in pieces, cut where nothing is torn apart.
      const cut = Math.max(this.rest.lastIndexOf('&'), this.rest.length - 1);
      this.tellText(this.rest.slice(0, cut));
      this.rest = this.rest.slice(cut);
    }
  }

  /**
   * Takes what stands in a start tag as nearly every program writes it: double quotes, one attribute behind the other.
   * False for everything else, which is then read letter by letter. The platform's own splitting of strings takes a third
   * of what a look at each letter does.
   */
  private takePlainStart(raw: string): boolean {
    if (raw.includes("'")) return false;
    const parts = raw.split('"');
    const last = parts.length - 1;
    if (last === 0) {
      const isEmpty = raw.endsWith('/');
      const name = this.known(isEmpty ? raw.slice(0, -1) : raw, BARE, this.bare);
      if (!name) return false;
      this.tellStart(name[0]!, {}, isEmpty);
      return true;
    }
    // An odd number of quotes: the tag does not end at the first `>`.
    if (last % 2 === 1) return false;
    const isEmpty = parts[last] === '/';
    if (!isEmpty && parts[last] !== '') return false;
    const head = this.known(parts[0]!, HEAD, this.heads);
    if (!head) return false;
    const attributes: Attributes = {};
    this.put(attributes, head[1]!, parts[1]!);
    for (let at = 2; at < last; at += 2) {
      const key = this.known(parts[at]!, KEY, this.keys);
      if (!key) return false;
      this.put(attributes, key[0]!, parts[at + 1]!);
    }
    this.tellStart(head[0]!, attributes, isEmpty);
    return true;
  }

  /** The names in what stands between two values; null when it is not as the pattern has it. */
  private known(between: string, pattern: RegExp, all: Betweens): Name[] | null {
    const found = all.get(between);
    if (found !== undefined) return found;
    const match = pattern.exec(between);
    const names = match?.slice(1).map((written) => this.nameAt(written, 0, written.length)) ?? null;
    if (all.size < MAX_BETWEENS) all.set(between, names);
    return names;
  }

  private put(attributes: Attributes, key: Name, value: string): void {
    // Of `office:value` and an extension's own `value` the first counts, the other keeps its prefix. One that only binds
    // a prefix keeps it as well, so that it hides no other.
    const own = key.isBinding || attributes[key.local] !== undefined ? key.written : key.local;
    attributes[own] = SPECIAL.test(value) ? resolve(value, true) : value;
  }

  private tellStart(name: Name, attributes: Attributes, isEmpty: boolean): void {
    if (this.depth === 0) {
      if (this.hasRoot) throw new XmlError('a second root element begins');
      this.hasRoot = true;
    }
    this.handler.open?.(name.local, attributes);
    if (isEmpty) this.handler.close?.(name.local);
    else {
      if (this.depth >= MAX_DEPTH) throw new XmlError('elements are nested too deeply');
      this.path[this.depth++] = name;
    }
    if (this.skipping) this.closeUntold(this.skipping.within, isEmpty);
  }

  /** Takes the elements that a skip leaves off the path. */
  private closeUntold(within: string | undefined, isEmpty: boolean): void {
    if (within === undefined) {
      if (!isEmpty) this.depth--;
      return;
    }
    while (this.depth > 0 && this.path[this.depth - 1]!.local !== within) this.depth--;
    if (this.depth === 0) throw new XmlError(`${within} is not open`);
  }

  /** Reads the start tag whose name begins at `from`; where it ends, -1 when it is cut. */
  private takeStart(text: string, from: number): number {
    const { length } = text;
    let at = from;
    for (let code = text.charCodeAt(at); code > SPACE && code !== GREATER && code !== SLASH; ) {
      code = text.charCodeAt(++at);
    }
    if (at >= length) return -1;
    const name = this.nameAt(text, from, at);
    const attributes: Attributes = {};
    let isEmpty = false;
    for (;;) {
      let code = text.charCodeAt(at);
      while (code <= SPACE) code = text.charCodeAt(++at);
      if (at >= length) return -1;
      if (code === GREATER) break;
      if (code === SLASH) {
        if (at + 1 >= length) return -1;
        if (text.charCodeAt(at + 1) !== GREATER) throw new XmlError('a tag has a stray slash');
        isEmpty = true;
        at++;
        break;
      }
      const start = at;
      while (code !== EQUALS && code > SPACE && code !== GREATER) code = text.charCodeAt(++at);
      const nameEnd = at;
      while (code <= SPACE) code = text.charCodeAt(++at);
      if (at >= length) return -1;
      if (code !== EQUALS) throw new XmlError('an attribute has no value');
      code = text.charCodeAt(++at);
      while (code <= SPACE) code = text.charCodeAt(++at);
      if (at >= length) return -1;
      if (code !== QUOTE && code !== APOSTROPHE) throw new XmlError('an attribute is not quoted');
      const shut = text.indexOf(code === QUOTE ? '"' : "'", at + 1);
      if (shut < 0) return -1;
      const value = text.slice(at + 1, shut);
      const key = this.nameAt(text, start, nameEnd);
      this.put(attributes, key, value);
      at = shut + 1;
      const after = text.charCodeAt(at);
      if (after > SPACE && after !== GREATER && after !== SLASH) {
        throw new XmlError('attributes run together');
      }
    }
    this.tellStart(name, attributes, isEmpty);
    return at + 1;
  }

  /** Takes what stands in an end tag. */
  private takeEnd(raw: string): void {
    const name = this.depth > 0 ? this.path[this.depth - 1]! : null;
    if (!name || (raw !== name.written && raw.trimEnd() !== name.written)) {
      throw new XmlError(`${raw} is closed where it is not open`);
    }
    this.depth--;
    this.handler.close?.(name.local);
  }

  /** Where the comment, CDATA section or instruction at `at` ends; -1 when it is cut. */
  private takeDeclaration(text: string, at: number): number {
    if (text.startsWith('<?', at)) return after(text, '?>', at + 2);
    if (text.startsWith('<!--', at)) return after(text, '-->', at + 4);
    if (text.startsWith('<![CDATA[', at)) {
      const end = text.indexOf(']]>', at + 9);
      if (end < 0) return -1;
      if (this.depth === 0) throw new XmlError('text stands outside the root element');
      this.handler.text?.(lineFeeds(text.slice(at + 9, end)));
      return end + 3;
    }
    if ('<!--'.startsWith(text.slice(at)) || '<![CDATA['.startsWith(text.slice(at))) return -1;
    throw new XmlError('a document type declaration is not allowed');
  }

  private tellText(raw: string): void {
    if (this.depth === 0) {
      if (raw.replace('\uFEFF', '').trim() !== '') {
        throw new XmlError('text stands outside the root element');
      }
      return;
    }
    if (!ODD_TEXT.test(raw)) {
      this.handler.text?.(raw);
      return;
    }
    if (raw.includes(']]>')) throw new XmlError('a section is closed that is not open');
    this.handler.text?.(resolve(raw, false));
  }

  /**
   * The name that stands in the text. Names are few and repeat without end: those met before are found by their length
   * and letters, without making a string of them.
   */
  private nameAt(text: string, from: number, to: number): Name {
    const slot =
      ((to - from) * 31 + text.charCodeAt(from) * 7 + text.charCodeAt(to - 1)) & (SLOTS - 1);
    const known = this.names[slot];
    if (known && known.written.length === to - from && isAt(text, from, known.written))
      return known;
    const written = text.slice(from, to);
    const colon = written.indexOf(':');
    const local = colon < 0 ? written : written.slice(colon + 1);
    if (!PLAIN_NAME.test(local) && !(NAME.test(written) && local !== '')) {
      throw new XmlError('a name has characters that names have not');
    }
    const name = { written, local, isBinding: written.startsWith('xmlns') };
    this.names[slot] = name;
    return name;
  }
}

/** Whether the name stands in the text at `from`. A loop of its own takes a fifth of what `startsWith` does here. */
function isAt(text: string, from: number, name: string): boolean {
  for (let at = name.length - 1; at >= 0; at--) {
    if (text.charCodeAt(from + at) !== name.charCodeAt(at)) return false;
  }
  return true;
}

function after(text: string, end: string, from: number): number {
  const at = text.indexOf(end, from);
  return at < 0 ? -1 : at + end.length;
}

function lineFeeds(text: string): string {
  return text.includes('\r') ? text.replace(/\r\n?/g, '\n') : text;
}

/** Resolves references; in an attribute white space becomes spaces (XML 1.0, 3.3.3). */
function resolve(raw: string, isAttribute: boolean): string {
  if (isAttribute && raw.includes('<')) throw new XmlError('a tag begins within an attribute');
  const text = isAttribute ? lineFeeds(raw).replace(/[\t\n]/g, ' ') : lineFeeds(raw);
  if (!text.includes('&')) return text;
  return text.replace(/&([^;&]{0,12};?)/g, (_, body: string) => {
    const name = body.endsWith(';') ? body.slice(0, -1) : '';
    const known = NAMED[name];
    if (known !== undefined) return known;
    const numbered = /^#(?:x([0-9a-fA-F]{1,6})|([0-9]{1,7}))$/.exec(name);
    const code = numbered ? Number.parseInt(numbered[1] ?? numbered[2]!, numbered[1] ? 16 : 10) : 0;
    if (code === 0 || code > 0x10ffff || isSurrogate(code)) {
      throw new XmlError('a reference to something undefined');
    }
    return String.fromCodePoint(code);
  });
}

/** Half of a character in UTF-16, which is none alone (XML 1.0, 2.2). */
function isSurrogate(code: number): boolean {
  return code >= 0xd800 && code <= 0xdfff;
}
