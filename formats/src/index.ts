export { loadBook, type NotComputed } from './calc/load-book.ts';
export { planWrite, type WritePlan } from './calc/plan-write.ts';
export { type NameChange, writeNames } from './ooxml/write/write-names.ts';
export type { SheetPatch } from './ooxml/write/write-workbook.ts';
export { openSource, type ReadingOptions, SOURCE_ENDINGS } from './open-source.ts';
export { PackageFile } from './package/package-file.ts';
export { replaceFile } from './package/replace-file.ts';
export { type ZipPart, zipParts } from './package/zip-parts.ts';
export { inGrey, isLinesOnly } from './picture/drawing-grey.ts';
export {
  drawingLayers,
  withoutLayers,
} from './picture/drawing-layers.ts';
export {
  PICTURE_TYPES,
  type Picture,
  type PictureType,
  readPicture,
  saysItsSize,
} from './picture/picture.ts';
export { planLines } from './plan-lines.ts';
export type { OpenSource } from './source.ts';
export { printSource, type SourcePrint } from './taking/print-source.ts';
export { takeChart } from './taking/take-chart.ts';
export { takeReach, takeReaches } from './taking/take-reach.ts';
export { writeSource } from './write-source.ts';
