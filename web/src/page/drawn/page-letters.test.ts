import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, it } from '@jest/globals';
import opentype from 'opentype.js';
import { CAPITALS } from './page-letters.ts';

it('the capitals of the face on pages are as high as its own tables say', () => {
  // ISO/IEC 14496-22, table OS/2: sCapHeight in units of the em, read by a library of others.
  const path = createRequire(import.meta.url).resolve(
    '@fontsource/source-sans-3/files/source-sans-3-latin-400-normal.woff',
  );
  const bytes = readFileSync(path);
  const font = opentype.parse(
    bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length),
  );
  const { sCapHeight } = font.tables.os2 as { sCapHeight: number };
  expect(CAPITALS).toBeCloseTo(sCapHeight / font.unitsPerEm, 3);
  // Letter H is drawn to that height.
  expect(font.charToGlyph('H').getBoundingBox().y2 / font.unitsPerEm).toBeCloseTo(CAPITALS, 2);
});
