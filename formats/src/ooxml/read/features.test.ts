import { describe, expect, test } from '@jest/globals';
import { type Area, chartData, parseReference, type Snapshot } from '@tether/core';
import exceljs from 'exceljs';
import { openSource } from '../../open-source.ts';
import type { OpenSource } from '../../source.ts';
import { buildWorkbook, type FixtureParts, writeFixture } from '../workbook.fixture.ts';
import { CHANGE } from './styles.ts';

const area = (text: string): Area => {
  const parsed = parseReference(text);
  if (!parsed.ok) throw new Error(text);
  return parsed.value.area;
};

async function opened(bytes: Uint8Array): Promise<OpenSource> {
  const source = await openSource(await writeFixture(bytes));
  if (!source.ok) throw new Error(source.fault.message);
  return source.value;
}

async function written(
  fill: (sheet: exceljs.Worksheet, book: exceljs.Workbook) => void,
): Promise<OpenSource> {
  const book = new exceljs.Workbook();
  fill(book.addWorksheet('Counts'), book);
  return opened(new Uint8Array(await book.xlsx.writeBuffer()));
}

async function read(source: OpenSource, reference: string, sheet = 'Counts'): Promise<Snapshot> {
  const snapshot = await source.readArea(sheet, area(reference));
  await source.close();
  if (!snapshot.ok) throw new Error(snapshot.fault.message);
  return snapshot.value;
}

const fillOf = (snapshot: Snapshot, row: number) => {
  const cell = snapshot.cells.find((each) => each.row === row);
  return cell?.dress === undefined ? undefined : snapshot.dresses[cell.dress]!.fill;
};

describe('formulas that cells share', () => {
  const rows = (from: number, to: number) =>
    Array.from({ length: to - from + 1 }, (_, index) => {
      const row = from + index;
      const formula =
        row === 2 ? '<f t="shared" ref="C2:C9" si="0">A2*$B$1+C1</f>' : '<f t="shared" si="0"/>';
      return `<row r="${row}"><c r="A${row}"><v>${row}</v></c><c r="C${row}">${formula}<v>1</v></c></row>`;
    }).join('');
  const parts: FixtureParts = {
    sheets: {
      Counts: `<sheetData><row r="1"><c r="B1"><v>3</v></c></row>${rows(2, 9)}</sheetData>`,
    },
  };

  test('each has its own', async () => {
    const snapshot = await read(await opened(buildWorkbook(parts)), 'C2:C4');
    expect(snapshot.cells.map(({ formula }) => formula)).toEqual([
      'A2*$B$1+C1',
      'A3*$B$1+C2',
      'A4*$B$1+C3',
    ]);
  });
  test('also where the first of them stands above what is read', async () => {
    const snapshot = await read(await opened(buildWorkbook(parts)), 'C7:C8');
    expect(snapshot.cells.map(({ formula }) => formula)).toEqual(['A7*$B$1+C6', 'A8*$B$1+C7']);
  });
  test('one whose first is nowhere has none, and keeps its value', async () => {
    const lost = {
      sheets: {
        Counts:
          '<sheetData><row r="5"><c r="A5"><f t="shared" si="3"/><v>4</v></c></row></sheetData>',
      },
    };
    const snapshot = await read(await opened(buildWorkbook(lost)), 'A5');
    expect(snapshot.cells[0]).toMatchObject({ value: 4 });
    expect(snapshot.cells[0]).not.toHaveProperty('formula');
  });
});

describe('rich text (ECMA-376 Part 1, 18.4)', () => {
  test('parts keep their letters, and the whole is the value', async () => {
    const source = await written((sheet) => {
      sheet.getCell('A1').value = {
        richText: [
          { text: 'Salt ' },
          {
            text: 'marsh',
            font: { bold: true, color: { argb: 'FF1F7A5C' }, size: 14, name: 'Arial' },
          },
          { text: '2', font: { vertAlign: 'superscript' } },
        ],
      };
      sheet.getCell('A2').value = 'plain';
    });
    const [rich, plain] = (await read(source, 'A1:A2')).cells;
    expect(rich).toMatchObject({
      type: 'text',
      value: 'Salt marsh2',
      runs: [
        { text: 'Salt ' },
        { text: 'marsh', letters: { family: 'Arial', size: 14, bold: true, colour: '#1F7A5C' } },
        { text: '2', shift: 'super' },
      ],
    });
    expect(plain).not.toHaveProperty('runs');
  });
  test('without the look only the text is read', async () => {
    const source = await written((sheet) => {
      sheet.getCell('A1').value = {
        richText: [{ text: 'a' }, { text: 'b', font: { bold: true } }],
      };
    });
    const snapshot = await source.readArea('Counts', area('A1'), { look: false });
    await source.close();
    expect(snapshot).toMatchObject({ value: { cells: [{ value: 'ab' }] } });
    if (snapshot.ok) expect(snapshot.value.cells[0]).not.toHaveProperty('runs');
  });
});

describe('what is tied to cells', () => {
  test('notes and links, outside and within', async () => {
    const source = await written((sheet) => {
      sheet.getCell('A1').value = { text: 'Map', hyperlink: 'https://example.org/map' };
      sheet.getCell('A2').value = 'Counted twice';
      sheet.getCell('A2').note = 'By both wardens';
      sheet.getCell('A3').value = { text: 'Totals', hyperlink: '#Counts!A1' };
    });
    const snapshot = await read(source, 'A1:A3');
    expect(snapshot.cells[0]).toMatchObject({ value: 'Map', link: 'https://example.org/map' });
    expect(snapshot.cells[1]).toMatchObject({ note: 'By both wardens' });
    expect(snapshot.cells[2]).toMatchObject({ link: '#Counts!A1' });
  });

  test('a talk with answers goes before the note that stands in for it', async () => {
    const bytes = buildWorkbook({
      sheets: { Counts: '<sheetData><row r="1"><c r="A1"><v>1</v></c></row></sheetData>' },
      parts: {
        'xl/worksheets/_rels/sheet1.xml.rels': `<Relationships>
          <Relationship Id="a" Type="http://x/comments" Target="../comments1.xml"/>
          <Relationship Id="b" Type="http://y/threadedComment" Target="/xl/threads.xml"/></Relationships>`,
        'xl/comments1.xml':
          '<comments><authors><author/></authors><commentList><comment ref="A1" authorId="0"><text><t>[Talk]</t></text></comment></commentList></comments>',
        'xl/threads.xml':
          '<ThreadedComments><threadedComment ref="A1"><text>Is this right?</text></threadedComment><threadedComment ref="A1"><text>Yes.</text></threadedComment></ThreadedComments>',
      },
    });
    expect((await read(await opened(bytes), 'A1')).cells[0]).toMatchObject({
      note: 'Is this right?\nYes.',
    });
  });

  test('checks on entries, protection and conditional formats are told of a sheet', async () => {
    const source = await written((sheet) => {
      sheet.getCell('B2').dataValidation = {
        type: 'list',
        allowBlank: true,
        formulae: ['"yes,no, later"'],
      };
      sheet.getCell('B3').dataValidation = {
        type: 'whole',
        operator: 'between',
        formulae: [0, '$A$1'],
        showErrorMessage: true,
        errorTitle: 'Count',
        error: 'From 0 to planted',
      };
      sheet.addConditionalFormatting({
        ref: 'A1:A9',
        rules: [{ type: 'expression', priority: 1, formulae: ['OFFSET(A1,0,1)>1'], style: {} }],
      });
      void sheet.protect('reed', {});
    });
    const rules = await source.readRules('counts');
    await source.close();
    expect(rules).toEqual({
      ok: true,
      value: {
        protection: { isProtected: true, hasPassword: true },
        validations: [
          {
            areas: [area('B2')],
            kind: 'list',
            comparison: 'between',
            operands: ['yes', 'no', 'later'],
            allowsBlank: true,
            message: null,
          },
          {
            areas: [area('B3')],
            kind: 'whole',
            comparison: 'between',
            operands: ['0', '$A$1'],
            allowsBlank: false,
            message: 'Count: From 0 to planted',
          },
        ],
        conditions: { count: 1, unknown: ['OFFSET'] },
        oddities: [],
      },
    });
  });
});

describe('conditional formats, from the file to the dress', () => {
  const numbers = (sheet: exceljs.Worksheet) => {
    for (let row = 1; row <= 6; row++) sheet.getCell(row, 1).value = row * 10;
    sheet.getCell('C1').value = 35;
  };
  const red = {
    fill: { type: 'pattern', pattern: 'solid', bgColor: { argb: 'FFF4CCCC' } },
    font: { bold: true },
  } as exceljs.Style;
  const dressedBy = async (rule: object, reference = 'A1:A6') => {
    const source = await written((sheet) => {
      numbers(sheet);
      sheet.addConditionalFormatting({
        ref: 'A1:A6',
        rules: [{ priority: 1, style: red, ...rule } as exceljs.ConditionalFormattingRule],
      });
    });
    const snapshot = await read(source, reference);
    return snapshot.cells
      .filter(({ row }) => fillOf(snapshot, row) === '#F4CCCC')
      .map(({ row }) => row);
  };

  test.each([
    ['a value', { type: 'cellIs', operator: 'greaterThan', formulae: [35] }, [4, 5, 6]],
    ['another cell', { type: 'cellIs', operator: 'lessThan', formulae: ['$C$1'] }, [1, 2, 3]],
    ['a formula', { type: 'expression', formulae: ['MOD(A1,20)=0'] }, [2, 4, 6]],
    ['the top', { type: 'top10', rank: 2, percent: false, bottom: false }, [5, 6]],
    ['the bottom', { type: 'top10', rank: 1, percent: false, bottom: true }, [1]],
    ['the average', { type: 'aboveAverage', aboveAverage: false }, [1, 2, 3]],
  ])('by %s', async (_, rule, rows) => expect(await dressedBy(rule)).toEqual(rows));

  test('what a part of the range shows depends on the whole of it', async () => {
    // The largest two of A1:A6 are not among the first three.
    expect(
      await dressedBy({ type: 'top10', rank: 2, percent: false, bottom: false }, 'A1:A3'),
    ).toEqual([]);
  });

  test('scales, bars and icons', async () => {
    const source = await written((sheet) => {
      numbers(sheet);
      sheet.addConditionalFormatting({
        ref: 'A1:A6',
        rules: [
          {
            type: 'colorScale',
            priority: 1,
            cfvo: [{ type: 'min' }, { type: 'max' }],
            color: [{ argb: 'FFFFFFFF' }, { argb: 'FF000000' }],
          },
          {
            type: 'iconSet',
            priority: 2,
            iconSet: '3TrafficLights1',
            cfvo: [
              { type: 'percent', value: 0 },
              { type: 'percent', value: 33 },
              { type: 'percent', value: 67 },
            ],
          },
          {
            type: 'dataBar',
            priority: 3,
            gradient: false,
            cfvo: [{ type: 'min' }, { type: 'max' }],
            color: { argb: 'FF638EC6' },
            minLength: 0,
            maxLength: 100,
          } as unknown as exceljs.ConditionalFormattingRule,
        ],
      });
    });
    const snapshot = await read(source, 'A1:A6');
    expect([1, 6].map((row) => fillOf(snapshot, row))).toEqual(['#FFFFFF', '#000000']);
    expect(snapshot.cells.map(({ icon }) => icon?.index)).toEqual([0, 0, 1, 1, 2, 2]);
    expect(snapshot.cells.map(({ bar }) => bar?.to)).toEqual([0, 0.2, 0.4, 0.6, 0.8, 1]);
  });

  test('a rule of the extension list looks at another sheet', async () => {
    const bytes = buildWorkbook({
      sheets: {
        Counts: `<sheetData><row r="1"><c r="A1"><v>5</v></c></row></sheetData>
          <extLst><ext uri="{78C0D931-6437-407d-A8EE-F0AAD7539E65}"><x14:conditionalFormattings xmlns:x14="x" xmlns:xm="y">
          <x14:conditionalFormatting><x14:cfRule type="cellIs" operator="greaterThan" priority="1" id="{1}">
          <xm:f>Limits!$A$1</xm:f><x14:${CHANGE.element}><fill><patternFill><bgColor rgb="FF00FF00"/></patternFill></fill></x14:${CHANGE.element}></x14:cfRule>
          <xm:sqref>A1:A3</xm:sqref></x14:conditionalFormatting></x14:conditionalFormattings></ext></extLst>`,
        Limits: '<sheetData><row r="1"><c r="A1"><v>4</v></c></row></sheetData>',
      },
    });
    const snapshot = await read(await opened(bytes), 'A1:A3');
    expect(fillOf(snapshot, 1)).toBe('#00FF00');
  });
});

describe('charts', () => {
  const chartPart = `<c:chartSpace xmlns:c="c" xmlns:a="a"><c:chart>
    <c:title><c:tx><c:rich><a:p><a:r><a:t>Survival by plot</a:t></a:r></a:p></c:rich></c:tx></c:title>
    <c:plotArea>
      <c:barChart><c:barDir val="col"/><c:grouping val="stacked"/>
        <c:ser><c:idx val="0"/><c:tx><c:strRef><c:f>Counts!$B$1</c:f><c:strCache><c:pt idx="0"><c:v>stale</c:v></c:pt></c:strCache></c:strRef></c:tx>
          <c:spPr><a:solidFill><a:srgbClr val="0b4f5c"/></a:solidFill></c:spPr>
          <c:cat><c:strRef><c:f>Counts!$A$2:$A$4</c:f></c:strRef></c:cat>
          <c:val><c:numRef><c:f>Counts!$B$2:$B$4</c:f><c:numCache><c:pt idx="0"><c:v>999</c:v></c:pt></c:numCache></c:numRef></c:val></c:ser>
        <c:axId val="1"/><c:axId val="2"/></c:barChart>
      <c:lineChart><c:grouping val="standard"/>
        <c:ser><c:idx val="1"/><c:tx><c:v>Cover</c:v></c:tx><c:marker><c:symbol val="none"/></c:marker>
          <c:val><c:numRef><c:f>Counts!$C$2:$C$4</c:f></c:numRef></c:val><c:smooth val="1"/></c:ser>
        <c:axId val="3"/><c:axId val="4"/></c:lineChart>
      <c:surfaceChart/>
      <c:catAx><c:axId val="1"/><c:scaling/><c:title><c:tx><c:rich><a:p><a:r><a:t>Plot</a:t></a:r></a:p></c:rich></c:tx></c:title></c:catAx>
      <c:valAx><c:axId val="2"/><c:scaling><c:max val="300"/><c:min val="0"/></c:scaling><c:majorGridlines/><c:numFmt formatCode="0" sourceLinked="0"/></c:valAx>
      <c:catAx><c:axId val="3"/><c:delete val="1"/></c:catAx>
      <c:valAx><c:axId val="4"/><c:crosses val="max"/><c:numFmt formatCode="0%" sourceLinked="1"/></c:valAx>
    </c:plotArea><c:legend><c:legendPos val="b"/></c:legend></c:chart></c:chartSpace>`;
  const drawing = `<xdr:wsDr xmlns:xdr="x" xmlns:a="a"><xdr:twoCellAnchor><xdr:from><xdr:col>4</xdr:col><xdr:colOff>10</xdr:colOff><xdr:row>1</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:from>
    <xdr:to><xdr:col>9</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>14</xdr:row><xdr:rowOff>5</xdr:rowOff></xdr:to>
    <xdr:graphicFrame><xdr:nvGraphicFramePr><xdr:cNvPr id="2" name="Survival"/></xdr:nvGraphicFramePr><a:graphic><a:graphicData><c:chart xmlns:c="c" xmlns:r="r" r:id="rId1"/></a:graphicData></a:graphic></xdr:graphicFrame></xdr:twoCellAnchor></xdr:wsDr>`;
  const relationship = (type: string, target: string) =>
    `<Relationships><Relationship Id="rId1" Type="http://x/${type}" Target="${target}"/></Relationships>`;
  const text = (value: string) => `<c t="inlineStr"><is><t>${value}</t></is></c>`;
  const bytes = () =>
    buildWorkbook({
      sheets: {
        Counts: `<sheetData><row r="1">${text('Plot')}${text('Alive')}${text('Cover')}</row>
          <row r="2">${text('SC-01')}<c><v>221</v></c><c><v>0.6</v></c></row>
          <row r="3" hidden="1">${text('SC-02')}<c><v>198</v></c><c><v>0.5</v></c></row>
          <row r="4">${text('SC-03')}<c/><c><v>0.4</v></c></row></sheetData><drawing r:id="rId1"/>`,
      },
      parts: {
        'xl/worksheets/_rels/sheet1.xml.rels': relationship('drawing', '../drawings/drawing1.xml'),
        'xl/drawings/drawing1.xml': drawing,
        'xl/drawings/_rels/drawing1.xml.rels': relationship('chart', '/xl/charts/chart1.xml'),
        'xl/charts/chart1.xml': chartPart,
      },
    });

  test('are read as a model', async () => {
    const source = await opened(bytes());
    const charts = await source.readCharts();
    await source.close();
    if (!charts.ok) throw new Error(charts.fault.message);
    expect(charts.value).toHaveLength(1);
    expect(charts.value[0]).toMatchObject({
      id: 'Counts/1',
      name: 'Survival by plot',
      sheet: 'Counts',
      place: area('E2:I15'),
      title: { text: 'Survival by plot' },
      legend: 'bottom',
      unknown: ['surface'],
      groups: [
        {
          kind: 'column',
          stacking: 'stacked',
          isSecondary: false,
          series: [
            {
              name: { cells: { sheet: 'Counts', areas: [area('B1')] } },
              categories: { sheet: 'Counts', areas: [area('A2:A4')] },
              values: { sheet: 'Counts', areas: [area('B2:B4')] },
              colour: '#0B4F5C',
            },
          ],
        },
        {
          kind: 'line',
          isSecondary: true,
          series: [{ name: { text: 'Cover' }, isSmooth: true, hasMarkers: false }],
        },
      ],
      axes: [
        { role: 'category', title: { text: 'Plot' }, isHidden: false },
        { role: 'value', min: 0, max: 300, hasGrid: true, format: '0' },
        { role: 'category', isHidden: true },
        { role: 'second value', format: null },
      ],
    });
  });

  test('draw what the cells hold now, not what the chart kept; hidden rows are out', async () => {
    const source = await opened(bytes());
    const charts = await source.readCharts();
    const counts = await source.readArea('Counts', area('A1:C4'));
    await source.close();
    if (!charts.ok || !counts.ok) throw new Error('not read');
    const { cells } = counts.value;
    const data = chartData(charts.value[0]!, (_, wanted) => ({
      ...counts.value,
      area: wanted,
      cells: cells.filter(
        (cell) =>
          cell.row >= wanted.top &&
          cell.row <= wanted.bottom &&
          cell.column >= wanted.left &&
          cell.column <= wanted.right,
      ),
    }));
    expect(data).toMatchObject({ title: 'Survival by plot', labels: ['SC-01', 'SC-03'] });
    expect(
      data.groups.map(({ series }) => series.map(({ name, values }) => [name, values])),
    ).toEqual([[['Alive', [221, null]]], [['Cover', [0.6, 0.4]]]]);
    expect(data.warnings).toEqual(['A part of it (surface) is of a kind that is not drawn here.']);
  });

  test('a sheet that is a chart has no cells, and its chart is there', async () => {
    const book = buildWorkbook({
      sheets: { Counts: '<sheetData/>', Graph: '<x/>' },
      parts: {
        'xl/_rels/workbook.xml.rels': `<Relationships>
          <Relationship Id="rId1" Type="http://x/worksheet" Target="worksheets/sheet1.xml"/>
          <Relationship Id="rId2" Type="http://x/chartsheet" Target="chartsheets/sheet1.xml"/></Relationships>`,
        'xl/chartsheets/sheet1.xml': '<chartsheet><drawing id="rId1"/></chartsheet>',
        'xl/chartsheets/_rels/sheet1.xml.rels': relationship('drawing', '../drawings/drawing1.xml'),
        'xl/drawings/drawing1.xml': drawing,
        'xl/drawings/_rels/drawing1.xml.rels': relationship('chart', '/xl/charts/chart1.xml'),
        'xl/charts/chart1.xml': chartPart,
      },
    });
    const source = await opened(book);
    expect(source.sheets.map(({ name }) => name)).toEqual(['Counts']);
    expect(await source.readArea('Graph', area('A1'))).toMatchObject({
      fault: { code: 'sheet-missing' },
    });
    expect(await source.readCharts()).toMatchObject({ value: [{ id: 'Graph/1', place: null }] });
    await source.close();
  });
});

test('a large sheet that is scrolled through reads the same in pieces, down and up', async () => {
  let rows = '';
  for (let row = 1; row <= 60_000; row++) {
    rows += `<row r="${row}"><c r="A${row}"><v>${row}</v></c><c r="C${row}" t="inlineStr"><is><t>row ${row} of the sheet</t></is></c></row>`;
  }
  const path = await writeFixture(
    buildWorkbook({
      sheets: {
        Counts: `<sheetData>${rows}</sheetData><mergeCells><mergeCell ref="A59999:B60000"/></mergeCells>`,
      },
    }),
  );
  const source = await openSource(path, 'book.xlsx', { isBrowsed: true });
  if (!source.ok) throw new Error(source.fault.message);
  for (const top of [1, 101, 30_001, 30_101, 59_901, 201, 59_901, 1]) {
    const piece = await source.value.readArea('Counts', {
      top,
      left: 1,
      bottom: top + 99,
      right: 3,
    });
    if (!piece.ok) throw new Error(piece.fault.message);
    expect(piece.value.cells.map(({ row, column, value }) => [row, column, value])).toEqual(
      Array.from({ length: 100 }, (_, at) => [
        [top + at, 1, top + at],
        [top + at, 3, `row ${top + at} of the sheet`],
      ]).flat(),
    );
    expect(piece.value.merges).toHaveLength(top === 59_901 ? 1 : 0);
  }
  await source.value.close();
});
