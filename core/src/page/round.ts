/** Millimetres (or degrees) to hundredths: finer than anything that is printed. */
export const roundMm = (value: number): number => Math.round(value * 100) / 100;
