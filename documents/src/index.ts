import './without-jit.ts';

export * from './drawing/content.ts';
export * from './drawing/title-block.ts';
export type { DocumentKind, SharedForm } from './kind.ts';
export * from './object/caption.ts';
export * from './object/dressing.ts';
export * from './object/form.ts';
export * from './object/lead.ts';
export * from './object/placement.ts';
export * from './page/content.ts';
export * from './page/layer.ts';
export * from './page/rich.ts';
export {
  PART_LISTS,
  type PartList,
  pageSettings,
  partFrom,
  type SharedPart,
  type SharedParts,
  setOfPart,
  sharedParts,
  writePart,
} from './page/shared.ts';
export { USUAL_COLOUR } from './page/things/base.ts';
export { boxesOf } from './page/things/boxes.ts';
export { copiesOf } from './page/things/copies.ts';
export { MARK_SYMBOLS, type MarkSymbol, type MarksThing } from './page/things/marks.ts';
export type { ObjectThing } from './page/things/object.ts';
export {
  kindOfThing,
  type Thing,
  type ThingKind,
  type ThingOf,
  thingSchema,
} from './page/things/table.ts';
export { richOf, type TextThing } from './page/things/text.ts';
export type { ViewThing } from './page/things/view.ts';
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
export { isSame } from './shared/entries.ts';
export { sharedNodes, type TextJson } from './shared/nodes.ts';
export * from './slides/arrangements.ts';
export * from './slides/content.ts';
export * from './slides/deck-look.ts';
export { beginSlide } from './slides/slides.ts';
