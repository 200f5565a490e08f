import { afterEach, describe, expect, it } from '@jest/globals';
import { changeSlip, columnWidths, type Reach } from '@tether/core';
import { strToU8, zipSync } from 'fflate';
import { flatSpreadsheet, packedSpreadsheet } from './odf/spreadsheet.fixture.ts';
import { buildWorkbook, writeFixture } from './ooxml/workbook.fixture.ts';
import { openSource } from './open-source.ts';
import type { OpenSource } from './source.ts';
import { takeReach } from './taking/take-reach.ts';

const opened: OpenSource[] = [];
afterEach(async () => {
  for (const source of opened.splice(0)) await source.close();
});

async function open(bytes: Uint8Array | string, name = 'book.xlsx'): Promise<OpenSource> {
  const source = await openSource(await writeFixture(bytes, name));
  if (!source.ok) throw new Error(`${source.fault.code}: ${source.fault.message}`);
  opened.push(source.value);
  return source.value;
}

/** What a block takes, and what is said about it. */
async function take(source: OpenSource, bottom: number, right: number) {
  const sheet = source.sheets[0]!.name;
  const reach: Reach = { kind: 'block', sheet, area: { top: 1, left: 1, bottom, right } };
  const taken = await takeReach(source, reach);
  if (!taken.ok) throw new Error(taken.fault.message);
  const { snapshot, warnings } = taken.value;
  return {
    cells: snapshot.cells.map(({ row, column, type, value }) => [row, column, type, value]),
    odd: warnings.filter(({ code }) => code === 'odd').map(({ message }) => message),
  };
}

const sheet = (data: string) =>
  buildWorkbook({ sheets: { Sheet1: `<sheetData>${data}</sheetData>` } });

describe('workbooks that no program should write', () => {
  it('rows out of order are put into their order, in every way of reading', async () => {
    const rows = [3, 1, 2].map((row) => `<row r="${row}"><c r="A${row}"><v>${row}</v></c></row>`);
    const source = await open(sheet(rows.join('')));
    expect((await take(source, 3, 1)).cells).toEqual([
      [1, 1, 'number', 1],
      [2, 1, 'number', 2],
      [3, 1, 'number', 3],
    ]);
    const occupancy = await source.readOccupancy('Sheet1');
    expect(occupancy.ok && occupancy.value.rows.map(({ row }) => row)).toEqual([1, 2, 3]);
  });

  it('of a cell that is there twice the last is taken, and it is said', async () => {
    const source = await open(
      sheet('<row r="1"><c r="A1"><v>1</v></c><c r="B1"><v>2</v></c><c r="A1"><v>3</v></c></row>'),
    );
    const { cells, odd } = await take(source, 1, 2);
    expect(cells).toEqual([
      [1, 1, 'number', 3],
      [1, 2, 'number', 2],
    ]);
    expect(odd).toEqual(['A1 is twice in the file: the last one is taken.']);
  });

  it('a number beyond what can be held stays as it is written', async () => {
    const source = await open(
      sheet('<row r="1"><c r="A1"><v>1E+400</v></c><c r="B1"><v>1E+300</v></c></row>'),
    );
    const { cells, odd } = await take(source, 1, 2);
    expect(cells).toEqual([
      [1, 1, 'text', '1E+400'],
      [1, 2, 'number', 1e300],
    ]);
    expect(odd).toEqual(['A1 holds a number too large to reckon with: it is taken as a text.']);
  });

  it('cells behind the last column are told', async () => {
    const source = await open(
      sheet('<row r="1"><c r="A1"><v>1</v></c><c r="XFE1"><v>2</v></c></row>'),
    );
    expect((await take(source, 1, 16_384)).odd).toEqual([
      'Row 1 has cells behind column XFD, where a sheet ends: they are not read.',
    ]);
  });

  it('two parts with one name are refused, since nothing says which is meant', async () => {
    const good = Buffer.from(sheet('<row r="1"><c r="A1"><v>1</v></c></row>'));
    const other = zipSync({ 'xl/worksheets/sheet9.xml': strToU8('<worksheet/>') });
    // The name of a part of another package, of the same length, is made that of the first.
    const second = Buffer.from(other);
    const joined = joinZips(good, second, 'sheet9.xml', 'sheet1.xml');
    const source = await openSource(await writeFixture(joined));
    expect(source.ok ? '' : source.fault).toMatchObject({
      code: 'source-damaged',
      message: expect.stringContaining('two parts with the name xl/worksheets/sheet1.xml'),
    });
  });
});

/** One zip with the entries of two, a name of the second changed. */
function joinZips(first: Buffer, second: Buffer, name: string, to: string): Buffer {
  const endOf = (zip: Buffer) => zip.lastIndexOf(Buffer.from([0x50, 0x4b, 5, 6]));
  const parts = (zip: Buffer) => {
    const end = endOf(zip);
    const from = zip.readUInt32LE(end + 16);
    return {
      data: zip.subarray(0, from),
      directory: Buffer.from(zip.subarray(from, end)),
      end: Buffer.from(zip.subarray(end)),
    };
  };
  const [a, b] = [parts(first), parts(second)];
  for (const bytes of [b.directory]) bytes.write(to, bytes.indexOf(name));
  b.directory.writeUInt32LE(a.data.length, 42);
  const directory = Buffer.concat([a.directory, b.directory]);
  const count = a.end.readUInt16LE(10) + 1;
  a.end.writeUInt16LE(count, 8);
  a.end.writeUInt16LE(count, 10);
  a.end.writeUInt32LE(directory.length, 12);
  a.end.writeUInt32LE(a.data.length + b.data.length, 16);
  return Buffer.concat([a.data, b.data, directory, a.end]);
}

describe('texts that no program should write', () => {
  it('a line that says what ends the fields is none of the data', async () => {
    const source = await open('sep=;\r\nPlot;Depth\r\nSC-01;1,5\r\n', 'depths.csv');
    expect((await take(source, 5, 2)).cells).toEqual([
      [1, 1, 'text', 'Plot'],
      [1, 2, 'text', 'Depth'],
      [2, 1, 'text', 'SC-01'],
      [2, 2, 'number', 1.5],
    ]);
  });

  it('an unclosed quotation mark swallows nothing, and is told', async () => {
    const source = await open('Plot,Note\nSC-01,"dry\nSC-02,wet\nSC-03,wet\n', 'notes.csv');
    const { cells, odd } = await take(source, 9, 2);
    expect(cells.filter(([row]) => row === 3 || row === 4)).toHaveLength(4);
    expect(cells).toContainEqual([2, 2, 'text', '"dry']);
    expect(odd).toEqual([
      'A quotation mark in row 2 is opened and not closed: it is taken as a letter.',
    ]);
  });

  it('more fields than a sheet has columns are told', async () => {
    const wide = Array.from({ length: 20_000 }, (_, at) => `c${at}`).join(',');
    const source = await open(`a,b\n${wide}\n`, 'wide.csv');
    const { cells, odd } = await take(source, 2, 16_384);
    expect(cells).toHaveLength(2 + 16_384);
    expect(odd).toEqual([
      'Row 2 has more fields than a sheet has columns (16,384): those behind column XFD are not read.',
    ]);
  });

  it('numbers of things and numbers beyond what can be held stay texts, to the last digit', async () => {
    const source = await open(
      'id,far,near\n12345678901234567890,1e400,0.12345678901234567890\n',
      'ids.csv',
    );
    expect((await take(source, 2, 3)).cells.slice(3)).toEqual([
      [2, 1, 'text', '12345678901234567890'],
      [2, 2, 'text', '1e400'],
      [2, 3, 'number', 0.12345678901234568],
    ]);
  });
});

it('an open document without its styles is read', async () => {
  const body =
    '<table:table table:name="Counts"><table:table-row><table:table-cell office:value-type="float" office:value="7"><text:p>7</text:p></table:table-cell></table:table-row></table:table>';
  const whole = packedSpreadsheet({ body });
  const { unzipSync } = await import('fflate');
  const { 'styles.xml': _, ...parts } = unzipSync(whole);
  const source = await open(zipSync(parts), 'book.ods');
  expect((await take(source, 1, 1)).cells).toEqual([[1, 1, 'number', 7]]);
});

describe('a file is read as what it is, whatever its name says', () => {
  const body =
    '<table:table table:name="Counts"><table:table-row><table:table-cell office:value-type="float" office:value="7"><text:p>7</text:p></table:table-cell></table:table-row></table:table>';
  const book = sheet('<row r="1"><c r="A1"><v>7</v></c></row>');
  it.each([
    ['an open document with the name of a workbook', packedSpreadsheet({ body }), 'book.xlsx'],
    ['a flat one with the name of a packed one', flatSpreadsheet({ body }), 'book.ods'],
    ['a workbook with the name of an open document', book, 'book.ods'],
    ['a workbook with the name of a text', book, 'book.csv'],
  ])('%s', async (_, bytes, name) => {
    expect((await take(await open(bytes, name), 1, 1)).cells).toEqual([[1, 1, 'number', 7]]);
  });

  it('words are no workbook', async () => {
    const source = await openSource(await writeFixture('plain words', 'book.xlsx'));
    expect(source.ok ? '' : source.fault.code).toBe('source-not-workbook');
  });
});

it('columns of a text are as wide as their words, and a longer word is no change', async () => {
  const read = async (text: string) => {
    const source = await open(text, 'notes.csv');
    const area = { top: 1, left: 1, bottom: 2, right: 2 };
    const snapshot = await source.readArea('notes', area);
    if (!snapshot.ok) throw new Error(snapshot.fault.message);
    return snapshot.value;
  };
  const before = await read('id,note\n7,goose grazing along the northern edge\n');
  const [first, second] = columnWidths(before);
  expect(first).toBeLessThan(second!);
  expect(second).toBeGreaterThan(200);
  const after = await read('id,note\n7,goose grazing along the northern edge of the creek\n');
  expect(changeSlip(before, after)).toMatchObject({ arrangement: false, counts: { cells: 1 } });
});
