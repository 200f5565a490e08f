import { describe, expect, it } from '@jest/globals';
import { readPicture, saysItsSize } from './picture.ts';

const svg = (inner: string, attributes = 'width="120" height="80"') =>
  Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${inner}</svg>`);

/** A PNG of one pixel (PNG specification, third edition: signature, IHDR, IDAT, IEND). */
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

const hex = (...parts: string[]) => Buffer.from(parts.join('').replaceAll(' ', ''), 'hex');

/**
 * The head of a JPEG (ITU-T T.81, annex B) of 40 x 30: a JFIF part, or an EXIF part that says how the camera was held (a TIFF
 * header and one entry, tag 0112), and the frame.
 */
function jpeg(orientation?: number): Buffer {
  const jfif = 'ffe0 0010 4a46494600 0101 00 0001 0001 00 00';
  const entry = `0112 0003 00000001 000${orientation ?? 1} 0000`;
  const exif = `ffe1 0022 457869660000 4d4d002a 00000008 0001 ${entry} 00000000`;
  return hex(
    'ffd8',
    orientation === undefined ? jfif : exif,
    'ffc0 000b 08 001e 0028 01 01 11 00',
    'ffd9',
  );
}

describe('a picture is read from its bytes', () => {
  it('as PNG, with its pixels', () => {
    expect(readPicture(PNG)).toEqual({
      ok: true,
      value: { type: 'image/png', width: 1, height: 1 },
    });
  });

  it('as JPEG, turned as the camera was held (EXIF 2.32, 4.6.4)', () => {
    expect(readPicture(jpeg())).toMatchObject({ value: { width: 40, height: 30 } });
    expect(readPicture(jpeg(1))).toMatchObject({ value: { width: 40, height: 30 } });
    expect(readPicture(jpeg(6))).toMatchObject({ value: { width: 30, height: 40 } });
  });

  it('as WebP (RFC 9649, 2.7)', () => {
    // The smallest lossless one: RIFF, VP8L, a signature byte, and 14 bits each of width - 1 and height - 1.
    const size = Buffer.alloc(4);
    size.writeUInt32LE((12 - 1) | ((7 - 1) << 14));
    const body = Buffer.concat([Buffer.from('VP8L\u0005\0\0\0/', 'latin1'), size]);
    const head = Buffer.alloc(4);
    head.writeUInt32LE(body.length + 4);
    const bytes = Buffer.concat([Buffer.from('RIFF'), head, Buffer.from('WEBP'), body]);
    expect(readPicture(Buffer.concat([bytes, Buffer.alloc(20)]))).toEqual({
      ok: true,
      value: { type: 'image/webp', width: 12, height: 7 },
    });
  });

  it('as SVG, by its size or its view box', () => {
    expect(readPicture(svg('<path d="M0 0h9"/>'))).toMatchObject({
      value: { type: 'image/svg+xml', width: 120, height: 80 },
    });
    expect(readPicture(svg('<g/>', 'viewBox="0 0 30 20"'))).toMatchObject({
      value: { width: 30, height: 20 },
    });
  });

  it('with no more pixels than a browser holds, whatever their proportion', () => {
    const sized = (width: number, height: number) => {
      const bytes = Buffer.from(PNG);
      // PNG specification, 11.2.1: width and height are the first eight bytes of IHDR.
      bytes.writeUInt32BE(width, 16);
      bytes.writeUInt32BE(height, 20);
      return bytes;
    };
    expect(readPicture(sized(8_000, 6_000))).toMatchObject({ ok: true });
    expect(readPicture(sized(10_000, 10_000))).toMatchObject({
      fault: { code: 'picture-too-large' },
    });
    expect(readPicture(sized(20_000, 10))).toMatchObject({ fault: { code: 'picture-too-large' } });
  });

  it('as a plan in true millimetres, however large: it has lines, not pixels', () => {
    const read = readPicture(svg('<path d="M0 0h9"/>', 'width="26000mm" height="7000mm"'));
    if (!read.ok) throw new Error(read.fault.message);
    // 26 m in CSS pixels of 25.4/96 mm (CSS Values 4, 6.2).
    expect(Math.abs((read.value.width * 25.4) / 96 - 26_000)).toBeLessThan(1);
    expect(Math.abs((read.value.height * 25.4) / 96 - 7_000)).toBeLessThan(1);
  });

  it('or it is none', () => {
    for (const bytes of [Buffer.alloc(0), Buffer.from('%PDF-1.7'), Buffer.from('<html></html>')]) {
      expect(readPicture(bytes)).toMatchObject({ fault: { code: 'picture-unknown' } });
    }
    // GIF is a picture, but none that a document holds.
    expect(readPicture(Buffer.from('GIF89a\u0001\0\u0001\0\0\0\0', 'latin1'))).toMatchObject({
      fault: { code: 'picture-unknown' },
    });
  });
});

describe('an SVG is a drawing and nothing else', () => {
  it.each([
    ['a script', '<script>alert(1)</script>'],
    ['a page within it', '<foreignObject><body/></foreignObject>'],
    ['something done at a click', '<rect onclick="alert(1)"/>'],
    ['a link', '<a href="https://example.org"><rect/></a>'],
    [
      'a link of the older kind',
      '<use xmlns:x="http://www.w3.org/1999/xlink" x:href="//e.org#a"/>',
    ],
    ['a link that is script', '<a href=" javascript:alert(1)"/>'],
    ['a picture from elsewhere', '<image href="https://example.org/a.png"/>'],
    ['a style from elsewhere', '<style>@import "https://example.org/a.css";</style>'],
    ['a fill from elsewhere', '<rect fill="url(https://example.org/a.svg#b)"/>'],
    ['something that sets a link later', '<a><set attributeName="href" to="javascript:1"/></a>'],
  ])('refused with %s', (_, inner) => {
    expect(readPicture(svg(inner))).toMatchObject({ fault: { code: 'picture-unsafe' } });
  });

  it('taken with parts that point at each other, styles and pictures of its own', () => {
    const inner =
      '<defs><linearGradient id="a"/></defs><style>rect{fill:url(#a)}</style>' +
      '<rect style="stroke:url(\'#a\')"/><use href="#a"/><image href="data:image/png;base64,AA=="/>';
    expect(readPicture(svg(inner))).toMatchObject({ ok: true });
  });

  it('refused with a document type, which could define what is in it', () => {
    const bytes = Buffer.from(
      '<!DOCTYPE svg [<!ENTITY a "b">]><svg xmlns="http://www.w3.org/2000/svg" width="1" height="1"/>',
    );
    expect(readPicture(bytes)).toMatchObject({ ok: false });
  });
});

describe('how large a plan is in truth', () => {
  it('is said by a drawing with a unit of length, and by nothing else', () => {
    for (const unit of ['mm', 'cm', 'in', 'pt', 'MM'])
      expect(saysItsSize(svg('', `width="26000${unit}" height="7000${unit}"`))).toBe(true);
    for (const size of [
      'width="26000" height="7000"',
      'width="260px"',
      'viewBox="0 0 9 9"',
      'width="100%"',
    ])
      expect(saysItsSize(svg('', size))).toBe(false);
    expect(saysItsSize(PNG)).toBe(false);
  });
});
