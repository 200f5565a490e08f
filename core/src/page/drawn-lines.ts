/** Widths of lines in millimetres, each the square root of two times the one before. ISO 128-2:2020, 5.3. */
export const LINE_WIDTHS = [0.13, 0.18, 0.25, 0.35, 0.5, 0.7, 1, 1.4, 2] as const;

/** Heights of capital letters in millimetres, likewise. ISO 3098-1:2015, 5.3. */
export const LETTER_HEIGHTS = [1.8, 2.5, 3.5, 5, 7, 10, 14, 20] as const;

/** How lines are broken: the lengths of strokes and gaps in widths of the line. ISO 128-2:2020, table 2. */
export const LINE_KINDS = {
  /** 01: edges that are seen. */
  continuous: [],
  /** 02: edges that are hidden. */
  dashed: [12, 3],
  /** 04: axes and planes. */
  'long dash dot': [24, 3, 0.5, 3],
  /** 05: outlines of what lies beside. */
  'long dash double dot': [24, 3, 0.5, 3, 0.5, 3],
  /** 07: what is only meant. */
  dotted: [0.5, 3],
} as const;
export type LineKind = keyof typeof LINE_KINDS;

/** Strokes and gaps of a line in millimetres; none for an unbroken one. */
export function dashes(kind: LineKind, width: number): number[] {
  return LINE_KINDS[kind].map((part) => Number((part * width).toFixed(4)));
}

/**
 * Size of a font in millimetres at which its capitals are so high. `capital` is the height of its capital letters in parts
 * of its size, as its tables say (`OS/2.sCapHeight` by ISO/IEC 14496-22).
 */
export function fontSizeFor(height: number, capital: number): number {
  return height / capital;
}
