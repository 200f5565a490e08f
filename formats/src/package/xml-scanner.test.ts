import { describe, expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { SaxesParser } from 'saxes';
import { XmlError, XmlScanner } from './xml-scanner.ts';

type Event = ['open', string, Record<string, string>] | ['text', string] | ['close', string];

function joined(events: Event[]): Event[] {
  const all: Event[] = [];
  for (const event of events) {
    const last = all.at(-1);
    if (event[0] === 'text' && last?.[0] === 'text') last[1] += event[1];
    else all.push([...event] as Event);
  }
  return all.filter((event) => event[0] !== 'text' || event[1] !== '');
}

/** What the scanner tells of a text that comes in pieces of `size`. */
function scan(text: string, size = text.length || 1): Event[] {
  const events: Event[] = [];
  const scanner = new XmlScanner({
    open: (name, attributes) => events.push(['open', name, attributes]),
    text: (piece) => events.push(['text', piece]),
    close: (name) => events.push(['close', name]),
  });
  for (let at = 0; at < text.length; at += size) scanner.write(text.slice(at, at + size));
  scanner.close();
  return joined(events);
}

/** The same by the reference: saxes 6, a conforming XML 1.0 parser. */
function reference(text: string): Event[] {
  const events: Event[] = [];
  const parser = new SaxesParser({ xmlns: false });
  parser.on('error', (error) => {
    throw error;
  });
  const local = (name: string) => name.slice(name.indexOf(':') + 1);
  let depth = 0;
  parser.on('opentag', ({ name, attributes }) => {
    // It reads without namespaces; with them a name has a local part (Namespaces in XML 1.0, 4, production 7).
    for (const each of [name, ...Object.keys(attributes)]) {
      if (local(each) === '') throw new Error(`${each} has no local part`);
    }
    depth++;
    events.push(['open', local(name), attributes]);
  });
  parser.on('closetag', ({ name }) => {
    depth--;
    events.push(['close', local(name)]);
  });
  parser.on('text', (piece) => depth > 0 && events.push(['text', piece]));
  parser.on('cdata', (piece) => events.push(['text', piece]));
  parser.write(text).close();
  return joined(events);
}

const name = fc.constantFrom('a', 'b1', 'row', 'x:cell', '_v', 'übung', 'a-b.c');
const words = fc
  .array(
    fc.constantFrom(
      'x',
      ' ',
      '\n',
      '\r\n',
      '\r',
      '\t',
      '>',
      '"',
      "'",
      '&amp;',
      '&lt;',
      '&#65;',
      '&#x1F30A;',
      'é',
      '&quot;',
    ),
    { maxLength: 8 },
  )
  .map((parts) => parts.join(''));
const value = words.map((text) => text.replaceAll('"', '&quot;'));
const attribute = fc.tuple(fc.constantFrom('r', 's', 'tä', 'p-q'), value, fc.boolean());
const aside = fc.constantFrom(
  '',
  '<!-- a <b> -- c -->'.replace(' -- ', ' - '),
  '<?go on?>',
  '<![CDATA[<x> & ]] y]]>',
);

const element: fc.Memo<string> = fc.memo((depth) =>
  fc
    .tuple(
      name,
      fc.uniqueArray(attribute, { selector: ([key]) => key, maxLength: 3 }),
      fc.array(depth > 1 ? fc.oneof(words, aside, element(depth - 1)) : fc.oneof(words, aside), {
        maxLength: 4,
      }),
      fc.boolean(),
    )
    .map(([tag, attributes, inner, isShort]) => {
      const told = attributes.map(
        ([key, text, isSpaced]) => ` ${key}${isSpaced ? ' = ' : '='}"${text}"`,
      );
      return isShort && inner.length === 0
        ? `<${tag}${told.join('')} />`
        : `<${tag}${told.join('')}>${inner.join('')}</${tag} >`;
    }),
);

describe('scanning', () => {
  test('tells the same as a conforming parser, however the text is cut', () => {
    fc.assert(
      fc.property(element(4), fc.integer({ min: 1, max: 30 }), (root, size) => {
        const text = `\uFEFF<?xml version="1.0" encoding="UTF-8"?>\n<!-- head -->${root}\n`;
        expect(scan(text, size)).toEqual(reference(text));
      }),
      { numRuns: runs(400) },
    );
  });

  test('a name that ends with its prefix is refused', () => {
    expect(() => reference('<a><x:/></a>')).toThrow('no local part');
    expect(() => scan('<a><x:/></a>')).toThrow(XmlError);
  });

  test('refuses what a conforming parser refuses when a text is spoilt', () => {
    fc.assert(
      fc.property(
        element(3),
        fc.nat(),
        fc.constantFrom('<', '&', '</', '"', '/>', ''),
        (root, seed, spoil) => {
          const at = seed % root.length;
          const text = root.slice(0, at) + spoil + root.slice(at + 1);
          let expected: Event[] | null = null;
          try {
            expected = reference(text);
          } catch {
            // Not well-formed: the scanner may be more lenient about names and characters, but never crashes.
          }
          if (expected) expect(scan(text)).toEqual(expected);
          else {
            try {
              scan(text);
            } catch (error) {
              expect(error).toBeInstanceOf(XmlError);
            }
          }
        },
      ),
      { numRuns: runs(600) },
    );
  });

  test.each([
    ['an empty text', ''],
    ['a name run together with a value', '<a><a"b"></a></a>'],
    ['an element that stays open', '<a>'],
    ['tags that do not match', '<a></b>'],
    ['two roots', '<a/><b/>'],
    ['text outside', 'words<a/>'],
    ['a value without quotes', '<a b=c/>'],
    ['an attribute without a value', '<a b/>'],
    ['a tag within a value', '<a b="<"/>'],
    ['an entity that nobody defined', '<a>&nbsp;</a>'],
    ['a lone ampersand', '<a>& </a>'],
    ['a character that cannot be', '<a>&#0;</a>'],
    ['half of a character', '<a>&#xD83D;</a>'],
    ['NUL itself', '<a>one\0two</a>'],
    ['a cut tag', '<a><b'],
    ['the end of a section that did not begin', '<a>]]></a>'],
    ['a name that begins with a digit', '<1a/>'],
    ['a document type', '<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>'],
    ['elements nested without end', '<a>'.repeat(5000)],
  ])('%s is refused', (_, text) => {
    expect(() => scan(text)).toThrow(XmlError);
  });
});
