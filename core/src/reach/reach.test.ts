import { describe, expect, test } from '@jest/globals';
import { type Area, formatArea, parseReference } from '../sheet/address.ts';
import { OccupancyBuilder } from '../sheet/occupancy.ts';
import {
  describeReach,
  findHeaderRow,
  type GrowingReach,
  limitReach,
  type PickedHeader,
  requireSheet,
  resolveBlock,
  resolveColumns,
  resolveGrowing,
  resolveName,
  resolveWholeSheet,
  trimmedToSheet,
} from './reach.ts';

const area = (reference: string): Area => {
  const parsed = parseReference(reference);
  if (!parsed.ok) throw new Error(reference);
  return parsed.value.area;
};

/** A sheet with every cell of these ranges filled. */
function sheetWith(...references: string[]) {
  const cells = references
    .map(area)
    .flatMap(({ top, left, bottom, right }) =>
      Array.from({ length: bottom - top + 1 }, (_, r) =>
        Array.from({ length: right - left + 1 }, (_, c) => [top + r, left + c] as const),
      ).flat(),
    )
    .sort(([a, b], [c, d]) => a - c || b - d);
  const builder = new OccupancyBuilder();
  for (const [row, column] of cells) builder.add(row, column);
  return builder.build();
}

const told = (warnings: { code: string; area?: Area }[]) =>
  warnings.map(({ code, area: about }) => (about ? `${code} ${formatArea(about)}` : code));

describe('a block', () => {
  const block = { kind: 'block', sheet: 'Counts', area: area('A3:F14') } as const;

  test('takes its range as it is', () => {
    expect(resolveBlock(block, sheetWith('A3:F14'))).toEqual({
      sheet: 'Counts',
      area: area('A3:F14'),
      columns: null,
      warnings: [],
    });
  });

  test('says when data go on below, at once or after an empty row', () => {
    expect(told(resolveBlock(block, sheetWith('A3:F16')).warnings)).toEqual(['data below A15:F16']);
    expect(told(resolveBlock(block, sheetWith('A3:F14', 'B16:C18')).warnings)).toEqual([
      'data below A16:F18',
    ]);
    expect(told(resolveBlock(block, sheetWith('A3:F14', 'B18:C18')).warnings)).toEqual([]);
  });

  test('says the same of data that go on, however far down somebody looked', () => {
    const [near, far] = ['A3:F214', 'A3:F900'].map(
      (filled) => resolveBlock(block, sheetWith(filled)).warnings,
    );
    expect(far).toEqual(near);
    expect(told(far!)).toEqual(['data below A15:F214']);
    expect(far![0]!.message).toContain('rows 15 and on');
  });

  test('of a single cell says nothing of the data below it', () => {
    const cell = { ...block, area: area('C9') };
    expect(resolveBlock(cell, sheetWith('A3:F16')).warnings).toEqual([]);
  });

  test('says by which name of the workbook these are found', () => {
    const cell = { ...block, area: area('C14') };
    const named = (name: string, refersTo: string, hidden = false) => ({
      name,
      refersTo,
      sheet: null,
      hidden,
    });
    const names = [
      named('Elsewhere', 'Notes!$C$14'),
      named('Kept', 'Counts!$C$14', true),
      named('Half', 'Counts!$C$14*0.5'),
      named('Wider', 'Counts!$C$14:$D$14'),
      named('PlantsSet', 'counts!$C$14'),
    ];
    const [warning, ...others] = resolveBlock(cell, sheetWith('A3:F14'), names).warnings;
    expect(others).toEqual([]);
    expect(warning).toMatchObject({ code: 'named', name: { name: 'PlantsSet', sheet: null } });
    const table = [named('Counts', 'Counts!$A$3:$F$14')];
    expect(told(resolveBlock(block, sheetWith('A3:F14'), table).warnings)).toEqual(['named']);
  });

  test('says when columns inside are empty', () => {
    const { warnings } = resolveBlock(block, sheetWith('A3:B14', 'D3:F14'));
    expect(warnings).toMatchObject([
      { code: 'empty column inside', message: 'Empty inside: column C.' },
    ]);
    // Those at the side are none: the table ends before them.
    expect(resolveBlock(block, sheetWith('A3:D14')).warnings).toEqual([]);
  });

  test('says when rows inside are empty', () => {
    expect(told(resolveBlock(block, sheetWith('A3:F8', 'A10:F14')).warnings)).toEqual([
      'empty row inside',
    ]);
  });
});

describe('a growing block', () => {
  const growing = {
    kind: 'growing block',
    sheet: 'Counts',
    header: { row: 3, left: 1, right: 6 },
  } as const;

  test('goes on until the data end, and takes a row put in under them', () => {
    expect(resolveGrowing(growing, sheetWith('A3:F14')).area).toEqual(area('A3:F14'));
    expect(resolveGrowing(growing, sheetWith('A3:F15')).area).toEqual(area('A3:F15'));
  });

  test('goes on over rows that are filled in part', () => {
    expect(resolveGrowing(growing, sheetWith('A3:F10', 'F11:F12')).area).toEqual(area('A3:F12'));
  });

  test('offers a column that has come to stand beside, and does not take it', () => {
    const resolved = resolveGrowing(growing, sheetWith('A3:G14'));
    expect(resolved.area).toEqual(area('A3:F14'));
    expect(told(resolved.warnings)).toEqual(['column beside G3:G14']);
  });

  test('an empty header cell does not end it without a word', () => {
    const gap = resolveGrowing(growing, sheetWith('A3:F14', 'G4:G14', 'H3:H14'));
    expect(told(gap.warnings)).toEqual(['column beside G3:H14']);
    expect(told(resolveGrowing(growing, sheetWith('A3:F14', 'G5:G6')).warnings)).toEqual([
      'column beside G3:G14',
    ]);
  });

  test('tells where its header stands now', () => {
    const moved = { ...growing, header: { ...growing.header, row: 5 } };
    expect(resolveGrowing(moved, sheetWith('A5:F14'), 3).warnings).toMatchObject([
      { code: 'header moved', message: 'The header moved from row 3 to row 5.' },
    ]);
  });

  test('does not take a column that stands apart for one beside', () => {
    expect(resolveGrowing(growing, sheetWith('A3:F14', 'H3:H14')).warnings).toEqual([]);
  });
});

describe('the whole sheet, trimmed', () => {
  const whole = { kind: 'whole sheet', sheet: 'Counts' } as const;

  // Common practice: a whole-sheet link takes everything from A1 to the last used cell, so that one stray cell at J20
  // widens a table of A1:F14 to A1:J20. Ours must not, and must say so.
  test('leaves a stray cell out and says which', () => {
    const resolved = resolveWholeSheet(whole, sheetWith('A1:F14', 'J20'));
    expect(resolved.area).toEqual(area('A1:F14'));
    expect(told(resolved.warnings)).toEqual(['stray cells J20']);
    expect(resolved.warnings[0]!.message).toContain('J20');
  });

  test('leaves a stray cell out of a small table too', () => {
    const resolved = resolveWholeSheet(whole, sheetWith('A1:B4', 'J20'));
    expect(resolved.area).toEqual(area('A1:B4'));
    expect(told(resolved.warnings)).toEqual(['stray cells J20']);
  });

  test('begins where the data begin, not at A1', () => {
    expect(resolveWholeSheet(whole, sheetWith('C5:H20')).area).toEqual(area('C5:H20'));
  });

  test('takes a title above and a note below that belong to the data', () => {
    expect(resolveWholeSheet(whole, sheetWith('A1', 'A3:F14', 'A16')).area).toEqual(area('A1:F16'));
  });

  test('takes a second table, however far, since that is no stray', () => {
    expect(resolveWholeSheet(whole, sheetWith('A1:F14', 'M40:P60')).area).toEqual(area('A1:P60'));
  });

  test('of an empty sheet says so', () => {
    expect(told(resolveWholeSheet(whole, sheetWith()).warnings)).toEqual(['empty']);
  });
});

describe('a name', () => {
  const book = {
    sheets: [
      { name: 'Counts', state: 'visible' as const },
      { name: 'Notes', state: 'visible' as const },
    ],
    names: [
      { name: 'Plots', refersTo: 'Counts!$A$3:$A$14', sheet: null, hidden: false },
      { name: 'Here', refersTo: 'Counts!$B$1', sheet: 'Counts', hidden: false },
      { name: 'Here', refersTo: 'Notes!$B$2', sheet: 'Notes', hidden: false },
      {
        name: 'Moving',
        refersTo: 'OFFSET(Counts!$A$3,0,0,COUNTA(Counts!$A:$A),1)',
        sheet: null,
        hidden: false,
      },
      { name: 'Gone', refersTo: 'Counts!#REF!', sheet: null, hidden: false },
    ],
    tables: [
      {
        name: 'Survival',
        sheet: 'Counts',
        area: area('A3:F15'),
        headerRows: 1,
        totalsRows: 1,
        columns: [],
      },
    ],
  };
  const named = (name: string, sheet: string | null = null) =>
    resolveName({ kind: 'name', name, sheet }, book);

  test('takes the range that it refers to, in any case', () => {
    expect(named('PLOTS')).toMatchObject({ value: { sheet: 'Counts', area: area('A3:A14') } });
  });

  test('is a sheet’s own where that is meant', () => {
    expect(named('Here', 'Notes')).toMatchObject({ value: { sheet: 'Notes', area: area('B2') } });
    expect(named('Here', 'Counts')).toMatchObject({ value: { sheet: 'Counts', area: area('B1') } });
  });

  test('may be a table object', () => {
    expect(named('survival')).toMatchObject({ value: { sheet: 'Counts', area: area('A3:F15') } });
  });

  test.each(['Moving', 'Gone'])('that is a formula cannot be followed: %s', (name) => {
    expect(named(name)).toMatchObject({ ok: false, fault: { code: 'name-not-range' } });
  });

  test('that is gone says which there are', () => {
    const gone = named('Plot');
    expect(gone).toMatchObject({ ok: false, fault: { code: 'name-missing' } });
    if (!gone.ok) expect(gone.fault.hint).toContain('Plots');
  });
});

describe('the header row of a growing block', () => {
  const words = ['Plot', 'Planted', 'Alive'];
  const reach: GrowingReach = {
    kind: 'growing block',
    sheet: 'Counts',
    header: { row: 3, left: 1, right: 3 },
    words,
  };
  const row = (at: number, ...texts: string[]) =>
    texts.map((text, index) => ({ row: at, column: index + 1, text }));

  test('stands where it was while most of its words are there', () => {
    expect(findHeaderRow(reach, row(3, 'Plot', 'Set', 'Alive'))).toEqual({ ok: true, value: 3 });
  });

  test('is found where its words went', () => {
    const cells = [...row(3, 'SC-01', '120', '96'), ...row(5, 'plot ', 'Planted', 'Alive')];
    expect(findHeaderRow(reach, cells)).toEqual({ ok: true, value: 5 });
  });

  test('an empty row is none, and words that are nowhere are missed', () => {
    expect(findHeaderRow(reach, [])).toMatchObject({ fault: { code: 'header-missing' } });
    expect(findHeaderRow({ ...reach, words: undefined }, [])).toMatchObject({
      fault: { message: 'Row 3, where its header stood, is empty now.' },
    });
    expect(findHeaderRow(reach, row(3, 'SC-01', '120', '96'))).toMatchObject({
      fault: { message: expect.stringContaining('Plot, Planted, Alive') },
    });
  });
});

test('whole columns and rows end where what stands in them does', () => {
  const sheet = sheetWith('A3:F14', 'C20:C22');
  const trimmed = (reference: string) => formatArea(trimmedToSheet(area(reference), sheet));
  expect(trimmed('C:C')).toBe('C1:C22');
  expect(trimmed('A:B')).toBe('A1:B14');
  expect(trimmed('4:5')).toBe('A4:F5');
  expect(trimmed('H:H')).toBe('H1');
  expect(trimmed('B2:C30')).toBe('B2:C30');
  const block = { kind: 'block' as const, sheet: 'Counts', area: area('C:C') };
  expect(formatArea(resolveBlock(block, sheet).area)).toBe('C1:C22');
});

describe('picked columns', () => {
  const picked = {
    kind: 'picked columns',
    sheet: 'Counts',
    headerRow: 3,
    columns: ['Surviving', 'Plot'],
  } as const;
  const reach = { ...picked, columns: [...picked.columns] };
  const headers = (row: number, ...texts: string[]) =>
    texts.map((text, index) => ({ row, column: index + 1, text }));

  test('are found by their headers and run until the data end', () => {
    const resolved = resolveColumns(
      reach,
      headers(3, 'Plot', 'Planted', 'Surviving'),
      sheetWith('A3:C9'),
    );
    expect(resolved).toMatchObject({
      value: { area: area('A3:C9'), columns: [1, 3], warnings: [] },
    });
  });

  test('are found again when a column was put in before them, or the header row moved', () => {
    const resolved = resolveColumns(
      reach,
      [...headers(3, 'A title'), ...headers(5, 'Plot', 'Species', 'Planted', ' surviving ')],
      sheetWith('A5:D9'),
    );
    expect(resolved).toMatchObject({ value: { area: area('A5:D9'), columns: [1, 4] } });
    if (resolved.ok) expect(told(resolved.value.warnings)).toEqual(['header moved']);
  });

  test('of several with one header are told apart by their order', () => {
    const cells = headers(3, 'Plot', 'Alive', 'Planted', 'Alive');
    const resolved = (columns: PickedHeader[]) =>
      resolveColumns({ ...reach, columns }, cells, sheetWith('A3:D9'));
    expect(resolved([{ text: 'alive', nth: 2 }])).toMatchObject({ value: { columns: [4] } });
    expect(resolved(['Alive'])).toMatchObject({ value: { columns: [2] } });
    expect(resolved([{ text: 'Alive', nth: 3 }])).toMatchObject({
      fault: { message: expect.stringContaining('Alive (third)') },
    });
  });

  test('say which header is gone and which there are', () => {
    const gone = resolveColumns(reach, headers(3, 'Plot', 'Planted', 'Alive'), sheetWith('A3:C9'));
    expect(gone).toMatchObject({ ok: false, fault: { code: 'column-missing' } });
    if (!gone.ok) {
      expect(gone.fault.message).toContain('Surviving');
      expect(gone.fault.hint).toContain('Alive');
    }
  });
});

test('a sheet is found without regard to case, and a missing one says which there are', () => {
  const sheets = [{ name: 'Counts', state: 'visible' as const }];
  expect(requireSheet(sheets, 'COUNTS')).toEqual({ ok: true, value: sheets[0] });
  const missing = requireSheet(sheets, 'Plots');
  expect(missing).toMatchObject({ ok: false, fault: { code: 'sheet-missing' } });
  if (!missing.ok) expect(missing.fault.hint).toContain('Counts');
});

test('more cells than one object can show are refused', () => {
  const resolved = { sheet: 'Counts', area: area('A1:Z1048576'), columns: null, warnings: [] };
  expect(limitReach(resolved)).toMatchObject({ ok: false, fault: { code: 'reach-too-large' } });
  expect(limitReach({ ...resolved, area: area('A1:Z100000'), columns: [1, 2] })).toMatchObject({
    ok: true,
  });
});

test.each([
  [{ kind: 'block', sheet: 'Drive log', area: area('A4:D9') }, "'Drive log'!A4:D9"],
  [
    { kind: 'growing block', sheet: 'Counts', header: { row: 3, left: 1, right: 6 } },
    'Counts!A3:F3 and below',
  ],
  [{ kind: 'name', name: 'Plots', sheet: null }, 'Plots'],
  [{ kind: 'whole sheet', sheet: 'Counts' }, 'Counts, whole sheet'],
  [
    { kind: 'picked columns', sheet: 'Counts', headerRow: 3, columns: ['Plot', 'Planted'] },
    'Counts: Plot, Planted',
  ],
] as const)('%j is described as %s', (reach, words) => {
  expect(describeReach(reach as Parameters<typeof describeReach>[0])).toBe(words);
});
