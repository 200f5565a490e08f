import { strToU8, zipSync } from 'fflate';
import { PACKED_ON } from '../package/packed-on.fixture.ts';

const SPACES = [
  'office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"',
  'table="urn:oasis:names:tc:opendocument:xmlns:table:1.0"',
  'text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"',
  'style="urn:oasis:names:tc:opendocument:xmlns:style:1.0"',
  'fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0"',
  'number="urn:oasis:names:tc:opendocument:xmlns:datastyle:1.0"',
  'draw="urn:oasis:names:tc:opendocument:xmlns:drawing:1.0"',
  'chart="urn:oasis:names:tc:opendocument:xmlns:chart:1.0"',
  'svg="urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0"',
  'xlink="http://www.w3.org/1999/xlink"',
  'calcext="urn:example:extension"',
]
  .map((space) => `xmlns:${space}`)
  .join(' ');

/** Parts of a small OpenDocument spreadsheet for tests. */
export interface OdfFixture {
  /** Inside of `office:spreadsheet`. */
  body: string;
  /** Inside of `office:automatic-styles`. */
  styles?: string;
  /** Inside of `office:styles`. */
  common?: string;
  fonts?: string;
  /** More parts of the package. */
  parts?: Record<string, string>;
}

const insides = ({ body, styles = '', fonts = '' }: OdfFixture) =>
  `<office:font-face-decls>${fonts}</office:font-face-decls><office:automatic-styles>${styles}</office:automatic-styles><office:body><office:spreadsheet>${body}</office:spreadsheet></office:body>`;

/** The text of a flat spreadsheet. */
export function flatSpreadsheet(fixture: OdfFixture): string {
  const type = 'application/vnd.oasis.opendocument.spreadsheet';
  return `<?xml version="1.0" encoding="UTF-8"?>
<office:document ${SPACES} office:mimetype="${type}" office:version="1.3"><office:styles>${fixture.common ?? ''}</office:styles>${insides(fixture)}</office:document>`;
}

/** The bytes of a packed spreadsheet. */
export function packedSpreadsheet(fixture: OdfFixture): Uint8Array {
  const { parts = {} } = fixture;
  const files: Record<string, string> = {
    mimetype: 'application/vnd.oasis.opendocument.spreadsheet',
    'content.xml': `<?xml version="1.0"?><office:document-content ${SPACES}>${insides(fixture)}</office:document-content>`,
    'styles.xml': `<office:document-styles ${SPACES}><office:styles>${fixture.common ?? ''}</office:styles></office:document-styles>`,
    ...parts,
  };
  return zipSync(
    Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])),
    { mtime: PACKED_ON },
  );
}

/** A part beside the content, with the namespaces bound. */
export function odfPart(inner: string): string {
  return `<office:document-content ${SPACES}>${inner}</office:document-content>`;
}
