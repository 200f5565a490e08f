import './without-jit.ts';

export * from './drawing/content.ts';
export * from './drawing/title-block.ts';
export type { DocumentKind } from './kind.ts';
export * from './object/caption.ts';
export * from './object/dressing.ts';
export * from './object/form.ts';
export * from './object/lead.ts';
export * from './object/placement.ts';
export * from './page/content.ts';
export * from './page/rich.ts';
export {
  isSame,
  PART_LISTS,
  type PartList,
  pageSettings,
  partFrom,
  type SharedPart,
  type SharedParts,
  sharedParts,
  writePart,
} from './page/shared.ts';
export * from './page/things.ts';
export {
  type DocumentContent,
  KIND_NAMES,
  type KindName,
  kindOf,
  kindSchema,
  readContent,
} from './registry.ts';
export * from './report/content.ts';
export * from './report/nodes.ts';
export * from './report/placements.ts';
export * from './report/settings.ts';
export { sharedSettings, sharedText, undressed } from './report/shared.ts';
export * from './shared/comments.ts';
export {
  readDressing,
  type SharedDressings,
  sharedDressings,
  writeDressing,
} from './shared/dressings.ts';
export { sharedNodes, type TextJson } from './shared/nodes.ts';
export * from './slides/arrangements.ts';
export * from './slides/content.ts';
export * from './slides/deck-look.ts';
export { beginSlide } from './slides/slides.ts';
