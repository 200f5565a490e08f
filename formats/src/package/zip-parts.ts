import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';

/** A part of a zip that is made: its name with `/` between, and its bytes as they come. */
export interface ZipPart {
  name: string;
  bytes: AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
  /** Whether its bytes are packed already: packing them again takes long and saves nothing. */
  isPacked: boolean;
}

/** Bytes that are packed in one go, so that others are served in between. */
const PIECE = 256 << 10;

/**
 * The bytes of a zip with these parts (APPNOTE 6.3, sizes of 32 bits), made as they are asked for. Throws what a part's bytes
 * throw.
 */
export async function* zipParts(
  parts: AsyncIterable<ZipPart> | Iterable<ZipPart>,
): AsyncGenerator<Uint8Array> {
  let made: Uint8Array[] = [];
  const zip = new Zip((problem, bytes) => {
    if (problem) throw problem;
    made.push(bytes);
  });
  for await (const { name, bytes, isPacked } of parts) {
    const part = isPacked ? new ZipPassThrough(name) : new ZipDeflate(name, { level: 6 });
    zip.add(part);
    for await (const whole of bytes) {
      for (let at = 0; at < whole.length; at += PIECE) {
        part.push(whole.subarray(at, at + PIECE));
        yield* made;
        made = [];
      }
    }
    part.push(new Uint8Array(), true);
  }
  zip.end();
  yield* made;
}
