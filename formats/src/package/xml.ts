import { type Attributes, XmlError, type XmlHandler, XmlScanner } from './xml-scanner.ts';

export type { Attributes } from './xml-scanner.ts';

/**
 * Scans an XML part from start to end. UTF-8 and UTF-16 with a byte order mark are read. Throws `XmlError` for a part
 * that is not well-formed or declares a document type (OPC 6.2.5 forbids that), so that no entity can be defined.
 */
export function scanXml(bytes: Buffer, handler: XmlHandler): void {
  const scanner = new XmlScanner(handler);
  scanner.write(decode(bytes));
  scanner.close();
}

/** An element with its attributes, text and children: for small parts, where a tree is easier to read than events. */
export interface XmlElement {
  name: string;
  attributes: Attributes;
  children: XmlElement[];
  text: string;
}

/** The root element of a small XML part; what stands within elements named `leaveOut` is passed over. */
export function parseXml(bytes: Buffer, leaveOut?: string): XmlElement {
  const root: XmlElement = { name: '', attributes: {}, children: [], text: '' };
  const path = [root];
  let passing = 0;
  scanXml(bytes, {
    open(name, attributes) {
      if (passing > 0 || name === leaveOut) {
        passing++;
        return;
      }
      const element: XmlElement = { name, attributes, children: [], text: '' };
      path.at(-1)!.children.push(element);
      path.push(element);
    },
    text(text) {
      if (passing === 0) path.at(-1)!.text += text;
    },
    close() {
      if (passing > 0) passing--;
      else path.pop();
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

/** All elements named `name` at any depth, in the order of the text. */
export function descendants(element: XmlElement | undefined, name: string): XmlElement[] {
  if (!element) return [];
  return element.children.flatMap((each) =>
    each.name === name ? [each, ...descendants(each, name)] : descendants(each, name),
  );
}

/** A truth value as XML Schema writes it (`1`, `true`, `0`, `false`); ECMA-376's `on` and `off` too. */
export function truth(text: string | undefined, absent = false): boolean {
  if (text === undefined) return absent;
  return text === '1' || text === 'true' || text === 'on';
}

function decode(bytes: Buffer): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  return bytes.toString(
    'utf8',
    bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0,
  );
}
