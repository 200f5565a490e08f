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
  private readonly path: string[] = [];
  private hasRoot = false;
  /** Local names and whether they are names at all, by the name as written: few differ, and all repeat. */
  private readonly locals = new Map<string, string>();

  constructor(private readonly handler: XmlHandler) {}

  /** Takes the next piece of the text. */
  write(piece: string): void {
    const text = this.rest === '' ? piece : this.rest + piece;
    let at = 0;
    for (;;) {
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
      const end = endOfTag(text, tag + 1);
      if (end < 0) {
        this.keep(text, tag);
        return;
      }
      if (next === 0x2f /* / */) this.takeEnd(text.slice(tag + 2, end));
      else this.takeStart(text, tag + 1, end);
      at = end + 1;
    }
  }

  /** The text is at its end. */
  close(): void {
    if (this.rest.trim() !== '' && this.rest !== '\uFEFF') {
      if (this.rest.includes('<')) throw new XmlError('the text ends within a tag');
      this.tellText(this.rest);
    }
    if (this.path.length > 0) throw new XmlError(`${this.path.at(-1)} is not closed`);
    if (!this.hasRoot) throw new XmlError('the text has no root element');
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

  private takeStart(text: string, from: number, end: number): void {
    const isEmpty = text.charCodeAt(end - 1) === 0x2f;
    const to = isEmpty ? end - 1 : end;
    let at = from;
    while (at < to && text.charCodeAt(at) > 0x20) at++;
    const name = text.slice(from, at);
    if (this.path.length === 0) {
      if (this.hasRoot) throw new XmlError('a second root element begins');
      this.hasRoot = true;
    }
    const attributes: Attributes = {};
    for (;;) {
      while (at < to && text.charCodeAt(at) <= 0x20) at++;
      if (at >= to) break;
      const equals = text.indexOf('=', at);
      if (equals < 0 || equals >= to) throw new XmlError('an attribute has no value');
      let nameEnd = equals;
      while (nameEnd > at && text.charCodeAt(nameEnd - 1) <= 0x20) nameEnd--;
      let open = equals + 1;
      while (open < to && text.charCodeAt(open) <= 0x20) open++;
      const quote = text[open];
      if (quote !== '"' && quote !== "'") throw new XmlError('an attribute is not quoted');
      const shut = text.indexOf(quote, open + 1);
      if (shut < 0 || shut >= to) throw new XmlError('an attribute is not closed');
      const written = text.slice(at, nameEnd);
      const value = text.slice(open + 1, shut);
      if (value.includes('<')) throw new XmlError('a tag begins within an attribute');
      const key = this.attributeName(written);
      // Of `office:value` and an extension's own `value` the first counts, the other keeps its prefix.
      attributes[key in attributes ? written : key] =
        value.includes('&') || hasControl(value) ? resolve(value, true) : value;
      at = shut + 1;
      if (at < to && text.charCodeAt(at) > 0x20) throw new XmlError('attributes run together');
    }
    const local = this.localName(name);
    this.handler.open?.(local, attributes);
    if (isEmpty) this.handler.close?.(local);
    else {
      if (this.path.length >= MAX_DEPTH) throw new XmlError('elements are nested too deeply');
      this.path.push(name);
    }
  }

  private takeEnd(written: string): void {
    const name = written.trimEnd();
    if (this.path.pop() !== name) throw new XmlError(`${name} is closed where it is not open`);
    this.handler.close?.(this.localName(name));
  }

  /** Where the comment, CDATA section or instruction at `at` ends; -1 when it is cut. */
  private takeDeclaration(text: string, at: number): number {
    if (text.startsWith('<?', at)) return after(text, '?>', at + 2);
    if (text.startsWith('<!--', at)) return after(text, '-->', at + 4);
    if (text.startsWith('<![CDATA[', at)) {
      const end = text.indexOf(']]>', at + 9);
      if (end < 0) return -1;
      if (this.path.length === 0) throw new XmlError('text stands outside the root element');
      this.handler.text?.(lineFeeds(text.slice(at + 9, end)));
      return end + 3;
    }
    if ('<!--'.startsWith(text.slice(at)) || '<![CDATA['.startsWith(text.slice(at))) return -1;
    throw new XmlError('a document type declaration is not allowed');
  }

  private tellText(raw: string): void {
    if (this.path.length === 0) {
      if (raw.replace('\uFEFF', '').trim() !== '') {
        throw new XmlError('text stands outside the root element');
      }
      return;
    }
    if (raw.includes(']]>')) throw new XmlError('a section is closed that is not open');
    this.handler.text?.(raw.includes('&') || raw.includes('\r') ? resolve(raw, false) : raw);
  }

  /** The attribute's name without its prefix; one that only binds a prefix keeps it, so that it hides no other. */
  private attributeName(written: string): string {
    return written.startsWith('xmlns') ? written : this.localName(written);
  }

  private localName(written: string): string {
    const known = this.locals.get(written);
    if (known !== undefined) return known;
    const colon = written.indexOf(':');
    const local = colon < 0 ? written : written.slice(colon + 1);
    if (!PLAIN_NAME.test(local) && !(NAME.test(written) && local !== '')) {
      throw new XmlError('a name has characters that names have not');
    }
    this.locals.set(written, local);
    return local;
  }
}

/** Where the tag that has begun ends (its `>`), quotes respected; -1 when it is cut. */
function endOfTag(text: string, from: number): number {
  let at = text.indexOf('>', from);
  // Most tags have no `>` in an attribute: the quotes before the first one come in pairs.
  for (;;) {
    if (at < 0) return -1;
    const quote = openQuote(text, from, at);
    if (quote === null) return at;
    const shut = text.indexOf(quote, at);
    if (shut < 0) return -1;
    at = text.indexOf('>', shut);
  }
}

/** The quote that is open at `to`, or null. */
function openQuote(text: string, from: number, to: number): string | null {
  let quote = 0;
  for (let at = from; at < to; at++) {
    const code = text.charCodeAt(at);
    if (quote !== 0) {
      if (code === quote) quote = 0;
    } else if (code === 0x22 || code === 0x27) quote = code;
  }
  return quote === 0 ? null : String.fromCharCode(quote);
}

function after(text: string, end: string, from: number): number {
  const at = text.indexOf(end, from);
  return at < 0 ? -1 : at + end.length;
}

function hasControl(value: string): boolean {
  for (let at = 0; at < value.length; at++) if (value.charCodeAt(at) < 0x20) return true;
  return false;
}

function lineFeeds(text: string): string {
  return text.includes('\r') ? text.replace(/\r\n?/g, '\n') : text;
}

/** Resolves references; in an attribute white space becomes spaces (XML 1.0, 3.3.3). */
function resolve(raw: string, isAttribute: boolean): string {
  const text = isAttribute ? lineFeeds(raw).replace(/[\t\n]/g, ' ') : lineFeeds(raw);
  if (!text.includes('&')) return text;
  return text.replace(/&([^;&]{0,12};?)/g, (_, body: string) => {
    const name = body.endsWith(';') ? body.slice(0, -1) : '';
    const known = NAMED[name];
    if (known !== undefined) return known;
    const numbered = /^#(?:x([0-9a-fA-F]{1,6})|([0-9]{1,7}))$/.exec(name);
    const code = numbered ? Number.parseInt(numbered[1] ?? numbered[2]!, numbered[1] ? 16 : 10) : 0;
    if (code === 0 || code > 0x10ffff) throw new XmlError('a reference to something undefined');
    return String.fromCodePoint(code);
  });
}
