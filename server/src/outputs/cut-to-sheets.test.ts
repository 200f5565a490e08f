import { describe, expect, test } from '@jest/globals';
import { PDFDocument } from 'pdf-lib';
import { cutToSheets } from './cut-to-sheets.ts';

// A4 by ISO 216, 210 by 297 mm, in CSS pixels and in points.
const portrait = { width: 793.7, height: 1122.5 };
const landscape = { width: 1122.5, height: 793.7 };

async function printed(pages: number, size: [number, number]): Promise<Buffer> {
  const document = await PDFDocument.create();
  document.setTitle('Autumn monitoring report');
  for (let page = 0; page < pages; page++) document.addPage(size);
  return Buffer.from(await document.save());
}
const sizesOf = async (bytes: Buffer) =>
  (await PDFDocument.load(bytes, { updateMetadata: false })).getPages().map((page) => {
    const { x, y, width, height } = page.getCropBox();
    return [x, y, width, height].map(Math.round);
  });

describe('a PDF of sheets of both orientations', () => {
  test('has each page cut to its sheet, from its upper left corner', async () => {
    const whole = await printed(2, [841.9, 841.9]);
    const cut = await cutToSheets(whole, [portrait, landscape]);
    expect(await sizesOf(cut)).toEqual([
      [0, 0, 595, 842],
      [0, 247, 842, 595],
    ]);
    expect((await PDFDocument.load(cut)).getTitle()).toBe('Autumn monitoring report');
  });

  test('of one orientation stays as it is', async () => {
    const whole = await printed(2, [595.3, 841.9]);
    expect(await cutToSheets(whole, [portrait, portrait])).toBe(whole);
  });

  test('with another number of pages than sheets stays as it is', async () => {
    const whole = await printed(3, [841.9, 841.9]);
    expect(await cutToSheets(whole, [portrait, landscape])).toBe(whole);
  });
});
