import { SaxesParser, type SaxesTagPlain } from 'saxes';

/** Attributes of an element by local name. */
export type Attributes = Record<string, string>;

/** What a scan of an XML part calls back. Names come without their prefix. */
export interface XmlHandler {
  open?(name: string, attributes: Attributes): void;
  /** Character data and CDATA, possibly in pieces. */
  text?(text: string): void;
  close?(name: string): void;
}

/** Thrown for a part that is not well-formed XML. */
export class XmlError extends Error {}

/**
 * Scans an XML part from start to end. Document type declarations are refused by the caller's standard (OPC 6.2.5
 * forbids them), so no entity can be defined and none expands. UTF-8 and UTF-16 with a byte order mark are read.
 */
export function scanXml(bytes: Buffer, handler: XmlHandler): void {
  const parser = new SaxesParser({ xmlns: false, position: false });
  parser.on('error', (error) => {
    throw new XmlError(error.message);
  });
  parser.on('doctype', () => {
    throw new XmlError('a document type declaration is not allowed');
  });
  parser.on('opentag', (tag: SaxesTagPlain) => {
    handler.open?.(localName(tag.name), tag.attributes);
  });
  parser.on('closetag', (tag: SaxesTagPlain) => handler.close?.(localName(tag.name)));
  parser.on('text', (text) => handler.text?.(text));
  parser.on('cdata', (text) => handler.text?.(text));
  parser.write(decode(bytes)).close();
}

/** An element with its attributes, text and children: for small parts, where a tree is easier to read than events. */
export interface XmlElement {
  name: string;
  attributes: Attributes;
  children: XmlElement[];
  text: string;
}

/** The root element of a small XML part. */
export function parseXml(bytes: Buffer): XmlElement {
  const root: XmlElement = { name: '', attributes: {}, children: [], text: '' };
  const path = [root];
  scanXml(bytes, {
    open(name, attributes) {
      const element: XmlElement = { name, attributes, children: [], text: '' };
      path.at(-1)!.children.push(element);
      path.push(element);
    },
    text(text) {
      path.at(-1)!.text += text;
    },
    close() {
      path.pop();
    },
  });
  const first = root.children[0];
  if (!first) throw new XmlError('the part has no root element');
  return first;
}

/** The first child named `name`. */
export function child(element: XmlElement | undefined, name: string): XmlElement | undefined {
  return element?.children.find((each) => each.name === name);
}

/** All children named `name`. */
export function children(element: XmlElement | undefined, name: string): XmlElement[] {
  return element?.children.filter((each) => each.name === name) ?? [];
}

/** An attribute by local name, whatever its prefix. */
export function attribute(attributes: Attributes, name: string): string | undefined {
  if (name in attributes) return attributes[name];
  const key = Object.keys(attributes).find((each) => localName(each) === name);
  return key === undefined ? undefined : attributes[key];
}

/** A truth value as XML Schema writes it (`1`, `true`, `0`, `false`); ECMA-376's `on` and `off` too. */
export function truth(text: string | undefined, absent = false): boolean {
  if (text === undefined) return absent;
  return text === '1' || text === 'true' || text === 'on';
}

function localName(name: string): string {
  const colon = name.indexOf(':');
  return colon < 0 ? name : name.slice(colon + 1);
}

function decode(bytes: Buffer): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return bytes.toString('utf16le', 2);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) {
    return Buffer.from(bytes.subarray(2, bytes.length & ~1))
      .swap16()
      .toString('utf16le');
  }
  return bytes.toString(
    'utf8',
    bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0,
  );
}
