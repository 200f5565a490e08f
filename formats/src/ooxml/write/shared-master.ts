import { parseCell, shiftFormula } from '@tether/core';
import { resolved } from '../../package/entities.ts';
import { escaped } from './xml-text.ts';

/** Bytes that give way to a text. */
export interface Edit {
  from: number;
  to: number;
  text: string;
}

/** A formula that others share (ECMA-376 Part 1, 18.3.1.40, `t="shared"`): the cell that says it. */
export interface SharedMaster {
  row: number;
  column: number;
  /** Its opening tag and what stands in it, as written. */
  tag: string;
  text: string;
}

/** The number by which a formula is shared, of the cell that says it; null for others. */
export function sharedBy(tag: string): string | null {
  if (!/\st\s*=\s*["']shared["']/.test(tag) || !/\sref\s*=/.test(tag)) return null;
  return /\ssi\s*=\s*["'](\d+)["']/.exec(tag)?.[1] ?? null;
}

/**
 * Hands a shared formula on to the next cell that shares it and keeps it, since the one that says it gets something else; null
 * where there is none. `isWritten` tells the cells that get something else too.
 */
export function handedOn(
  bytes: Buffer,
  prefix: string,
  { row, column, tag, text }: SharedMaster,
  from: number,
  until: number,
  isWritten: (row: number, column: number) => boolean,
): Edit | null {
  const number = sharedBy(tag)!;
  for (const quote of ['"', "'"]) {
    const said = Buffer.from(`si=${quote}${number}${quote}`);
    for (let at = bytes.indexOf(said, from); at >= 0 && at < until; ) {
      const start = bytes.lastIndexOf('<', at, 'latin1');
      const end = bytes.indexOf('>', at, 'latin1') + 1;
      const own = bytes.toString('latin1', start, end);
      const cell = bytes.lastIndexOf(`<${prefix}c `, start, 'latin1');
      const name = /\sr\s*=\s*["']([A-Za-z]+\d+)["']/.exec(bytes.toString('latin1', cell, start));
      const place = name && parseCell(name[1]!);
      if (own.startsWith(`<${prefix}f `) && place && !isWritten(place.row, place.column)) {
        const shift = shiftFormula(resolved(text));
        const shifted = escaped(shift(place.row - row, place.column - column));
        const rest = bytes.toString('latin1', end, end + prefix.length + 4);
        const closing = `</${prefix}f>`;
        const to = own.endsWith('/>') ? end : rest.startsWith(closing) ? end + closing.length : end;
        return { from: start, to, text: `${tag}${shifted}${closing}` };
      }
      at = bytes.indexOf(said, at + 1);
    }
  }
  return null;
}
