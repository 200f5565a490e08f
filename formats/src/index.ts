export type { SheetPatch } from './ooxml/write/write-workbook.ts';
export { openSource, type ReadingOptions, SOURCE_ENDINGS } from './open-source.ts';
export { replaceFile } from './package/replace-file.ts';
export { PICTURE_TYPES, type Picture, type PictureType, readPicture } from './picture/picture.ts';
export type { OpenSource } from './source.ts';
export { takeChart } from './taking/take-chart.ts';
export { takeReach, takeReaches } from './taking/take-reach.ts';
export { writeSource } from './write-source.ts';
