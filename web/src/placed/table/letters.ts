import {
  type BorderLine,
  type Cell,
  type Dress,
  indentOf,
  type Letters,
  shippedFamily,
  usualAlignment,
} from '@tether/core';
import type { CSSProperties } from 'react';

/** CSS font families for a family that a source names: always one that ships, so that every page is the same everywhere. */
function fontStack(family: string): string {
  return `"${shippedFamily(family)}", sans-serif`;
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

/** The look of a cell as CSS; `padding` is what it keeps free at its sides, in pixels. */
export function cellStyle(
  cell: Cell | undefined,
  dress: Dress | undefined,
  padding = 3,
): CSSProperties {
  if (!dress) return { textAlign: usualAlignment(cell), verticalAlign: 'bottom' };
  const { letters } = dress;
  const horizontal = dress.horizontal === 'fill' ? 'left' : dress.horizontal;
  const indent = indentOf(dress);
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
    overflowWrap: dress.wrap ? 'anywhere' : undefined,
    ...(align === 'left' && indent > 0 ? { paddingLeft: padding + indent } : {}),
    ...(align === 'right' && indent > 0 ? { paddingRight: padding + indent } : {}),
  };
}
