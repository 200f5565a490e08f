import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';

/** A column chart of the demo: its texts and cells as references of the workbook. */
export interface DemoChart {
  name: string;
  title: string;
  categories: string;
  series: { name: string; values: string; colour: string }[];
  /** First and last cell it lies over, rows and columns counted from 0. */
  from: { row: number; column: number };
  to: { row: number; column: number };
}

const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const DRAWING = 'http://schemas.openxmlformats.org/drawingml/2006';
const RELATIONSHIPS = 'http://schemas.openxmlformats.org/package/2006/relationships';
const DRAWING_PART = 'xl/drawings/drawing90.xml';
const CHART_PART = 'xl/charts/chart90.xml';

/** The workbook's bytes with a chart on its first sheet, which the library that writes the workbook cannot make. */
export function withChart(workbook: Uint8Array, chart: DemoChart): Uint8Array {
  return addParts(workbook, drawingXml(chart), chartXml(chart));
}

/**
 * What the library that saved `after` lost of `before`: its chart, with the references moved for rows that were put in
 * (`by` 1) or taken out (-1) at `from`.
 */
export function keepChart(
  before: Uint8Array,
  after: Uint8Array,
  moves: readonly { sheet: string; from: number; by: number }[],
): Uint8Array {
  const parts = unzipSync(before);
  if (!parts[DRAWING_PART] || !parts[CHART_PART]) return after;
  let chart = strFromU8(parts[CHART_PART]);
  for (const { sheet, from, by } of moves) {
    chart = chart.replace(/<c:f>([^<]*)<\/c:f>/g, (whole, reference: string) =>
      reference.startsWith(`${sheet}!`)
        ? `<c:f>${reference.replace(/\$(\d+)/g, (_, row: string) => `$${Number(row) + (Number(row) >= from ? by : 0)}`)}</c:f>`
        : whole,
    );
  }
  return addParts(after, strFromU8(parts[DRAWING_PART]), chart);
}

function addParts(workbook: Uint8Array, drawing: string, chart: string): Uint8Array {
  const parts = unzipSync(workbook);
  const sheet = 'xl/worksheets/sheet1.xml';
  const links = 'xl/worksheets/_rels/sheet1.xml.rels';
  const link = `<Relationship Id="rIdDrawing" Type="${OFFICE}/drawing" Target="../drawings/drawing90.xml"/>`;
  const known = parts[links]
    ? strFromU8(parts[links])
    : `<Relationships xmlns="${RELATIONSHIPS}"></Relationships>`;
  parts[links] = strToU8(known.replace('</Relationships>', `${link}</Relationships>`));
  // The drawing stands behind page set-up and in front of comments and tables (ECMA-376 Part 1, 18.3.1.99).
  const xml = strFromU8(parts[sheet]!);
  const at = xml.search(/<(legacyDrawing|tableParts|extLst)|<\/worksheet>/);
  parts[sheet] = strToU8(`${xml.slice(0, at)}<drawing r:id="rIdDrawing"/>${xml.slice(at)}`);
  parts[DRAWING_PART] = strToU8(drawing);
  parts['xl/drawings/_rels/drawing90.xml.rels'] = strToU8(
    `<Relationships xmlns="${RELATIONSHIPS}"><Relationship Id="rId1" Type="${OFFICE}/chart" Target="../charts/chart90.xml"/></Relationships>`,
  );
  parts[CHART_PART] = strToU8(chart);
  const types = strFromU8(parts['[Content_Types].xml']!);
  const kind = 'application/vnd.openxmlformats-officedocument';
  parts['[Content_Types].xml'] = strToU8(
    types.replace(
      '</Types>',
      `<Override PartName="/${DRAWING_PART}" ContentType="${kind}.drawing+xml"/><Override PartName="/${CHART_PART}" ContentType="${kind}.drawingml.chart+xml"/></Types>`,
    ),
  );
  return zipSync(parts);
}

function drawingXml({ name, from, to }: DemoChart): string {
  const corner = (tag: string, { row, column }: { row: number; column: number }) =>
    `<xdr:${tag}><xdr:col>${column}</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:${tag}>`;
  return `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>
<xdr:wsDr xmlns:xdr="${DRAWING}/spreadsheetDrawing" xmlns:a="${DRAWING}/main"><xdr:twoCellAnchor>${corner('from', from)}${corner('to', to)}<xdr:graphicFrame macro=""><xdr:nvGraphicFramePr><xdr:cNvPr id="2" name="${name}"/><xdr:cNvGraphicFramePr/></xdr:nvGraphicFramePr><xdr:xfrm><a:off x="0" y="0"/><a:ext cx="0" cy="0"/></xdr:xfrm><a:graphic><a:graphicData uri="${DRAWING}/chart"><c:chart xmlns:c="${DRAWING}/chart" xmlns:r="${OFFICE}" r:id="rId1"/></a:graphicData></a:graphic></xdr:graphicFrame><xdr:clientData/></xdr:twoCellAnchor></xdr:wsDr>`;
}

function chartXml({ title, categories, series }: DemoChart): string {
  const all = series
    .map(
      (each, index) =>
        `<c:ser><c:idx val="${index}"/><c:order val="${index}"/><c:tx><c:strRef><c:f>${each.name}</c:f></c:strRef></c:tx><c:spPr><a:solidFill><a:srgbClr val="${each.colour}"/></a:solidFill></c:spPr><c:invertIfNegative val="0"/><c:cat><c:strRef><c:f>${categories}</c:f></c:strRef></c:cat><c:val><c:numRef><c:f>${each.values}</c:f></c:numRef></c:val></c:ser>`,
    )
    .join('');
  return `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>
<c:chartSpace xmlns:c="${DRAWING}/chart" xmlns:a="${DRAWING}/main" xmlns:r="${OFFICE}"><c:chart><c:title><c:tx><c:rich><a:bodyPr/><a:p><a:r><a:rPr lang="en-GB"/><a:t>${title}</a:t></a:r></a:p></c:rich></c:tx><c:overlay val="0"/></c:title><c:autoTitleDeleted val="0"/><c:plotArea><c:layout/><c:barChart><c:barDir val="col"/><c:grouping val="clustered"/><c:varyColors val="0"/>${all}<c:gapWidth val="60"/><c:axId val="1001"/><c:axId val="1002"/></c:barChart><c:catAx><c:axId val="1001"/><c:scaling><c:orientation val="minMax"/></c:scaling><c:delete val="0"/><c:axPos val="b"/><c:crossAx val="1002"/></c:catAx><c:valAx><c:axId val="1002"/><c:scaling><c:orientation val="minMax"/><c:min val="0"/></c:scaling><c:delete val="0"/><c:axPos val="l"/><c:majorGridlines/><c:crossAx val="1001"/></c:valAx></c:plotArea><c:legend><c:legendPos val="b"/><c:overlay val="0"/></c:legend><c:plotVisOnly val="1"/></c:chart></c:chartSpace>`;
}
