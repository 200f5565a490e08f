import { copyFile, mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import exceljs from 'exceljs';
import * as xlsx from 'xlsx';
import { runCommand } from './command.ts';

let folder: string;
let file: string;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tether-cli-'));
  file = join(folder, 'counts.xlsx');
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Counts');
  sheet.addRow(['Planting counts']);
  sheet.addRow([]);
  sheet.addRow(['Plot', 'Planted', 'Counted', 'Share']);
  sheet.addRow([
    'SC-01',
    240,
    new Date('2026-10-05T00:00:00Z'),
    { formula: 'B4/300', result: 0.8 },
  ]);
  sheet.addRow([
    'SC-02',
    180,
    new Date('2026-10-06T00:00:00Z'),
    { formula: 'B5/0', result: { error: '#DIV/0!' } },
  ]);
  sheet.getColumn(3).numFmt = 'yyyy-mm-dd';
  sheet.getCell('A3').font = { name: 'Arial', size: 12, bold: true };
  sheet.getCell('J20').value = 'stray';
  for (let row = 6; row < 60; row++) sheet.getCell(row, 1).value = row < 12 ? `SC-${row}` : null;
  book.addWorksheet('Tables').addTable({
    name: 'Survival',
    ref: 'B2',
    headerRow: true,
    columns: [{ name: 'Plot' }, { name: 'Alive' }],
    rows: [['SC-01', 221]],
  });
  book.definedNames.add('Counts!$A$3:$B$5', 'Plots');
  await book.xlsx.writeFile(file);
});
afterAll(() => rm(folder, { recursive: true, force: true }));

async function run(...words: string[]) {
  const { code, text } = await runCommand(words);
  return { code, out: JSON.parse(text) };
}

test('list tells sheets, sizes, blocks, names and tables', async () => {
  const { code, out } = await run('list', file, '--json');
  expect(code).toBe(0);
  expect(out.sheets[0]).toMatchObject({ name: 'Counts', state: 'visible', used: 'A1:J20' });
  expect(out.sheets[0].blocks).toContainEqual({ area: 'J20', filled: 1 });
  expect(out.names).toMatchObject([{ name: 'Plots', sheet: null }]);
  expect(out.tables).toMatchObject([
    { name: 'Survival', sheet: 'Tables', area: 'B2:C3', columns: ['Plot', 'Alive'] },
  ]);
});

describe('read', () => {
  test('gives cells row by row, dates as ISO 8601 and errors as their text', async () => {
    const { out } = await run('read', file, '--reach', 'Counts!A4:D5', '--json');
    expect(out).toMatchObject({ sheet: 'Counts', area: 'A4:D5' });
    expect(out.cells).toEqual([
      { ref: 'A4', value: 'SC-01', text: 'SC-01', type: 'text' },
      { ref: 'B4', value: 240, text: '240', type: 'number' },
      { ref: 'C4', value: '2026-10-05', text: '2026-10-05', type: 'date', format: 'yyyy-mm-dd' },
      { ref: 'D4', value: 0.8, text: '0.8', type: 'number', formula: 'B4/300' },
      { ref: 'A5', value: 'SC-02', text: 'SC-02', type: 'text' },
      { ref: 'B5', value: 180, text: '180', type: 'number' },
      { ref: 'C5', value: '2026-10-06', text: '2026-10-06', type: 'date', format: 'yyyy-mm-dd' },
      { ref: 'D5', value: '#DIV/0!', text: '#DIV/0!', type: 'error', formula: 'B5/0' },
    ]);
  });

  test.each([
    [['--grow', 'Counts!A3'], 'A3:D11'],
    [['--grow', 'Counts!A3:B3'], 'A3:B11'],
    [['--named', 'plots'], 'A3:B5'],
    [['--named', 'Survival'], 'B2:C3'],
    [['--columns', 'Counts!Planted, Plot'], 'A3:B11'],
    [['--sheet', 'counts'], 'A1:D11'],
  ])('%j takes %s', async (words, area) => {
    expect((await run('read', file, ...words)).out.area).toBe(area);
  });

  test('of a whole sheet tells the stray cell that is left out', async () => {
    const { out } = await run('read', file, '--sheet', 'Counts');
    expect(out.warnings).toContainEqual({
      code: 'stray cells',
      message: expect.stringContaining('J20'),
      area: 'J20',
    });
  });

  test('gives the look when asked', async () => {
    const { out } = await run('read', file, '--reach', 'Counts!A3', '--dress');
    expect(out.cells[0].dress.letters).toMatchObject({ family: 'Arial', size: 12, bold: true });
  });
});

test('sheets and headers with quotes, commas and twins are named as they are', async () => {
  const path = join(folder, 'twins.xlsx');
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet("It's, here");
  sheet.addRow(['Plot', 'Planted, 2025', 'Alive', 'Alive', 'Pile #2']);
  sheet.addRow(['SC-01', 120, 96, 91, 7]);
  await book.xlsx.writeFile(path);
  const taken = async (columns: string) => {
    const { out } = await run('read', path, '--columns', `'It''s, here'!${columns}`);
    return out.cells.map(({ ref }: { ref: string }) => ref);
  };
  expect(await taken('Plot,"Planted, 2025"')).toEqual(['A1', 'B1', 'A2', 'B2']);
  expect(await taken('Alive#2')).toEqual(['D1', 'D2']);
  expect(await taken('Pile #2')).toEqual(['E1', 'E2']);
  expect((await run('read', path, '--columns', 'Alive#3')).out.error.message).toContain(
    'Alive (third)',
  );
});

test('hidden rows and columns are left out, and it is said; on request they are in', async () => {
  const path = join(folder, 'hidden.xlsx');
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Counts');
  sheet.addRow(['Plot', 'Planted', 'Alive']);
  sheet.addRow(['SC-01', 120, 96]);
  sheet.addRow(['SC-02', 80, 71]);
  sheet.getColumn(2).hidden = true;
  sheet.getRow(2).hidden = true;
  await book.xlsx.writeFile(path);
  const { out } = await run('read', path, '--reach', 'A1:C3');
  expect(out.cells.map(({ ref }: { ref: string }) => ref)).toEqual(['A1', 'C1', 'A3', 'C3']);
  expect(out.warnings.map(({ message }: { message: string }) => message)).toEqual([
    'Row 2 is hidden in the source and left out.',
    'Column B is hidden in the source and left out.',
  ]);
  expect((await run('read', path, '--reach', 'A1:C3', '--hidden-in')).out.cells).toHaveLength(9);
});

test.each([
  [['read', 'FILE', '--reach', 'Plots!A1'], 'sheet-missing'],
  [['read', 'FILE', '--reach', 'A0'], 'reference-outside-sheet'],
  [['read', 'FILE', '--named', 'Nothing'], 'name-missing'],
  [['read', 'FILE', '--columns', 'Counts!Weight'], 'column-missing'],
  [['read', 'FILE'], 'command-malformed'],
  [['read', 'FILE', '--what'], 'command-malformed'],
  [['read', '/no/such/file.xlsx', '--sheet', 'A'], 'source-missing'],
  [['dance', 'FILE'], 'command-malformed'],
])('%j fails with %s', async (words, code) => {
  const { code: exit, out } = await run(...words.map((word) => (word === 'FILE' ? file : word)));
  expect(exit).toBe(1);
  expect(out.error).toMatchObject({ code, message: expect.any(String), hint: expect.any(String) });
});

describe('delimited text', () => {
  let text: string;
  beforeAll(async () => {
    text = join(folder, 'levels.csv');
    await writeFile(text, 'Peg;Level;Day\nA;1,20;05/06/2026\nB;1,31;06/06/2026\n');
  });
  test('tells how it was found to be written', async () => {
    const { out } = await run('list', text);
    expect(out.delimited).toEqual({
      guessed: { encoding: 'utf-8', delimiter: ';', quote: '"', decimal: ',', dates: 'by column' },
      overruled: {},
    });
    expect(out.charts).toEqual([]);
  });
  test('is read otherwise on request', async () => {
    const { out } = await run(
      'read',
      text,
      '--reach',
      'B2:C2',
      '--decimal',
      '.',
      '--dates',
      'day-first',
    );
    expect(out.cells).toMatchObject([
      { ref: 'B2', value: '1,20', type: 'text' },
      { ref: 'C2', value: '2026-06-05', type: 'date' },
    ]);
  });
  test('a way of writing that there is not fails', async () => {
    const { code, out } = await run('read', text, '--reach', 'A1', '--delimiter', 'x');
    expect(code).toBe(1);
    expect(out.error).toMatchObject({ code: 'command-malformed' });
  });
});

test('a chart that is not there fails', async () => {
  const { code, out } = await run('chart', file, '--chart', 'Counts/1');
  expect(code).toBe(1);
  expect(out.error.code).toBe('chart-missing');
});

test('a spoilt file fails with its fault', async () => {
  const spoilt = join(folder, 'spoilt.xlsx');
  await writeFile(spoilt, 'nothing of the kind');
  expect((await run('list', spoilt)).out.error.code).toBe('source-not-workbook');
});

/** Kinds of cells that the library writes and does not type. */
const asCell = (value: object) => value as exceljs.CellValue;

describe('calc', () => {
  test('says what every formula comes to, against the file', async () => {
    const { code, out } = await run('calc', file, '--sheet', 'counts', '--json');
    expect(code).toBe(0);
    expect(out.cells).toEqual([
      {
        sheet: 'Counts',
        ref: 'D4',
        formula: 'B4/300',
        stored: 0.8,
        computed: 0.8,
        status: 'same',
        why: null,
      },
      {
        sheet: 'Counts',
        ref: 'D5',
        formula: 'B5/0',
        stored: '#DIV/0!',
        computed: '#DIV/0!',
        status: 'same',
        why: null,
      },
    ]);
    expect(out.counts).toEqual({ same: 2, differs: 0, 'not computed': 0, volatile: 0 });
    expect((await run('calc', file, '--sheet', 'Gone')).out.error.code).toBe('sheet-missing');
  });

  test('formulas of every kind that files have: shared, arrays, empty texts, dates, names', async () => {
    const path = join(folder, 'calc.xlsx');
    const book = new exceljs.Workbook();
    const sheet = book.addWorksheet('Plots');
    sheet.getCell('A1').value = 1.5;
    sheet.getCell('A2').value = 2.5;
    sheet.getCell('A3').value = new Date('2026-10-05T00:00:00Z');
    sheet.getCell('B1').value = asCell({
      formula: 'A1*2',
      result: 3,
      shareType: 'shared',
      ref: 'B1:B2',
    });
    sheet.getCell('B2').value = { sharedFormula: 'B1', result: 5 };
    sheet.getCell('C1').value = { formula: 'IF(A1>1,"","x")', result: '' };
    sheet.getCell('C2').value = { formula: 'LEN(C1)', result: 0 };
    sheet.getCell('C3').value = { formula: 'A3+30', result: new Date('2026-11-04T00:00:00Z') };
    sheet.getCell('D1').value = asCell({
      formula: 'A1:A2*10',
      result: 15,
      shareType: 'array',
      ref: 'D1:D2',
    });
    sheet.getCell('D2').value = 25;
    sheet.getCell('E1').value = { formula: 'SUM(Levels)', result: 4 };
    sheet.getCell('E2').value = { formula: 'NOW()>1', result: true };
    sheet.getCell('E3').value = { formula: 'CUBEVALUE("x")', result: 9 };
    sheet.getCell('A3').numFmt = sheet.getCell('C3').numFmt = 'yyyy-mm-dd';
    book.definedNames.add('Plots!$A$1:$A$2', 'Levels');
    await book.xlsx.writeFile(path);
    const { out } = await run('calc', path);
    expect(out.counts).toEqual({ same: 7, differs: 0, 'not computed': 1, volatile: 1 });
    const { out: set } = await run('set', path, 'Plots!A2=4');
    expect(
      set.recalculated
        .map(({ ref, after }: { ref: string; after: unknown }) => [ref, after])
        .sort(),
    ).toEqual([
      ['B2', 8],
      ['D2', 40],
      ['E1', 5.5],
    ]);
    expect((await run('calc', path)).out.counts).toEqual(out.counts);
  });

  test('set puts formulas in, with what they come to and what follows', async () => {
    const path = join(folder, 'formulas.xlsx');
    const workbook = new exceljs.Workbook();
    workbook.addWorksheet('Plots').addRows([[3], [4]]);
    await workbook.xlsx.writeFile(path);
    const { out } = await run('set', path, 'Plots!A3==SUM(A1:A2)', 'Plots!B1==IFNA(A3,0)*2');
    expect(out.written).toEqual([
      { sheet: 'Plots', ref: 'A3', before: null, after: 7 },
      { sheet: 'Plots', ref: 'B1', before: null, after: 14 },
    ]);
    expect((await run('calc', path)).out.counts).toMatchObject({ same: 2, differs: 0 });
    const { out: next } = await run('set', path, 'Plots!A1=10');
    expect(next.recalculated).toHaveLength(2);
    const broken = await run('set', path, 'Plots!A1==SUM(');
    expect(broken.code).not.toBe(0);
  });
});

describe('set', () => {
  const book = async () => {
    const path = join(folder, `set-${Math.random().toString(36).slice(2)}.xlsx`);
    await copyFile(file, path);
    return path;
  };
  const cellsOf = async (path: string, reach: string) =>
    (await run('read', path, '--reach', reach)).out.cells.map(
      ({ ref, value }: { ref: string; value: unknown }) => [ref, value],
    );

  test('writes cells, tells what they were, and leaves all other parts as they are', async () => {
    const path = await book();
    const { code, out } = await run(
      'set',
      path,
      'Counts!B4=241',
      "counts!A5='0012",
      'F9=',
      '--json',
    );
    expect(code).toBe(0);
    expect(out.written).toEqual([
      { sheet: 'Counts', ref: 'B4', before: 240, after: 241 },
      { sheet: 'Counts', ref: 'A5', before: 'SC-02', after: '0012' },
      { sheet: 'Counts', ref: 'F9', before: null, after: null },
    ]);
    expect(out.parts.changed).toEqual(['xl/worksheets/sheet1.xml']);
    expect({ recalculated: out.recalculated, notComputed: out.notComputed }).toEqual({
      recalculated: [{ sheet: 'Counts', ref: 'D4', before: 0.8, after: 241 / 300 }],
      notComputed: [],
    });
    expect(await cellsOf(path, 'Counts!D4:D4')).toEqual([['D4', 241 / 300]]);
    expect(await cellsOf(path, 'Counts!A4:B5')).toEqual([
      ['A4', 'SC-01'],
      ['B4', 241],
      ['A5', '0012'],
      ['B5', 180],
    ]);
  });

  test('writes into another file, or only says what it would', async () => {
    const path = await book();
    const before = await readFile(path);
    const other = join(folder, 'other.xlsx');
    await run('set', path, 'Counts!B4=1', '--out', other);
    await run('set', path, 'Counts!B4=2', '--dry-run');
    expect(await readFile(path)).toEqual(before);
    expect(await cellsOf(other, 'Counts!B4:B4')).toEqual([['B4', 1]]);
  });

  test('does not write over a formula unless that is said', async () => {
    const path = await book();
    expect((await run('set', path, 'Counts!D4=1')).out.error.code).toBe('write-formula');
    expect((await run('set', path, 'Counts!D4=1', '--over-formulas')).code).toBe(0);
    expect(await cellsOf(path, 'Counts!D4:D4')).toEqual([['D4', 1]]);
  });

  test('writes single fields of a text, with its decimal mark', async () => {
    const path = join(folder, 'levels.csv');
    await writeFile(path, 'Plot;Level\r\n"A; north";1,25\r\nB;2,5\r\n');
    expect((await run('set', path, 'levels!B3=3.75', 'A3=C; south')).code).toBe(0);
    expect(await readFile(path, 'utf8')).toBe(
      'Plot;Level\r\n"A; north";1,25\r\n"C; south";3,75\r\n',
    );
  });

  test('writes cells of an open document, and none of one whose formulas would be left behind', async () => {
    const rows = [
      ['Plot', 'Planted'],
      ['SC-01', 240],
    ];
    const path = join(folder, 'budget.ods');
    const made = { SheetNames: ['Budget'], Sheets: { Budget: xlsx.utils.aoa_to_sheet(rows) } };
    await writeFile(path, xlsx.write(made, { type: 'buffer', bookType: 'ods' }));
    const { out } = await run('set', path, 'Budget!B2=241.5');
    expect(out.parts.changed).toEqual(['content.xml']);
    expect(await cellsOf(path, 'Budget!A2:B2')).toEqual([
      ['A2', 'SC-01'],
      ['B2', 241.5],
    ]);
    Object.assign(made.Sheets.Budget, { B3: { t: 'n', v: 480, f: 'B2*2' }, '!ref': 'A1:B3' });
    await writeFile(path, xlsx.write(made, { type: 'buffer', bookType: 'ods' }));
    expect((await run('set', path, 'Budget!B2=1')).out.recalculated).toEqual([
      { sheet: 'Budget', ref: 'B3', before: 480, after: 2 },
    ]);
    expect(await cellsOf(path, 'Budget!B2:B3')).toEqual([
      ['B2', 1],
      ['B3', 2],
    ]);
    // What it comes to in the file is not what it says: nobody can tell why, so that it is left alone.
    Object.assign(made.Sheets.Budget, { B3: { t: 'n', v: 481, f: 'B2*2' } });
    await writeFile(path, xlsx.write(made, { type: 'buffer', bookType: 'ods' }));
    expect((await run('set', path, 'Budget!B2=1')).out.error.code).toBe('write-not-possible');
  });

  test.each([
    [['Counts!B4'], 'command-malformed'],
    [[], 'command-malformed'],
    [['Gone!B4=1'], 'sheet-missing'],
  ])('%j is refused: %s', async (words, code) => {
    expect((await run('set', await book(), ...words)).out.error.code).toBe(code);
  });
});

describe('what went elsewhere', () => {
  let moved: string;
  beforeAll(async () => {
    const book = new exceljs.Workbook();
    await book.xlsx.readFile(file);
    const sheet = book.getWorksheet('Counts')!;
    sheet.spliceRows(1, 0, ['Sallow Creek']);
    sheet.name = 'Autumn';
    moved = join(folder, 'moved', 'Counts of autumn.xlsx');
    await mkdir(join(folder, 'moved'));
    await book.xlsx.writeFile(moved);
    await copyFile(file, join(folder, 'moved', 'copy.xlsx'));
    await writeFile(join(folder, 'moved', 'other.csv'), 'Tide,Level\n1,2\n');
    await writeFile(join(folder, 'moved', 'broken.xlsx'), 'no workbook');
  });

  test('match says where an area stands now, and why', async () => {
    const { out } = await run('match', file, moved, '--reach', 'Counts!A3:D11', '--json');
    expect(out).toMatchObject({
      area: "'Autumn'!A4:D12",
      sheet: 'Autumn',
      standing: 'behind',
      rows: { inserted: 0, deleted: 0, moved: 0 },
      columns: { inserted: 0, deleted: 0, moved: 0 },
    });
    expect(out.confidence).toBeGreaterThan(0.9);
    expect(out.reasons).toContain('It stands at A4:D12, not at A3:D11.');
    const same = await run('match', file, file, '--reach', 'Counts!A3:D11');
    expect(same.out).toMatchObject({ area: "'Counts'!A3:D11", standing: 'in step' });
  });

  test('match says where it is not, and what it was not asked', async () => {
    const gone = await run('match', file, join(folder, 'moved', 'other.csv'), '--reach', 'A3:D11');
    expect(gone.out).toMatchObject({ area: null, confidence: 0, standing: 'adrift' });
    expect(await run('match', file, '--reach', 'A1')).toMatchObject({ code: 1 });
    expect((await run('match', file, moved, '--reach', 'Nowhere!A1')).out.error.code).toBe(
      'sheet-missing',
    );
  });

  test('find ranks the files of a folder with the evidence, and names those that it could not read', async () => {
    const { out } = await run('find', file, '--in', join(folder, 'moved'), '--json');
    expect(out.candidates.map(({ path }: { path: string }) => path)).toEqual([
      'copy.xlsx',
      'Counts of autumn.xlsx',
    ]);
    expect(out.candidates[0]).toMatchObject({ isCertain: true, evidence: { isSame: true } });
    expect(out.candidates[1].evidence.content).toBeGreaterThan(0.8);
    expect(out.unread).toMatchObject([{ path: 'broken.xlsx' }]);
    expect(await run('find', file)).toMatchObject({ code: 1 });
  });
});
