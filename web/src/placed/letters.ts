import type { TableLook } from '@tether/contract';
import type { BorderLine, Cell, Dress, Letters } from '@tether/core';
import type { CSSProperties } from 'react';

/** Families that ship with the application and have the same widths as those that workbooks most often name. */
const STAND_INS: Record<string, string> = {
  calibri: 'Carlito',
  arial: 'Arimo',
  helvetica: 'Arimo',
};

/** CSS font families for a family that a source names. */
function fontStack(family: string): string {
  const standIn = STAND_INS[family.toLowerCase()];
  const quoted = `"${family.replaceAll('"', '')}"`;
  return [quoted, ...(standIn ? [standIn] : []), 'Carlito', 'sans-serif'].join(', ');
}

/** Width and pattern of a border line, by its name in ECMA-376 Part 1, 18.18.3. */
const LINES: Record<string, string> = {
  hair: '1px dotted',
  thin: '1px solid',
  dotted: '1px dotted',
  dashed: '1px dashed',
  dashDot: '1px dashed',
  dashDotDot: '1px dotted',
  medium: '2px solid',
  mediumDashed: '2px dashed',
  mediumDashDot: '2px dashed',
  mediumDashDotDot: '2px dotted',
  slantDashDot: '2px dashed',
  thick: '3px solid',
  double: '3px double',
};

function border(line: BorderLine | undefined): string | undefined {
  return line && `${LINES[line.style] ?? '1px solid'} ${line.colour}`;
}

/** Where a value stands when its cell does not say: text left, numbers and dates right, truths and errors centred. */
function usualAlignment(cell: Cell | undefined): CSSProperties['textAlign'] {
  if (cell?.type === 'number' || cell?.type === 'date') return 'right';
  if (cell?.type === 'boolean' || cell?.type === 'error') return 'center';
  return 'left';
}

const VERTICAL = { top: 'top', center: 'middle', bottom: 'bottom', justify: 'top' } as const;

/** Letters as CSS. */
export function lettersStyle(letters: Letters): CSSProperties {
  const lines = [letters.underline && 'underline', letters.strike && 'line-through'].filter(
    Boolean,
  );
  return {
    fontFamily: fontStack(letters.family),
    fontSize: `${letters.size}pt`,
    fontWeight: letters.bold ? 700 : 400,
    fontStyle: letters.italic ? 'italic' : undefined,
    textDecoration: lines.length > 0 ? lines.join(' ') : undefined,
    color: letters.colour ?? '#000000',
  };
}

/** The look of a cell as CSS. */
export function cellStyle(cell: Cell | undefined, dress: Dress | undefined): CSSProperties {
  if (!dress) return { textAlign: usualAlignment(cell), verticalAlign: 'bottom' };
  const { letters } = dress;
  const horizontal = dress.horizontal === 'fill' ? 'left' : dress.horizontal;
  const indent = (dress.indent ?? 0) * 9;
  const align = horizontal ?? usualAlignment(cell);
  return {
    ...lettersStyle(letters),
    ...(cell?.ink ? { color: cell.ink } : {}),
    backgroundColor: dress.fill,
    borderTop: border(dress.top),
    borderRight: border(dress.right),
    borderBottom: border(dress.bottom),
    borderLeft: border(dress.left),
    textAlign: align,
    verticalAlign: VERTICAL[dress.vertical ?? 'bottom'],
    whiteSpace: dress.wrap ? 'pre-wrap' : 'pre',
    paddingLeft: align === 'left' && indent > 0 ? 3 + indent : undefined,
    paddingRight: align === 'right' && indent > 0 ? 3 + indent : undefined,
  };
}

/** Whether letters of this colour would be lost on white paper. */
function isLight(colour: string): boolean {
  const part = (at: number) => Number.parseInt(colour.slice(at, at + 2), 16) / 255;
  return 0.2126 * part(1) + 0.7152 * part(3) + 0.0722 * part(5) > 0.7;
}

/** A row's part in a table that follows the document's look. */
export type RowRole = 'header' | 'body';

/**
 * The look of a cell where some of it follows the document: its letters are then the report's own, its fills and borders
 * hairlines under the rows and a strong line under the header. Weight and slant stay those of the source: they say which
 * row is a total.
 */
export function lookedStyle(
  cell: Cell | undefined,
  dress: Dress | undefined,
  { letters, fills }: TableLook,
  role: RowRole,
): CSSProperties {
  const style = cellStyle(cell, dress);
  if (letters === 'document') {
    const { fontFamily: _, fontSize: __, color: ___, ...rest } = style;
    Object.assign(style, { fontFamily: undefined, fontSize: undefined, color: cell?.ink });
    Object.assign(style, rest, role === 'header' ? { fontWeight: 700 } : {});
  }
  if (fills === 'document') {
    const line = role === 'header' ? '1.5px solid #10242b' : '1px solid #c6d2d6';
    Object.assign(style, {
      backgroundColor: undefined,
      borderTop: undefined,
      borderLeft: undefined,
      borderRight: undefined,
      borderBottom: line,
    });
    // White letters stood on a dark fill that is not there any more.
    if (typeof style.color === 'string' && isLight(style.color)) style.color = '#10242b';
  }
  return style;
}
