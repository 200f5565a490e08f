import { describe, expect, test } from '@jest/globals';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import { readSheetEvents } from './sheet-events.ts';
import { OddSheet, SheetScan, type SheetVisitor } from './sheet-scan.ts';

type Seen = unknown[][];

function visitorOf(seen: Seen, top: number, bottom: number): SheetVisitor {
  return {
    top,
    bottom,
    restart: () => {
      seen.length = 0;
    },
    row: (...told) => seen.push(['row', ...told]),
    cell: (...told) => seen.push(['cell', ...told]),
  };
}

/** What the byte scan sees when the part arrives in pieces of `size` bytes; null when it finds it odd. */
function scan(xml: string, size: number, top = 1, bottom = 1_048_576): Seen | null {
  const seen: Seen = [];
  const sheet = new SheetScan(visitorOf(seen, top, bottom), false);
  const bytes = Buffer.from(xml);
  try {
    for (let at = 0; at < bytes.length; at += size) {
      if (!sheet.take(bytes.subarray(at, at + size))) break;
    }
  } catch (error) {
    if (error instanceof OddSheet) return null;
    throw error;
  }
  return sheet.isComplete ? seen : null;
}

function events(xml: string, top = 1, bottom = 1_048_576): Seen {
  const seen: Seen = [];
  readSheetEvents(Buffer.from(xml), visitorOf(seen, top, bottom));
  // The event parser tells every row, the scan only those that say something.
  return seen.filter(
    ([what, , height, hidden]) => what === 'cell' || height !== undefined || hidden !== undefined,
  );
}

const part = (rows: string) =>
  `<?xml version="1.0"?>\n<worksheet xmlns="x"><dimension ref="A1"/><sheetData>${rows}</sheetData><rowBreaks count="1"/><mergeCells/></worksheet>`;

const escaped = (text: string) =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');
const texts = fc
  .string({ maxLength: 8 })
  .map((text) => text.replace(/[^\x20-\x7e]/g, 'é').trim())
  .filter((text) => text !== '');
const numbers = fc.oneof(
  fc.integer(),
  fc.double({ noNaN: true, noDefaultInfinity: true }),
  fc.constantFrom(0.1, 1e21, 1e-7, 123456789012345680, -0.000001),
);
const contents = fc.oneof(
  numbers.map((number) => ['', `<v>${number}</v>`] as const),
  fc.nat(500).map((index) => [' t="s"', `<v>${index}</v>`] as const),
  texts.map((text) => [' t="str"', `<f>A1&amp;"${'x'}"</f><v>${escaped(text)}</v>`] as const),
  texts.map((text) => [' t="inlineStr"', `<is><t>${escaped(text)}</t></is>`] as const),
  fc.boolean().map((isTrue) => [' t="b"', `<v>${isTrue ? 1 : 0}</v>`] as const),
  fc.constant([' t="e"', '<v>#N/A</v>'] as const),
  fc.constant(['', '<f t="shared" ref="A1:A9" si="0">B1*2</f><v>4</v>'] as const),
  fc.constant(['', '<f t="shared" si="0"/><v>6</v>'] as const),
  fc.constant(['', '<v/>'] as const),
);
const sheets = fc
  .array(
    fc.record({
      gap: fc.nat(3),
      height: fc.option(
        fc.constantFrom('ht="20"', 'hidden="1"', 'spans="1:9" ht="12.5" customHeight="1"'),
      ),
      hasNumber: fc.boolean(),
      cells: fc.array(fc.tuple(contents, fc.nat(2), fc.nat(9), fc.boolean()), { maxLength: 5 }),
    }),
    { maxLength: 6 },
  )
  .map((rows) => {
    let number = 0;
    return part(
      rows
        .map(({ gap, height, hasNumber, cells }) => {
          number += hasNumber ? gap + 1 : 1;
          let column = 0;
          const inner = cells
            .map(([[type, content], skip, style, hasPlace]) => {
              column += hasPlace ? skip + 1 : 1;
              const place = hasPlace ? ` r="${String.fromCharCode(64 + column)}${number}"` : '';
              const look = style > 0 ? ` s="${style}"` : '';
              return content === '<v/>' && skip === 0
                ? `<c${place}${look}/>`
                : `<c${place}${look}${type}>${content}</c>`;
            })
            .join(style(number));
          return `<row${hasNumber ? ` r="${number}"` : ''}${height ? ` ${height}` : ''}>${inner}</row>`;
        })
        .join('\n'),
    );
  });

/** White space between cells, on some rows. */
function style(number: number): string {
  return number % 3 === 0 ? '\n  ' : '';
}

describe('the byte scan', () => {
  test('sees what the event parser sees, in pieces of any size', () => {
    fc.assert(
      fc.property(sheets, fc.integer({ min: 1, max: 400 }), (xml, size) => {
        expect(scan(xml, size)).toEqual(events(xml));
      }),
      { numRuns: runs(400) },
    );
  });

  test('sees the same of any rows in the middle', () => {
    fc.assert(
      fc.property(sheets, fc.integer({ min: 1, max: 9 }), fc.nat(6), (xml, top, height) => {
        expect(scan(xml, 64, top, top + height)).toEqual(events(xml, top, top + height));
      }),
    );
  });

  test('stops behind the last row that is wanted', () => {
    const rows = Array.from(
      { length: 1000 },
      (_, n) => `<row r="${n + 1}"><c r="A${n + 1}"><v>${n}</v></c></row>`,
    );
    const xml = Buffer.from(part(rows.join('')));
    const seen: Seen = [];
    const sheet = new SheetScan(visitorOf(seen, 1, 3), false);
    let taken = 0;
    while (sheet.take(xml.subarray(taken, taken + 100))) taken += 100;
    expect(seen).toHaveLength(3);
    expect(taken).toBeLessThan(500);
  });

  test('keeps what stands behind the data when that is wanted', () => {
    const sheet = new SheetScan(visitorOf([], 1, 1), true);
    const xml = Buffer.from(
      part('<row r="1"><c><v>1</v></c></row><row r="2"/><row r="3"><c/></row>'),
    );
    for (let at = 0; at < xml.length; at += 7) sheet.take(xml.subarray(at, at + 7));
    expect(sheet.isComplete).toBe(true);
    expect(sheet.tail).toBe('<rowBreaks count="1"/><mergeCells/></worksheet>');
    expect(sheet.head).toContain('<dimension');
  });

  test.each([
    ['a comment', '<row r="1"><!-- <c/> --><c><v>1</v></c></row>'],
    ['CDATA', '<row r="1"><c t="str"><v><![CDATA[<x>]]></v></c></row>'],
    ['an extension', '<row r="1"><extLst/></row>'],
    ['half of a character', '<row r="1"><c t="str"><v>&#xDE00;</v></c></row>'],
    ['NUL as a reference', '<row r="1"><c t="str"><v>&#0;</v></c></row>'],
    ['NUL itself', '<row r="1"><c t="str"><v>one\0two</v></c></row>'],
    ['an unknown entity', '<row r="1"><c t="str"><v>&what;</v></c></row>'],
  ])('leaves %s to the event parser', (_, rows) => {
    expect(scan(part(rows), 50)).toBeNull();
  });
});
