import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll } from '@jest/globals';
import { strToU8, type ZipOptions, zipSync } from 'fflate';
import { PACKED_ON } from '../package/packed-on.fixture.ts';

const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006/relationships';

/** Parts of a small workbook for tests, by name; a sheet's XML is what stands inside `worksheet`. */
export interface FixtureParts {
  /** Inside of the `worksheet` element of each sheet. */
  sheets?: Record<string, string>;
  /** Inside of the `styleSheet` element. */
  styles?: string;
  /** Inside of the `sst` element. */
  strings?: string;
  theme?: string;
  /** Inside of the `workbook` element, in front of `sheets` and behind it. */
  beforeSheets?: string;
  afterSheets?: string;
  /** Parts to add or replace, by full name; null leaves one out. */
  parts?: Record<string, string | null>;
}

/** The bytes of a workbook made of these parts. */
export function buildWorkbook(fixture: FixtureParts, options: ZipOptions = {}): Uint8Array {
  const { sheets = { Sheet1: '<sheetData/>' }, parts = {} } = fixture;
  const names = Object.keys(sheets);
  const link = (id: string, type: string, target: string) =>
    `<Relationship Id="${id}" Type="${OFFICE}/${type}" Target="${target}"/>`;
  const all: Record<string, string | null> = {
    '[Content_Types].xml':
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
    '_rels/.rels': `<Relationships xmlns="${PACKAGE}">${link('rId1', 'officeDocument', 'xl/workbook.xml')}</Relationships>`,
    'xl/workbook.xml': `<workbook xmlns="${MAIN}" xmlns:r="${OFFICE}">${fixture.beforeSheets ?? ''}<sheets>${names
      .map((name, index) => `<sheet name="${name}" sheetId="${index + 1}" r:id="rId${index + 1}"/>`)
      .join('')}</sheets>${fixture.afterSheets ?? ''}</workbook>`,
    'xl/_rels/workbook.xml.rels': `<Relationships xmlns="${PACKAGE}">${names
      .map((_, index) => link(`rId${index + 1}`, 'worksheet', `worksheets/sheet${index + 1}.xml`))
      .join('')}${fixture.styles === undefined ? '' : link('rId90', 'styles', 'styles.xml')}${
      fixture.strings === undefined ? '' : link('rId91', 'sharedStrings', 'sharedStrings.xml')
    }${fixture.theme === undefined ? '' : link('rId92', 'theme', 'theme/theme1.xml')}</Relationships>`,
    ...Object.fromEntries(
      names.map((name, index) => [
        `xl/worksheets/sheet${index + 1}.xml`,
        `<worksheet xmlns="${MAIN}">${sheets[name]}</worksheet>`,
      ]),
    ),
    ...(fixture.styles === undefined
      ? {}
      : { 'xl/styles.xml': `<styleSheet xmlns="${MAIN}">${fixture.styles}</styleSheet>` }),
    ...(fixture.strings === undefined
      ? {}
      : { 'xl/sharedStrings.xml': `<sst xmlns="${MAIN}">${fixture.strings}</sst>` }),
    ...(fixture.theme === undefined ? {} : { 'xl/theme/theme1.xml': fixture.theme }),
    ...parts,
  };
  const files = Object.entries(all).filter((entry): entry is [string, string] => entry[1] !== null);
  return zipSync(Object.fromEntries(files.map(([name, text]) => [name, strToU8(text)])), {
    mtime: PACKED_ON,
    ...options,
  });
}

/** Folders that go when the tests of the file are done. */
const folders: string[] = [];
afterAll(() => Promise.all(folders.map((folder) => rm(folder, { recursive: true, force: true }))));

/** Writes bytes into a file of its own and gives its path. */
export async function writeFixture(
  bytes: Uint8Array | string,
  name = 'book.xlsx',
): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), 'tether-fixture-'));
  folders.push(folder);
  const path = join(folder, name);
  await writeFile(path, bytes);
  return path;
}
