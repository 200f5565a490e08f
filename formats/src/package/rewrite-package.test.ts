import { describe, expect, test } from '@jest/globals';
import { unzipSync, zipSync } from 'fflate';
import { buildWorkbook } from '../ooxml/workbook.fixture.ts';
import { rewritePackage } from './rewrite-package.ts';

const book = () =>
  Buffer.from(buildWorkbook({ sheets: { Counts: '<sheetData/>', Notes: '<sheetData/>' } }));
const words = new TextEncoder();
const rewritten = (bytes: Buffer, changes: Record<string, string | null>) => {
  const done = rewritePackage(
    bytes,
    new Map(
      Object.entries(changes).map(([part, text]) => [
        part,
        text === null ? null : words.encode(text),
      ]),
    ),
    'book.xlsx',
  );
  if (!done.ok) throw new Error(`${done.fault.code}: ${done.fault.message}`);
  return done.value;
};
/** The compressed bytes of each part as they lie in the file, by name. */
function packedParts(bytes: Buffer): Map<string, string> {
  const parts = new Map<string, string>();
  const end = bytes.lastIndexOf('PK\u0005\u0006', undefined, 'latin1');
  let at = bytes.readUInt32LE(end + 16);
  for (let nth = 0; nth < bytes.readUInt16LE(end + 10); nth++) {
    const [nameLength, extra, comment] = [28, 30, 32].map((field) =>
      bytes.readUInt16LE(at + field),
    );
    const name = bytes.toString('utf8', at + 46, at + 46 + nameLength!);
    const local = bytes.readUInt32LE(at + 42);
    const from = local + 30 + bytes.readUInt16LE(local + 26) + bytes.readUInt16LE(local + 28);
    parts.set(name, bytes.toString('hex', from, from + bytes.readUInt32LE(at + 20)));
    at += 46 + nameLength! + extra! + comment!;
  }
  return parts;
}

describe('a package with another part', () => {
  test('has all others byte for byte, in their order', () => {
    const before = book();
    const after = rewritten(before, { 'XL/worksheets/sheet2.xml': '<worksheet>new</worksheet>' });
    const [old, now] = [packedParts(before), packedParts(after)];
    expect([...now.keys()]).toEqual([...old.keys()]);
    for (const [name, bytes] of old) {
      if (name !== 'xl/worksheets/sheet2.xml') expect(now.get(name)).toBe(bytes);
    }
    expect(new TextDecoder().decode(unzipSync(after)['xl/worksheets/sheet2.xml'])).toBe(
      '<worksheet>new</worksheet>',
    );
  });

  test('is the same where nothing is changed', () => {
    expect(rewritten(book(), {}).equals(book())).toBe(true);
  });

  test('has a part no more that was taken out', () => {
    const names = Object.keys(unzipSync(rewritten(book(), { 'xl/worksheets/sheet2.xml': null })));
    expect(names).not.toContain('xl/worksheets/sheet2.xml');
    expect(names).toHaveLength(Object.keys(unzipSync(book())).length - 1);
  });

  test('keeps parts that are not packed, and what stands before and behind', () => {
    const stored = Buffer.from(
      zipSync({ 'a.txt': [words.encode('as it is'), { level: 0 }], 'b.txt': words.encode('b') }),
    );
    const after = rewritten(stored, { 'b.txt': 'other' });
    expect(packedParts(after).get('a.txt')).toBe(Buffer.from('as it is').toString('hex'));
    expect(new TextDecoder().decode(unzipSync(after)['b.txt'])).toBe('other');
  });

  test('is not made of one that is damaged', () => {
    expect(() => rewritten(book().subarray(0, 300), {})).toThrow(/^source-damaged/);
    const spoilt = book();
    spoilt.writeUInt32LE(0, 0);
    expect(() => rewritten(spoilt, {})).toThrow(/^source-damaged/);
  });
});

test('a large part is packed anew around its change, and as a whole where that cannot be', () => {
  const text = Buffer.from('<row><c><v>12</v></c><c><v>7</v></c></row>'.repeat(130_000));
  let state = 1;
  const noise = Buffer.from(
    Array.from({ length: 200_000 }, () => {
      state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0;
      return state >>> 16;
    }),
  );
  const half = text.subarray(0, text.length >> 1);
  for (const before of [
    Buffer.concat([text, half]),
    // Stored blocks behind the change, which cannot be moved by some bits.
    Buffer.concat([text, noise, half]),
  ]) {
    const bytes = Buffer.from(zipSync({ 'big.xml': before, 'small.xml': words.encode('<a/>') }));
    const sizes: number[] = [];
    for (const put of ['x', 'xx', 'another row', 'one more']) {
      const after = Buffer.concat([
        before.subarray(0, 999),
        Buffer.from(put),
        before.subarray(1_000),
      ]);
      const changes = new Map([['big.xml', after]]);
      const done = rewritePackage(bytes, changes, 'book.xlsx', new Map([['big.xml', before]]));
      if (!done.ok) throw new Error(done.fault.message);
      const files = unzipSync(done.value);
      expect(Buffer.from(files['big.xml']!).equals(after)).toBe(true);
      expect(files['small.xml']).toEqual(words.encode('<a/>'));
      sizes.push(done.value.length);
    }
    expect(Math.min(...sizes)).toBeLessThan(bytes.length * 1.1);
  }
});
