import type exceljs from 'exceljs';

/**
 * An empty workbook of the library that writes the demo's. It is loaded when a workbook is made or changed and not before:
 * a server that starts with its demo in place would wait for it in vain.
 */
export async function emptyWorkbook(): Promise<exceljs.Workbook> {
  const { default: library } = await import('exceljs');
  return new library.Workbook();
}
