import { describe, expect, test } from '@jest/globals';
import { type DelimitedReading, ENCODINGS, type Encoding } from '@tether/core';
import { runs } from '@tether/core/testing';
import fc from 'fast-check';
import iconv from 'iconv-lite';
import papaparse from 'papaparse';
import { splitRecords } from '../read/records.ts';
import { encodeText } from './encode.ts';
import { type FieldPatch, writeDelimited } from './write-delimited.ts';

const usual = { encoding: 'utf-8', delimiter: ',', quote: '"' } as const;
type Marks = Pick<DelimitedReading, 'encoding' | 'delimiter' | 'quote'>;

function written(from: Buffer | string, patches: FieldPatch[], marks: Marks = usual): Buffer {
  const done = writeDelimited(Buffer.from(from as string), marks, patches);
  if (!done.ok) throw new Error(`${done.fault.code}: ${done.fault.message}`);
  return done.value;
}
const text = (from: string, patches: FieldPatch[], marks: Partial<Marks> = {}) =>
  written(from, patches, { ...usual, ...marks }).toString();
const at = (row: number, column: number, words: string): FieldPatch => ({
  row,
  column,
  text: words,
});

describe('one field', () => {
  const csv = 'Plot,Planted\r\n"SC-01",240\r\nSC-02,"1,180"\r\n';

  test('is other, and every other byte as it was', () => {
    expect(text(csv, [at(2, 2, '241')])).toBe('Plot,Planted\r\n"SC-01",241\r\nSC-02,"1,180"\r\n');
  });

  test('keeps its quotes, and has some where it needs them (RFC 4180, 2.5 to 2.7)', () => {
    expect(text(csv, [at(2, 1, 'SC-03')])).toContain('"SC-03",240');
    expect(text(csv, [at(3, 2, '7')])).toContain('SC-02,"7"\r\n');
    expect(text(csv, [at(2, 2, 'a "wet" one')])).toContain('"SC-01","a ""wet"" one"\r\n');
    expect(text(csv, [at(2, 2, 'two\nlines')])).toContain('"SC-01","two\nlines"\r\n');
    expect(text('a;b\n', [at(1, 1, '1;2')], { delimiter: ';' })).toBe('"1;2";b\n');
  });

  test('comes behind the last of its row, and in rows behind the last', () => {
    expect(text('a,b\n1\n', [at(2, 4, 'x')])).toBe('a,b\n1,,,x\n');
    expect(text('a,b\n', [at(4, 2, 'x')])).toBe('a,b\n\n\n,x\n');
    // A text that does not end its last line does not end it afterwards.
    expect(text('a,b', [at(2, 1, 'x')])).toBe('a,b\r\nx');
  });

  test('is not written where it would be read otherwise', () => {
    expect(() => text('a,b\n', [at(1, 1, '1,2')], { quote: 'none' })).toThrow('write-not-possible');
  });
});

describe('encodings', () => {
  test.each(ENCODINGS)('%s: what was there stays, byte for byte', (encoding) => {
    const words: Partial<Record<Encoding, string>> = {
      'windows-1251': 'Берег',
      'koi8-r': 'Берег',
      'windows-1253': 'ακτή',
      'windows-1255': 'חוף',
      'windows-1256': 'شاطئ',
      shift_jis: '海岸線',
      'euc-jp': '海岸線',
      gb18030: '海岸',
      big5: '海岸',
      'euc-kr': '해안',
    };
    const own = words[encoding] ?? 'Soll';
    const from = iconv.encode(`Plot,${own}\r\n${own},240\r\n`, encoding);
    const done = written(from, [at(2, 2, own)], { ...usual, encoding });
    expect(iconv.decode(done, encoding)).toBe(`Plot,${own}\r\n${own},${own}\r\n`);
    const unchanged = from.length - iconv.encode('240\r\n', encoding).length;
    expect(done.subarray(0, unchanged).equals(from.subarray(0, unchanged))).toBe(true);
  });

  test('a byte order mark stays', () => {
    const from = Buffer.concat([Buffer.from([0xef, 0xbb, 0xbf]), Buffer.from('a,b\n')]);
    expect(written(from, [at(1, 1, 'é')]).toString('hex')).toBe('efbbbfc3a92c620a');
    const wide = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from('a,b\n', 'utf16le')]);
    const done = written(wide, [at(1, 2, '木')], { ...usual, encoding: 'utf-16le' });
    expect(done.toString('utf16le')).toBe('\ufeffa,木\n');
  });

  test('the signs of Windows-1252 between 80 and 9F are its own (WHATWG Encoding Standard)', () => {
    expect(encodeText('€–’', 'windows-1252')?.toString('hex')).toBe('809692');
  });

  test('a sign that the encoding has not got is said', () => {
    expect(() =>
      written('a,b\n', [at(1, 1, '木')], { ...usual, encoding: 'windows-1252' }),
    ).toThrow(/^write-not-encodable: .*木/);
  });

  test('bytes that are not of the encoding are not written over', () => {
    const broken = Buffer.from([0x61, 0x2c, 0xff, 0xfe, 0x0a]);
    expect(() => written(broken, [at(1, 1, 'x')])).toThrow('write-not-possible');
  });
});

const field = fc.string({
  unit: fc.constantFrom('a', 'é', ',', ';', '"', ' ', '\n', '\r\n', '1', '木'),
  maxLength: 6,
});

test('random fields of random texts are read back as written by another reader, all others as before', () => {
  fc.assert(
    fc.property(
      fc.array(fc.array(field, { minLength: 2, maxLength: 5 }), { minLength: 1, maxLength: 12 }),
      fc.array(fc.tuple(fc.nat(11), fc.nat(4), field), { minLength: 1, maxLength: 6 }),
      fc.constantFrom('\n', '\r\n'),
      fc.boolean(),
      (rows, edits, newline, quotes) => {
        const csv = papaparse.unparse(rows, { newline, quotes });
        const expected = splitRecords(csv, usual);
        fc.pre(expected.length === rows.length);
        const patches = edits
          .map(([row, column, words]) => at((row % rows.length) + 1, column + 1, words))
          .filter(({ row, column }) => column <= expected[row - 1]!.length);
        for (const { row, column, text: words } of patches) expected[row - 1]![column - 1] = words;
        const done = written(csv, patches).toString();
        expect(splitRecords(done, usual)).toEqual(expected);
        // papaparse 5.7.1, an independent reader.
        expect(papaparse.parse<string[]>(done, { delimiter: ',', newline }).data).toEqual(expected);
      },
    ),
    { seed: 4180, numRuns: runs(400) },
  );
});
