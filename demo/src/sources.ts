import { mkdir, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type exceljs from 'exceljs';
import { type DemoChart, withChart } from './charts.ts';
import { grantBudget } from './grant-budget.ts';
import { recalculate } from './recalculate.ts';
import { emptyWorkbook } from './workbook.ts';

/** The source folders of the demo: a name to show and the folder below the place where the demo keeps its files. */
export const DEMO_FOLDERS = [
  { name: 'Monitoring', folder: 'monitoring' },
  { name: 'Works', folder: 'works' },
  { name: 'Finance', folder: 'finance' },
] as const;

const INK = 'FF10242B';
const DEEP_SEA = 'FF0B4F5C';
const MIST = 'FFE3ECEF';
const HAIRLINE: Partial<exceljs.Border> = { style: 'thin', color: { argb: 'FFC6D2D6' } };

/** Plot, species, planted, surviving, cover as a share, day of the count (2026). */
const COUNTS: [string, string, number, number, number, string][] = [
  ['SC-01', 'Common cordgrass', 240, 221, 0.62, '2026-10-05'],
  ['SC-02', 'Common cordgrass', 240, 198, 0.55, '2026-10-05'],
  ['SC-03', 'Sea purslane', 180, 164, 0.48, '2026-10-05'],
  ['SC-04', 'Sea purslane', 180, 97, 0.21, '2026-10-06'],
  ['SC-05', 'Sea aster', 150, 132, 0.37, '2026-10-06'],
  ['SC-06', 'Sea aster', 150, 141, 0.44, '2026-10-06'],
  ['SC-07', 'Sea lavender', 120, 61, 0.12, '2026-10-07'],
  ['SC-08', 'Sea lavender', 120, 88, 0.19, '2026-10-07'],
  ['SC-09', 'Glasswort', 300, 274, 0.71, '2026-10-07'],
  ['SC-10', 'Glasswort', 300, 288, 0.76, '2026-10-08'],
  ['SC-11', 'Sea plantain', 90, 72, 0.25, '2026-10-08'],
  ['SC-12', 'Sea plantain', 90, 79, 0.28, '2026-10-08'],
];

/** Pile, chainage in m, section in mm, length and depth of set in m, day driven (2026), blows for the last 0.25 m. */
const PILES: [string, number, string, number, number, string, number][] = [
  ['P-01', 0, '150 x 150', 4.2, 2.35, '2026-09-14', 18],
  ['P-02', 2.4, '150 x 150', 4.2, 2.41, '2026-09-14', 21],
  ['P-03', 4.8, '150 x 150', 4.2, 2.38, '2026-09-14', 19],
  ['P-04', 7.2, '150 x 150', 4.8, 2.96, '2026-09-15', 16],
  ['P-05', 9.6, '150 x 150', 4.8, 3.05, '2026-09-15', 15],
  ['P-06', 12, '175 x 175', 5.4, 3.62, '2026-09-16', 22],
  ['P-07', 14.4, '175 x 175', 5.4, 3.71, '2026-09-16', 24],
  ['P-08', 16.8, '175 x 175', 5.4, 3.58, '2026-09-17', 23],
  ['P-09', 19.2, '150 x 150', 4.8, 2.88, '2026-09-17', 17],
  ['P-10', 21.6, '150 x 150', 4.2, 2.44, '2026-09-18', 20],
];

/** Writes every source of the demo below `root`, replacing what is there by the same names. */
export async function writeDemoSources(root: string): Promise<void> {
  const files: Record<string, exceljs.Workbook> = {
    'monitoring/planting-counts.xlsx': await plantingCounts(),
    'works/boardwalk-piles.xlsx': await boardwalkPiles(),
  };
  for (const [path, workbook] of Object.entries(files)) {
    const target = join(root, path);
    await mkdir(dirname(target), { recursive: true });
    // A reset replaces whatever a trial left under the name: a folder, a link or a locked file.
    await rm(target, { recursive: true, force: true });
    const bytes = new Uint8Array(await workbook.xlsx.writeBuffer());
    const chart = path === 'monitoring/planting-counts.xlsx' ? survivalChart() : null;
    await writeFile(target, chart ? withChart(bytes, chart) : bytes);
  }
  await writeFile(join(root, 'monitoring/tide-gauge.csv'), tideGauge());
  await writeFile(join(root, 'monitoring/visitor-counts.csv'), visitorCounts());
  const budget = join(root, 'finance/grant-budget.ods');
  await mkdir(dirname(budget), { recursive: true });
  await rm(budget, { recursive: true, force: true });
  await writeFile(budget, grantBudget());
}

/** The tide gauge at the sluice: a week of hourly levels in m, with the spring tide in its middle. */
function tideGauge(): string {
  const lines = ['Time,Level (m),Surge (m)'];
  for (let hour = 0; hour < 168; hour++) {
    const time = new Date(Date.UTC(2026, 8, 25, hour)).toISOString().slice(0, 16).replace('T', ' ');
    // The two chief half-day tides, 12.42 and 12 hours, beat to springs and neaps.
    const moon = 1.62 * Math.cos((2 * Math.PI * (hour - 78)) / 12.42);
    const sun = 0.58 * Math.cos((2 * Math.PI * (hour - 78)) / 12);
    const surge = 0.18 * Math.exp(-(((hour - 80) / 14) ** 2)) + 0.02 * Math.sin(hour / 9);
    lines.push(`${time},${(2.4 + moon + sun + surge).toFixed(2)},${surge.toFixed(2)}`);
  }
  return `${lines.join('\r\n')}\r\n`;
}

/** Visitors on the old embankment, month by month since 2021, as the counter at the gate has them. */
function visitorCounts(): string {
  const lines = ['Month,Visitors'];
  let chance = 20_261_008;
  for (let month = 0; month < 69; month++) {
    const date = new Date(Date.UTC(2021, month, 1)).toISOString().slice(0, 10);
    const season = 330 * Math.cos((2 * Math.PI * ((month % 12) - 6.4)) / 12);
    const holidays = month % 12 === 7 ? 140 : 0;
    // A small generator of the usual kind, so that the figures are the same everywhere.
    chance = (Math.imul(chance, 1_664_525) + 1_013_904_223) >>> 0;
    const weather = (chance / 2 ** 32 - 0.5) * 130;
    lines.push(`${date},${Math.round(520 + 4.1 * month + season + holidays + weather)}`);
  }
  return `${lines.join('\r\n')}\r\n`;
}

async function newWorkbook(): Promise<exceljs.Workbook> {
  const workbook = await emptyWorkbook();
  workbook.creator = 'Brackwater Trust';
  workbook.created = new Date('2026-09-01T09:00:00Z');
  return workbook;
}

function titled(sheet: exceljs.Worksheet, title: string, note: string): void {
  sheet.getCell('A1').value = title;
  sheet.getCell('A1').font = { name: 'Calibri', size: 14, bold: true, color: { argb: DEEP_SEA } };
  sheet.getCell('A2').value = note;
  sheet.getCell('A2').font = {
    name: 'Calibri',
    size: 10,
    italic: true,
    color: { argb: 'FF5B6F77' },
  };
}

function headed(sheet: exceljs.Worksheet, row: number, headers: string[]): void {
  headers.forEach((header, index) => {
    const cell = sheet.getCell(row, index + 1);
    cell.value = header;
    cell.font = { name: 'Calibri', size: 11, bold: true, color: { argb: 'FFFFFFFF' } };
    cell.fill = { type: 'pattern', pattern: 'solid', fgColor: { argb: DEEP_SEA } };
    cell.alignment = {
      horizontal: index < 2 ? 'left' : 'right',
      vertical: 'middle',
      wrapText: true,
    };
  });
  sheet.getRow(row).height = 32;
}

function lined(sheet: exceljs.Worksheet, from: number, to: number, columns: number): void {
  for (let row = from; row <= to; row++) {
    for (let column = 1; column <= columns; column++) {
      const cell = sheet.getCell(row, column);
      cell.border = { bottom: HAIRLINE };
      cell.font ??= { name: 'Calibri', size: 11, color: { argb: INK } };
      if ((row - from) % 2 === 1) {
        cell.fill = { type: 'pattern', pattern: 'solid', fgColor: { argb: 'FFF4F7F8' } };
      }
    }
  }
}

function totalled(sheet: exceljs.Worksheet, row: number, columns: number): void {
  for (let column = 1; column <= columns; column++) {
    const cell = sheet.getCell(row, column);
    cell.font = { name: 'Calibri', size: 11, bold: true, color: { argb: INK } };
    cell.fill = { type: 'pattern', pattern: 'solid', fgColor: { argb: MIST } };
    cell.border = { top: { style: 'medium', color: { argb: DEEP_SEA } } };
  }
}

/** Planted and surviving plants of each plot, beside the table. */
function survivalChart(): DemoChart {
  const last = 4 + COUNTS.length;
  return {
    name: 'Planted and surviving',
    title: 'Planted and surviving',
    categories: `Counts!$A$5:$A$${last}`,
    series: [
      { name: 'Counts!$C$4', values: `Counts!$C$5:$C$${last}`, colour: 'B7C9CE' },
      { name: 'Counts!$D$4', values: `Counts!$D$5:$D$${last}`, colour: '1F7A5C' },
    ],
    from: { row: 3, column: 8 },
    to: { row: 17, column: 16 },
  };
}

async function plantingCounts(): Promise<exceljs.Workbook> {
  const workbook = await newWorkbook();
  const sheet = workbook.addWorksheet('Counts');
  titled(sheet, 'Planting counts, Sallow Creek', 'Autumn round; one row a plot of 10 x 10 m');
  headed(sheet, 4, ['Plot', 'Species', 'Planted', 'Surviving', 'Survival', 'Cover', 'Counted on']);
  const first = 5;
  const last = first + COUNTS.length - 1;
  COUNTS.forEach(([plot, species, planted, surviving, cover, day], index) => {
    const row = first + index;
    sheet.getRow(row).values = [
      plot,
      species,
      planted,
      surviving,
      { formula: `D${row}/C${row}` },
      cover,
      new Date(`${day}T00:00:00Z`),
    ];
  });
  sheet.getRow(last + 1).values = [
    'All plots',
    '',
    { formula: `SUM(C${first}:C${last})` },
    { formula: `SUM(D${first}:D${last})` },
    { formula: `D${last + 1}/C${last + 1}` },
    { formula: `AVERAGE(F${first}:F${last})` },
  ];
  [9, 20, 10, 11, 10, 9, 13].forEach((width, index) => {
    sheet.getColumn(index + 1).width = width;
  });
  for (let row = first; row <= last + 1; row++) {
    for (const column of ['C', 'D']) sheet.getCell(`${column}${row}`).numFmt = '#,##0';
    for (const column of ['E', 'F']) sheet.getCell(`${column}${row}`).numFmt = '0%';
    sheet.getCell(`G${row}`).numFmt = 'd mmm yyyy';
  }
  lined(sheet, first, last, 7);
  totalled(sheet, last + 1, 7);
  sheet.addConditionalFormatting({
    ref: `E${first}:E${last}`,
    rules: [
      {
        type: 'cellIs',
        operator: 'lessThan',
        formulae: ['0.6'],
        priority: 1,
        style: { font: { color: { argb: 'FFB3261E' } } },
      },
    ],
  });
  sheet.addConditionalFormatting({
    ref: `F${first}:F${last}`,
    rules: [
      {
        type: 'colorScale',
        priority: 2,
        cfvo: [{ type: 'min' }, { type: 'max' }],
        color: [{ argb: 'FFF7F3E8' }, { argb: 'FF9CC9A8' }],
      },
    ],
  });
  sheet.getCell(`B${first + 3}`).note = 'Fence mended on 9 October.';
  for (let row = first; row <= last; row++) {
    sheet.getCell(`D${row}`).dataValidation = {
      type: 'whole',
      operator: 'between',
      formulae: [0, 1_000],
      showErrorMessage: true,
      errorTitle: 'Surviving plants',
      error: 'A whole number from 0 to 1,000',
    };
  }
  workbook.definedNames.add(`Counts!$A$4:$G$${last + 1}`, 'PlotCounts');
  // Single figures have names, so that they are found when a plot is put in above them.
  for (const [column, name] of [
    ['C', 'PlantsSet'],
    ['D', 'PlantsSurviving'],
    ['E', 'ShareSurviving'],
  ] as const) {
    workbook.definedNames.add(`Counts!$${column}$${last + 1}`, name);
  }
  const notes = workbook.addWorksheet('Notes');
  titled(notes, 'Notes of the autumn round', 'Kept by the field ecologist');
  notes.getColumn(1).width = 12;
  notes.getColumn(2).width = 70;
  [
    ['SC-04', 'Goose grazing along the northern edge; fence line opened by the September surge.'],
    ['SC-07', 'Silt over a third of the plot after the spring tide of 28 September.'],
    ['SC-10', 'Volunteers counted twice; the second count stands.'],
  ].forEach(([plot, note], index) => {
    notes.getRow(4 + index).values = [plot!, note!];
    notes.getCell(4 + index, 2).alignment = { wrapText: true, vertical: 'top' };
  });
  await recalculate(workbook);
  return workbook;
}

async function boardwalkPiles(): Promise<exceljs.Workbook> {
  const workbook = await newWorkbook();
  const sheet = workbook.addWorksheet('Piles');
  titled(sheet, 'Boardwalk piles, bents 1 to 10', 'Square sawn timber; depths below creek bed');
  headed(sheet, 4, [
    'Pile',
    'Section (mm)',
    'Chainage (m)',
    'Length (m)',
    'Set depth (m)',
    'Stand-up (m)',
    'Driven on',
  ]);
  const first = 5;
  const last = first + PILES.length - 1;
  PILES.forEach(([pile, chainage, section, length, depth, day], index) => {
    const row = first + index;
    sheet.getRow(row).values = [
      pile,
      section,
      chainage,
      length,
      depth,
      { formula: `D${row}-E${row}` },
      new Date(`${day}T00:00:00Z`),
    ];
    for (const column of ['C', 'D', 'E', 'F']) sheet.getCell(`${column}${row}`).numFmt = '0.00';
    sheet.getCell(`G${row}`).numFmt = 'd mmm yyyy';
  });
  sheet.getRow(last + 1).values = ['Together', '', '', { formula: `SUM(D${first}:D${last})` }];
  sheet.getCell(`D${last + 1}`).numFmt = '0.00';
  [9, 13, 12, 11, 12, 12, 12].forEach((width, index) => {
    sheet.getColumn(index + 1).width = width;
  });
  lined(sheet, first, last, 7);
  totalled(sheet, last + 1, 7);

  const log = workbook.addWorksheet('Drive log');
  titled(log, 'Drive log', 'Blows of the 120 kg drop weight for the last 0.25 m');
  headed(log, 4, ['Pile', 'Driven on', 'Blows', 'Accepted']);
  PILES.forEach(([pile, , , , , day, blows], index) => {
    log.getRow(5 + index).values = [pile, new Date(`${day}T00:00:00Z`), blows, blows >= 16];
    log.getCell(5 + index, 2).numFmt = 'd mmm yyyy';
  });
  [10, 14, 10, 12].forEach((width, index) => {
    log.getColumn(index + 1).width = width;
  });
  lined(log, 5, 4 + PILES.length, 4);
  await recalculate(workbook);
  return workbook;
}
