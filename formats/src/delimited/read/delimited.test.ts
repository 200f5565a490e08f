import { readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import type { DelimitedReading, Encoding } from '@tether/core';
import fc from 'fast-check';
import Papa from 'papaparse';
import { writeFixture } from '../../ooxml/workbook.fixture.ts';
import { openSource } from '../../open-source.ts';
import { decodeText, guessEncoding } from './decode.ts';
import { guessDelimiter, guessQuote, splitRecords } from './records.ts';
import { guessWriting, readField } from './values.ts';

// The conformance set csv-spectrum 2.0.0: each text with the records it means, by header.
describe('csv-spectrum', () => {
  const root = dirname(createRequire(import.meta.url).resolve('csv-spectrum/package.json'));
  const texts = readdirSync(join(root, 'csvs')).filter(
    (name) =>
      name.endsWith('.csv') &&
      // What the set expects of this one is not what its text says: another telephone number.
      name !== 'location_coordinates.csv',
  );

  test('is there', () => expect(texts.length).toBeGreaterThan(10));

  test.each(texts)('%s', (name) => {
    const bytes = readFileSync(join(root, 'csvs', name));
    const text = decodeText(bytes, guessEncoding(bytes)!);
    const expected = JSON.parse(
      readFileSync(join(root, 'json', name.replace(/csv$/, 'json')), 'utf8'),
    );
    const [header, ...records] = splitRecords(text, { delimiter: ',', quote: '"' });
    const read = records.map((record) =>
      Object.fromEntries(header!.map((key, index) => [key, record[index]])),
    );
    expect(read).toEqual(expected);
  });
});

describe('records (RFC 4180, section 2)', () => {
  test.each([
    [
      'aaa,bbb\r\nccc,ddd\r\n',
      [
        ['aaa', 'bbb'],
        ['ccc', 'ddd'],
      ],
    ],
    [
      'aaa,bbb\r\nccc,ddd',
      [
        ['aaa', 'bbb'],
        ['ccc', 'ddd'],
      ],
    ],
    ['"aaa","b\r\nb","c,c"', [['aaa', 'b\r\nb', 'c,c']]],
    ['"aaa","b""bb"', [['aaa', 'b"bb']]],
    [
      'a,,\n,b,',
      [
        ['a', '', ''],
        ['', 'b', ''],
      ],
    ],
    ['a\rb\nc', [['a'], ['b'], ['c']]],
    // A quote that nothing closes, or that only one within another field would, swallows nothing.
    ['"never closed,b\nc', [['"never closed', 'b'], ['c']]],
    [
      '"a,1\n"b",2\n"c",3',
      [
        ['"a', '1'],
        ['b', '2'],
        ['c', '3'],
      ],
    ],
    [
      '1,"a\nb"\n2,c',
      [
        ['1', 'a\nb'],
        ['2', 'c'],
      ],
    ],
    ['5" pipe,x', [['5" pipe', 'x']]],
    ['', []],
  ])('%j', (text, records) => {
    expect(splitRecords(text, { delimiter: ',', quote: '"' })).toEqual(records);
  });

  test.each([
    ['a,b,c\n1,2,3\n', ','],
    ['Datum;Pegel\n01.10.2026;1,25\n02.10.2026;1,31\n', ';'],
    ['a\tb\n1,5\t2,5\n', '\t'],
    ['a|b|c\nx, y|z|w\n', '|'],
    ['one column\nonly\n', ','],
  ])('the delimiter of %j is %j', (text, delimiter) => {
    expect(guessDelimiter(text)).toBe(delimiter);
  });
});

test.each<[string, Buffer, Encoding]>([
  ['UTF-8', Buffer.from('Größe'), 'utf-8'],
  ['UTF-8 with its mark', Buffer.from('\ufeffGröße'), 'utf-8'],
  ['UTF-16, little end first', Buffer.from('\ufeffGröße', 'utf16le'), 'utf-16le'],
  ['UTF-16, big end first', Buffer.from('\ufeffGröße', 'utf16le').swap16(), 'utf-16be'],
  ['Windows-1252', Buffer.from([0x47, 0x72, 0xf6, 0xdf, 0x65]), 'windows-1252'],
])('%s is read', (_, bytes, encoding) => {
  expect(guessEncoding(bytes)).toBe(encoding);
  expect(decodeText(bytes, encoding)).toBe('Größe');
});

test('NUL deep in a file becomes the replacement character, since no text can hold it', () => {
  const bytes = Buffer.from(`${'Site,Count\n'.repeat(7_000)}Salt\0marsh,3\n`);
  expect(decodeText(bytes, guessEncoding(bytes)!)).toMatch(/\nSalt\uFFFDmarsh,3\n$/);
});

test.each<[string, string]>([
  ["'a,b',1\n'c',2\n'd',3\n", "'"],
  ['"a,b",1\n', '"'],
  ["it's,1\n", '"'],
])('the quote of %j is %s', (text, quote) => expect(guessQuote(text)).toBe(quote));

test('without quotes a quote is a letter', () => {
  expect(splitRecords('"a,b"\n', { delimiter: ',', quote: 'none' })).toEqual([['"a', 'b"']]);
});

// Reference library: papaparse 5.7.1, for texts that RFC 4180 allows.
test('records are those of a reference library', () => {
  const field = fc.string({
    unit: fc.constantFrom('a', '1', ',', '"', '\n', ' ', 'é'),
    maxLength: 6,
  });
  const written = (text: string) =>
    /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
  fc.assert(
    fc.property(
      fc.array(fc.array(field, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 5 }),
      fc.constantFrom('\n', '\r\n'),
      (records, end) => {
        const text = records.map((record) => record.map(written).join(',')).join(end) + end;
        const ours = splitRecords(text, { delimiter: ',', quote: '"' });
        expect(ours).toEqual(records);
        const theirs = Papa.parse<string[]>(text, { delimiter: ',', newline: end }).data;
        expect(ours).toEqual(theirs.slice(0, -1));
      },
    ),
  );
});

describe('fields', () => {
  const comma = { ...guessWriting([['1,5', '2,25']], ';'), dates: 'by column' as const };
  const point = { ...guessWriting([['1.5', '1,234.5']], ';'), dates: 'by column' as const };

  test.each([
    ['1,234.5', point, 'number', 1234.5],
    ['1.234,5', comma, 'number', 1234.5],
    ['-0,25', comma, 'number', -0.25],
    ['1e3', point, 'number', 1000],
    ['007', point, 'text', '007'],
    ['0.5', point, 'number', 0.5],
    ['2026-10-05', point, 'date', '2026-10-05'],
    ['2026-10-05 06:30', point, 'date', '2026-10-05T06:30:00'],
    ['31.12.2026', comma, 'date', '2026-12-31'],
    ['31.02.2026', comma, 'text', '31.02.2026'],
    ['TRUE', point, 'boolean', true],
    ['SC-01', point, 'text', 'SC-01'],
    ['+', point, 'text', '+'],
  ])('%s', (field, writing, type, value) => {
    expect(readField(field, 0, writing)).toEqual({ type, value, text: field });
  });

  test('dates with slashes are read only where the order can be told', () => {
    const guess = guessWriting(
      [
        ['05/10/2026', '05/10/2026', '10/25/2026'],
        ['25/10/2026', '06/11/2026', '10/26/2026'],
      ],
      ',',
    );
    const writing = { ...guess, dates: 'by column' as const };
    expect(readField('05/10/2026', 0, writing)).toMatchObject({
      type: 'date',
      value: '2026-10-05',
    });
    expect(readField('05/10/2026', 1, writing)).toMatchObject({ type: 'text' });
    expect(readField('10/05/2026', 2, writing)).toMatchObject({
      type: 'date',
      value: '2026-10-05',
    });
  });
});

describe('a file', () => {
  const open = async (bytes: string | Uint8Array, name = 'tide-gauge.csv') => {
    const source = await openSource(await writeFixture(bytes, name), name);
    return source;
  };

  test('is a source with one sheet of its name', async () => {
    const source = await open('Time,Level\n2026-10-05 00:00,1.25\n2026-10-05 01:00,1.61\n');
    if (!source.ok) throw new Error(source.fault.message);
    expect(source.value.sheets).toEqual([{ name: 'tide-gauge', state: 'visible' }]);
    const area = await source.value.readArea('Tide-Gauge', {
      top: 2,
      left: 1,
      bottom: 9,
      right: 9,
    });
    expect(area).toMatchObject({
      value: { cells: [{ type: 'date' }, { value: 1.25 }, {}, { value: 1.61 }] },
    });
    const filled = await source.value.readOccupancy('tide-gauge');
    expect(filled).toMatchObject({ value: { rows: [{ row: 1, runs: [1, 2] }, {}, {}] } });
    expect(
      await source.value.readArea('other', { top: 1, left: 1, bottom: 1, right: 1 }),
    ).toMatchObject({
      fault: { code: 'sheet-missing' },
    });
  });

  test('is read otherwise where somebody says so', async () => {
    const path = await writeFixture('a;05/06/2026;1,5\nb;"x;y";2,5\n', 'data.csv');
    const read = async (delimited: Partial<DelimitedReading>) => {
      const source = await openSource(path, 'data.csv', { delimited });
      if (!source.ok) throw new Error(source.fault.message);
      const area = await source.value.readArea('data', { top: 1, left: 1, bottom: 2, right: 4 });
      if (!area.ok) throw new Error(area.fault.message);
      return { guess: source.value.delimited, cells: area.value.cells.map(({ value }) => value) };
    };
    expect(await read({})).toEqual({
      guess: {
        guessed: {
          encoding: 'utf-8',
          delimiter: ';',
          quote: '"',
          decimal: ',',
          dates: 'by column',
        },
        overruled: {},
      },
      cells: ['a', '05/06/2026', 1.5, 'b', 'x;y', 2.5],
    });
    expect((await read({ dates: 'day first' })).cells[1]).toBe('2026-06-05');
    expect((await read({ dates: 'month first' })).cells[1]).toBe('2026-05-06');
    expect((await read({ decimal: '.' })).cells[2]).toBe('1,5');
    expect((await read({ quote: 'none', delimiter: ';' })).cells.slice(4)).toEqual([
      '"x',
      'y"',
      2.5,
    ]);
    expect((await read({ delimiter: '|' })).cells).toEqual(['a;05/06/2026;1,5', 'b;"x;y";2,5']);
  });

  test.each([
    ['', 'source-empty'],
    [new Uint8Array([80, 75, 3, 4, 0, 0, 0]), 'source-damaged'],
    [new Uint8Array([1, 2, 0, 0, 7]), 'source-not-text'],
  ])('that is no text is refused', async (bytes, code) => {
    expect(await open(bytes)).toMatchObject({ ok: false, fault: { code } });
  });

  test('that is not there is missing', async () => {
    expect(await openSource('/no/such/file.csv')).toMatchObject({
      fault: { code: 'source-missing' },
    });
  });
});
