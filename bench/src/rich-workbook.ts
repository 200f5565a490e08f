import exceljs from 'exceljs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';

const SHEETS = ['Counts', 'Plots', 'Costs', 'Notes'];
const ROWS = 60;

/** A dot: the smallest picture there is. */
const PICTURE =
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';

/**
 * A workbook as people have them, in some thirty parts: four sheets with a table, formulas that rest on each other, conditional
 * formats, checks, names, notes, texts in several looks, a picture and four charts.
 */
export async function richWorkbook(): Promise<Uint8Array> {
  const book = new exceljs.Workbook();
  for (const name of SHEETS) addSheet(book, name);
  book.definedNames.add('Counts!$B$2:$B$61', 'Planted');
  book.definedNames.add('Costs!$B$2:$B$61', 'Spent');
  return withCharts(new Uint8Array(await book.xlsx.writeBuffer()));
}

function addSheet(book: exceljs.Workbook, name: string): void {
  const sheet = book.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] });
  const row = (at: number) => [`${name} ${at}`, 200 + at, 150 + at, at * 1.5];
  sheet.addTable({
    name: `Table${name}`,
    ref: 'A1',
    headerRow: true,
    columns: ['Plot', 'Planted', 'Surviving', 'Area'].map((each) => ({ name: each })),
    rows: Array.from({ length: ROWS }, (_, at) => row(at + 1)),
  });
  let sum = 0;
  for (let at = 2; at <= ROWS + 1; at++) {
    sum += 149 + at;
    sheet.getCell(`E${at}`).value = {
      formula: `C${at}/B${at}`,
      result: (149 + at) / (199 + at),
    };
    sheet.getCell(`F${at}`).value = {
      formula: at === 2 ? 'C2' : `F${at - 1}+C${at}`,
      result: sum,
    };
  }
  sheet.getCell('H1').value = { formula: `F${ROWS + 1}`, result: sum };
  sheet.getCell('H2').value = {
    richText: [{ text: 'Counted ' }, { text: 'twice', font: { bold: true } }],
  };
  sheet.getCell('B3').note = 'By boat';
  sheet.getColumn('E').numFmt = '0.0 %';
  sheet.addConditionalFormatting({
    ref: `E2:E${ROWS + 1}`,
    rules: [
      {
        type: 'cellIs',
        operator: 'lessThan',
        formulae: [0.8],
        priority: 1,
        style: { font: { color: { argb: 'FFB00020' } } },
      },
    ],
  });
  sheet.getCell('C3').dataValidation = {
    type: 'whole',
    operator: 'between',
    formulae: [0, '$B3'],
  };
  const image = book.addImage({ base64: PICTURE, extension: 'png' });
  sheet.addImage(image, { tl: { col: 9, row: 1 }, ext: { width: 80, height: 60 } });
}

/** The library that made it knows no charts: one for each sheet is put into its drawing. */
function withCharts(bytes: Uint8Array): Uint8Array {
  const parts = unzipSync(bytes);
  const put = (name: string, text: string) => {
    parts[name] = strToU8(text);
  };
  let types = strFromU8(parts['[Content_Types].xml']!);
  for (const [index, sheet] of SHEETS.entries()) {
    const nth = index + 1;
    put(`xl/charts/chart${nth}.xml`, chart(sheet));
    const drawing = strFromU8(parts[`xl/drawings/drawing${nth}.xml`]!);
    put(
      `xl/drawings/drawing${nth}.xml`,
      drawing.replace('</xdr:wsDr>', () => `${frame(nth)}</xdr:wsDr>`),
    );
    const links = `xl/drawings/_rels/drawing${nth}.xml.rels`;
    put(
      links,
      strFromU8(parts[links]!).replace(
        '</Relationships>',
        `<Relationship Id="rIdC" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/chart" Target="../charts/chart${nth}.xml"/></Relationships>`,
      ),
    );
    types = types.replace(
      '</Types>',
      `<Override PartName="/xl/charts/chart${nth}.xml" ContentType="application/vnd.openxmlformats-officedocument.drawingml.chart+xml"/></Types>`,
    );
  }
  put('[Content_Types].xml', types);
  return zipSync(parts);
}

function frame(nth: number): string {
  return `<xdr:twoCellAnchor><xdr:from><xdr:col>9</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>6</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:from><xdr:to><xdr:col>16</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>22</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:to><xdr:graphicFrame macro=""><xdr:nvGraphicFramePr><xdr:cNvPr id="${nth + 10}" name="Chart ${nth}"/><xdr:cNvGraphicFramePr/></xdr:nvGraphicFramePr><xdr:xfrm><a:off x="0" y="0"/><a:ext cx="0" cy="0"/></xdr:xfrm><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/chart"><c:chart xmlns:c="http://schemas.openxmlformats.org/drawingml/2006/chart" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" r:id="rIdC"/></a:graphicData></a:graphic></xdr:graphicFrame><xdr:clientData/></xdr:twoCellAnchor>`;
}

function chart(sheet: string): string {
  const points = Array.from(
    { length: ROWS },
    (_, at) => `<c:pt idx="${at}"><c:v>${151 + at}</c:v></c:pt>`,
  ).join('');
  return `<c:chartSpace xmlns:c="http://schemas.openxmlformats.org/drawingml/2006/chart" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"><c:chart><c:plotArea><c:layout/><c:barChart><c:barDir val="col"/><c:grouping val="clustered"/><c:ser><c:idx val="0"/><c:order val="0"/><c:val><c:numRef><c:f>${sheet}!$C$2:$C$${ROWS + 1}</c:f><c:numCache><c:formatCode>General</c:formatCode><c:ptCount val="${ROWS}"/>${points}</c:numCache></c:numRef></c:val></c:ser><c:axId val="1"/><c:axId val="2"/></c:barChart><c:catAx><c:axId val="1"/><c:scaling/><c:axPos val="b"/><c:crossAx val="2"/></c:catAx><c:valAx><c:axId val="2"/><c:scaling/><c:axPos val="l"/><c:crossAx val="1"/></c:valAx></c:plotArea></c:chart></c:chartSpace>`;
}
