import { existsSync } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';

const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006/relationships';

/** The generated files that the benchmarks read. */
export interface BenchFiles {
  /** One sheet of 100,000 x 20, some 72 MB of XML. */
  big: string;
  /** 200 workbooks with a sheet of 200 x 10. */
  small: string[];
  /** Delimited text of 100,000 x 10. */
  text: string;
  /** An open document with one sheet of 100,000 x 10, some 95 MB of XML. */
  open: string;
}

/** Makes the files in `folder` once; they are the same every time. */
export async function makeFiles(folder: string): Promise<BenchFiles> {
  await mkdir(join(folder, 'small'), { recursive: true });
  const files: BenchFiles = {
    big: join(folder, 'big.xlsx'),
    small: Array.from({ length: 200 }, (_, n) => join(folder, 'small', `${n}.xlsx`)),
    text: join(folder, 'text.csv'),
    open: join(folder, 'open.ods'),
  };
  if (!existsSync(files.open)) await writeFile(files.open, openDocument(100_000, 10));
  if (existsSync(files.text)) return files;
  await writeFile(files.big, workbook(100_000, 20, 1));
  for (const [n, path] of files.small.entries()) await writeFile(path, workbook(200, 10, n + 2));
  const next = numbersFrom(7);
  const lines = Array.from({ length: 100_000 }, (_, row) =>
    Array.from({ length: 10 }, (_, column) =>
      column === 0 ? `row ${row}` : (next() * 1000).toFixed(2),
    ).join(','),
  );
  await writeFile(files.text, `${lines.join('\r\n')}\r\n`);
  return files;
}

function numbersFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    return state / 0x80000000;
  };
}

/** A workbook with one sheet of texts in its first column and numbers beside them; another seed gives other numbers. */
export function workbook(rows: number, columns: number, seed: number): Uint8Array {
  const next = numbersFrom(seed);
  const parts: string[] = [];
  for (let row = 1; row <= rows; row++) {
    let cells = '';
    for (let column = 0; column < columns; column++) {
      const ref = String.fromCharCode(65 + column) + row;
      if (column === 0) cells += `<c r="${ref}" t="s"><v>${row - 1}</v></c>`;
      else if (column < columns / 2)
        cells += `<c r="${ref}" s="1"><v>${(next() * 10_000).toFixed(2)}</v></c>`;
      else cells += `<c r="${ref}"><v>${Math.floor(next() * 1e6)}</v></c>`;
    }
    parts.push(`<row r="${row}" spans="1:${columns}">${cells}</row>`);
  }
  const link = (id: string, type: string, target: string) =>
    `<Relationship Id="${id}" Type="${OFFICE}/${type}" Target="${target}"/>`;
  const files = {
    '[Content_Types].xml':
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/><Override PartName="/xl/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"/><Override PartName="/xl/sharedStrings.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sharedStrings+xml"/></Types>',
    '_rels/.rels': `<Relationships xmlns="${PACKAGE}">${link('rId1', 'officeDocument', 'xl/workbook.xml')}</Relationships>`,
    'xl/workbook.xml': `<workbook xmlns="${MAIN}" xmlns:r="${OFFICE}"><sheets><sheet name="Data" sheetId="1" r:id="rId1"/></sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `<Relationships xmlns="${PACKAGE}">${link('rId1', 'worksheet', 'worksheets/sheet1.xml')}${link('rId2', 'styles', 'styles.xml')}${link('rId3', 'sharedStrings', 'sharedStrings.xml')}</Relationships>`,
    'xl/styles.xml': `<styleSheet xmlns="${MAIN}"><numFmts count="1"><numFmt numFmtId="164" formatCode="#,##0.00"/></numFmts><fonts count="1"><font><sz val="11"/><name val="Calibri"/></font></fonts><fills count="1"><fill><patternFill patternType="none"/></fill></fills><borders count="1"><border/></borders><cellXfs count="2"><xf/><xf numFmtId="164" applyNumberFormat="1"/></cellXfs></styleSheet>`,
    'xl/worksheets/sheet1.xml': `<worksheet xmlns="${MAIN}"><sheetData>${parts.join('')}</sheetData></worksheet>`,
    'xl/sharedStrings.xml': `<sst xmlns="${MAIN}">${Array.from({ length: rows }, (_, n) => `<si><t>text number ${n}</t></si>`).join('')}</sst>`,
  };
  return zipSync(
    Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])),
  );
}

function openDocument(rows: number, columns: number): Uint8Array {
  const next = numbersFrom(11);
  const parts: string[] = [];
  for (let row = 0; row < rows; row++) {
    let cells = `<table:table-cell office:value-type="string"><text:p>row ${row}</text:p></table:table-cell>`;
    for (let column = 1; column < columns; column++) {
      const value = (next() * 10_000).toFixed(2);
      cells += `<table:table-cell office:value-type="float" office:value="${value}"><text:p>${value}</text:p></table:table-cell>`;
    }
    parts.push(`<table:table-row>${cells}</table:table-row>`);
  }
  const names = 'urn:oasis:names:tc:opendocument:xmlns';
  const spaces = ['office', 'table', 'text', 'style']
    .map((name) => `xmlns:${name}="${names}:${name}:1.0"`)
    .join(' ');
  const manifest = `<manifest:manifest xmlns:manifest="${names}:manifest:1.0"><manifest:file-entry manifest:full-path="/" manifest:media-type="application/vnd.oasis.opendocument.spreadsheet"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>`;
  return zipSync({
    mimetype: [strToU8('application/vnd.oasis.opendocument.spreadsheet'), { level: 0 }],
    'META-INF/manifest.xml': strToU8(manifest),
    'content.xml': strToU8(
      `<office:document-content ${spaces} office:version="1.3"><office:body><office:spreadsheet><table:table table:name="Data">${parts.join('')}</table:table></office:spreadsheet></office:body></office:document-content>`,
    ),
  });
}
