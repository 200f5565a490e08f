/** Hundredths of a millimetre: finer than anything that is printed. */
export const round = (millimetres: number): number => Math.round(millimetres * 100) / 100;
