import { parseCell } from '@tether/core';
import { type Attributes, scanXml } from '../../../package/xml.ts';
import type { SheetVisitor } from './sheet-scan.ts';

/**
 * Reads the cells of a worksheet part with the event parser: everything that is legal XML. Rows and cells without `r`
 * are counted on (ECMA-376 Part 1, 18.3.1.4 and 18.3.1.73).
 */
export function readSheetEvents(bytes: Buffer, visitor: SheetVisitor): void {
  let row = 0;
  let column = 0;
  let cell: Attributes | null = null;
  let collecting: 'value' | 'formula' | 'inline' | null = null;
  let value: string | null = null;
  let formula: string | null = null;
  let inline: string | null = null;
  let shared: number | null = null;
  let inHint = false;
  const isWanted = () => row >= visitor.top && row <= visitor.bottom;

  scanXml(bytes, {
    open(name, attributes) {
      if (name === 'row') {
        row = attributes.r ? Number(attributes.r) : row + 1;
        column = 0;
        if (isWanted()) visitor.row?.(row, attributes.ht, attributes.hidden);
      } else if (name === 'c') {
        const at = attributes.r ? parseCell(attributes.r) : null;
        column = at ? at.column : column + 1;
        cell = attributes;
        value = formula = inline = shared = null;
      } else if (!cell) return;
      else if (name === 'v') collecting = 'value';
      else if (name === 'f') {
        collecting = 'formula';
        const isShared = attributes.t === 'shared' && /^\d+$/.test(attributes.si ?? '');
        shared = isShared ? Number(attributes.si) : null;
      } else if (name === 'is') inline = '';
      else if (name === 'rPh') inHint = true;
      else if (name === 't' && inline !== null && !inHint) collecting = 'inline';
    },
    text(text) {
      if (collecting === 'value') value = (value ?? '') + text;
      else if (collecting === 'formula') formula = (formula ?? '') + text;
      else if (collecting === 'inline') inline += text;
    },
    close(name) {
      if (name === 'v' || name === 'f' || name === 't') collecting = null;
      else if (name === 'rPh') inHint = false;
      else if (name === 'c' && cell) {
        const type = cell.t ?? 'n';
        const style = Number(cell.s ?? 0);
        cell = null;
        if (isWanted())
          visitor.cell(row, column, style, type, asRaw(type, inline ?? value), formula, shared);
      }
    },
  });
}

function asRaw(type: string, text: string | null): string | number | null {
  if (text === null || (type !== 'n' && type !== 's')) return text;
  const number = Number(text);
  return text.trim() === '' || !Number.isFinite(number) ? text : number;
}
