import { strToU8, zipSync } from 'fflate';

/** Work package, granted and spent in pounds. */
const PACKAGES: [string, number, number][] = [
  ['Breach and creek works', 84_000, 81_350],
  ['Planting', 46_500, 39_820],
  ['Boardwalk', 62_000, 41_275],
  ['Sluice repair', 38_000, 40_140],
  ['Monitoring', 27_500, 15_690],
  ['Volunteers and visits', 12_000, 6_245],
];

const NAMES = 'urn:oasis:names:tc:opendocument:xmlns';
const SPACES = `xmlns:office="${NAMES}:office:1.0" xmlns:table="${NAMES}:table:1.0" xmlns:text="${NAMES}:text:1.0" xmlns:style="${NAMES}:style:1.0" xmlns:number="${NAMES}:datastyle:1.0" xmlns:fo="${NAMES}:xsl-fo-compatible:1.0" xmlns:svg="${NAMES}:svg-compatible:1.0" xmlns:of="urn:oasis:names:tc:opendocument:xmlns:of:1.2"`;

/** The grant budget as an OpenDocument spreadsheet (ODF 1.3): granted, spent, balance and share of each work package. */
export function grantBudget(): Uint8Array {
  const type = 'application/vnd.oasis.opendocument.spreadsheet';
  const manifest = `<?xml version="1.0" encoding="UTF-8"?>
<manifest:manifest xmlns:manifest="${NAMES}:manifest:1.0" manifest:version="1.3"><manifest:file-entry manifest:full-path="/" manifest:version="1.3" manifest:media-type="${type}"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/><manifest:file-entry manifest:full-path="styles.xml" manifest:media-type="text/xml"/></manifest:manifest>`;
  return zipSync({
    // First and not packed, so that the file's kind can be told from its beginning (ODF 1.3 Part 2, 3.3).
    mimetype: [strToU8(type), { level: 0 }],
    'META-INF/manifest.xml': strToU8(manifest),
    'styles.xml': strToU8(stylesXml()),
    'content.xml': strToU8(contentXml()),
  });
}

function stylesXml(): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<office:document-styles ${SPACES} office:version="1.3"><office:font-face-decls><style:font-face style:name="Carlito" svg:font-family="Carlito"/></office:font-face-decls><office:styles><style:default-style style:family="table-cell"><style:text-properties style:font-name="Carlito" fo:font-size="11pt"/></style:default-style><style:style style:name="Default" style:family="table-cell"/><style:style style:name="Overspent" style:family="table-cell" style:parent-style-name="Default"><style:text-properties fo:color="#b3261e" fo:font-weight="bold"/></style:style></office:styles></office:document-styles>`;
}

const pounds = (value: number) =>
  `${value < 0 ? '-' : ''}£${Math.abs(value).toLocaleString('en-GB')}`;
const share = (value: number) => `${Math.round(value * 100)}%`;

function text(value: string, style = 'row'): string {
  return `<table:table-cell table:style-name="${style}" office:value-type="string"><text:p>${value}</text:p></table:table-cell>`;
}

function money(value: number, style: string, formula?: string): string {
  const told = formula ? ` table:formula="of:=${formula}"` : '';
  return `<table:table-cell table:style-name="${style}" office:value-type="currency" office:currency="GBP" office:value="${value}"${told}><text:p>${pounds(value)}</text:p></table:table-cell>`;
}

function part(value: number, style: string, formula: string): string {
  return `<table:table-cell table:style-name="${style}" office:value-type="percentage" office:value="${value}" table:formula="of:=${formula}"><text:p>${share(value)}</text:p></table:table-cell>`;
}

function contentXml(): string {
  const first = 5;
  const last = first + PACKAGES.length - 1;
  const rows = PACKAGES.map(([name, granted, spent], index) => {
    const row = first + index;
    return `<table:table-row table:style-name="r1">${text(name)}${money(granted, 'money')}${money(spent, 'money')}${money(granted - spent, 'balance', `[.B${row}]-[.C${row}]`)}${part(spent / granted, 'share', `[.C${row}]/[.B${row}]`)}</table:table-row>`;
  }).join('');
  const [granted, spent] = [1, 2].map((column) =>
    PACKAGES.reduce((sum, each) => sum + (each[column] as number), 0),
  ) as [number, number];
  const end = last + 1;
  const sum = (column: string) => `SUM([.${column}${first}:.${column}${last}])`;
  const total = `<table:table-row table:style-name="r1">${text('Together', 'total')}${money(granted, 'total-money', sum('B'))}${money(spent, 'total-money', sum('C'))}${money(granted - spent, 'total-money', sum('D'))}${part(spent / granted, 'total-share', `[.C${end}]/[.B${end}]`)}</table:table-row>`;
  const header = ['Work package', 'Granted', 'Spent', 'Balance', 'Share spent']
    .map((title, index) => text(title, index === 0 ? 'head' : 'head-right'))
    .join('');
  const line = '<style:table-cell-properties fo:border-bottom="0.5pt solid #c6d2d6"/>';
  const cell = (name: string, inner: string, data = '') =>
    `<style:style style:name="${name}" style:family="table-cell" style:parent-style-name="Default"${data ? ` style:data-style-name="${data}"` : ''}>${inner}</style:style>`;
  const deep =
    '<style:table-cell-properties fo:background-color="#0b4f5c" style:vertical-align="middle"/>';
  const white = '<style:text-properties fo:color="#ffffff" fo:font-weight="bold"/>';
  const sumLine =
    '<style:table-cell-properties fo:background-color="#e3ecef" fo:border-top="1.5pt solid #0b4f5c"/><style:text-properties fo:font-weight="bold"/>';
  return `<?xml version="1.0" encoding="UTF-8"?>
<office:document-content ${SPACES} office:version="1.3"><office:automatic-styles>
<style:style style:name="c1" style:family="table-column"><style:table-column-properties style:column-width="5.2cm"/></style:style>
<style:style style:name="c2" style:family="table-column"><style:table-column-properties style:column-width="2.6cm"/></style:style>
<style:style style:name="c3" style:family="table-column"><style:table-column-properties style:column-width="2.258cm"/></style:style>
<style:style style:name="r1" style:family="table-row"><style:table-row-properties style:row-height="0.53cm"/></style:style>
<style:style style:name="r2" style:family="table-row"><style:table-row-properties style:row-height="0.85cm"/></style:style>
<number:currency-style style:name="gbp-up"><number:currency-symbol>£</number:currency-symbol><number:number number:decimal-places="0" number:min-integer-digits="1" number:grouping="true"/></number:currency-style>
<number:currency-style style:name="gbp"><number:text>-</number:text><number:currency-symbol>£</number:currency-symbol><number:number number:decimal-places="0" number:min-integer-digits="1" number:grouping="true"/><style:map style:condition="value()&gt;=0" style:apply-style-name="gbp-up"/></number:currency-style>
<number:percentage-style style:name="pct"><number:number number:decimal-places="0" number:min-integer-digits="1"/><number:text>%</number:text></number:percentage-style>
${cell('title', '<style:text-properties fo:font-size="14pt" fo:font-weight="bold" fo:color="#0b4f5c"/>')}
${cell('note', '<style:text-properties fo:font-size="10pt" fo:font-style="italic" fo:color="#5b6f77"/>')}
${cell('head', deep + white)}${cell('head-right', `${deep}<style:paragraph-properties fo:text-align="end"/>${white}`)}
${cell('row', line)}${cell('money', line, 'gbp')}${cell('share', line, 'pct')}
${cell('balance', `${line}<style:map style:condition="cell-content()&lt;0" style:apply-style-name="Overspent" style:base-cell-address="Budget.D${first}"/>`, 'gbp')}
${cell('total', sumLine)}${cell('total-money', sumLine, 'gbp')}${cell('total-share', sumLine, 'pct')}
</office:automatic-styles><office:body><office:spreadsheet><table:table table:name="Budget"><table:table-column table:style-name="c1"/><table:table-column table:style-name="c2" table:number-columns-repeated="4"/><table:table-column table:style-name="c3" table:number-columns-repeated="16379"/>
<table:table-row table:style-name="r2">${text('Grant budget, Sallow Creek', 'title')}</table:table-row>
<table:table-row table:style-name="r1">${text('Pounds; spent up to the end of October', 'note')}</table:table-row>
<table:table-row table:style-name="r1"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>
<table:table-row table:style-name="r2">${header}</table:table-row>${rows}${total}
<table:table-row table:style-name="r1" table:number-rows-repeated="1048565"><table:table-cell table:number-columns-repeated="16384"/></table:table-row></table:table>
<table:named-expressions><table:named-range table:name="GrantBudget" table:base-cell-address="$Budget.$A$4" table:cell-range-address="$Budget.$A$4:.$E$${end}"/></table:named-expressions></office:spreadsheet></office:body></office:document-content>`;
}
