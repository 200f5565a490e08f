import { crc32 } from 'node:zlib';

/** Bytes before the first part of a PNG, and of the part that says how large it is (W3C PNG, 5.2 and 11.2.1). */
const SIGNATURE = 8;
const HEAD_PART = 25;
const INCH = 0.0254;

/** A PNG that says how many dots it has to the inch, so that it is printed as large as it is (W3C PNG, 11.3.4.3, pHYs). */
export function withDots(png: Buffer, dots: number): Buffer {
  const perMetre = Math.round(dots / INCH);
  const said = Buffer.alloc(13);
  said.write('pHYs', 0, 'latin1');
  said.writeUInt32BE(perMetre, 4);
  said.writeUInt32BE(perMetre, 8);
  // By the metre.
  said.writeUInt8(1, 12);
  const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
  length.writeUInt32BE(said.length - 4);
  sum.writeUInt32BE(crc32(said));
  const end = SIGNATURE + HEAD_PART;
  return Buffer.concat([png.subarray(0, end), length, said, sum, png.subarray(end)]);
}
