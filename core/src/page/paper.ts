/** Trimmed sizes of the A series by ISO 216:2007, table 1, upright: shorter and longer side in millimetres. */
export const A_SERIES = {
  A0: [841, 1189],
  A1: [594, 841],
  A2: [420, 594],
  A3: [297, 420],
  A4: [210, 297],
  A5: [148, 210],
} as const;
export type ASize = keyof typeof A_SERIES;

/** Width and height in millimetres. */
export interface Size {
  width: number;
  height: number;
}

/** A sheet of the A series, upright or lying. */
export function aSheet(size: ASize, isLandscape: boolean): Size {
  const [short, long] = A_SERIES[size];
  return isLandscape ? { width: long, height: short } : { width: short, height: long };
}
