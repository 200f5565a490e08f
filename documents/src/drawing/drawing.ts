import type { DocumentKind } from '../kind.ts';
import {
  inOrder,
  knownThings,
  pagesAsCopies,
  picturesOnPages,
  placementsOnPages,
} from '../page/content.ts';
import { sharedPages } from '../page/shared.ts';
import { THING_KINDS } from '../page/things/table.ts';
import { type DrawingContent, drawingContentSchema, drawingSettingsSchema } from './content.ts';

/** Things that a small picture of a drawing shows. */
const BEGINNING = 60;

/** A drawing: sheets with a frame, on which objects, texts and lines stand in millimetres. */
export const drawing: DocumentKind<DrawingContent> = {
  name: 'drawing',
  schema: drawingContentSchema,
  placements: placementsOnPages,
  pictures: picturesOnPages,
  look: ({ settings }) => settings.look,
  shared: sharedPages<DrawingContent>({ type: 'drawing' }, drawingSettingsSchema),
  firstContent: (name) => ({
    type: 'drawing',
    settings: drawingSettingsSchema.parse({ fields: { title: name.slice(0, 200) } }),
    // The name is known within the document alone: the first sheet of every drawing has it.
    pages: [{ id: FIRST_SHEET, name: 'Sheet 1', order: 0, size: 'A3', isLandscape: true }],
    layers: [],
    things: [],
  }),
  beginning: (content) => {
    const [first] = inOrder(content.pages);
    return {
      ...content,
      pages: first ? [first] : [],
      things: inOrder(content.things.filter(({ page }) => page === first?.id)).slice(0, BEGINNING),
    };
  },
  asCopies: pagesAsCopies,
  knownPart: (content) => knownThings(content, THING_KINDS),
};

const FIRST_SHEET = '00000000-0000-4000-8000-000000000001';
