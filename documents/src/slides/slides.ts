import type { DocumentKind } from '../kind.ts';
import {
  inOrder,
  knownThings,
  pagesAsCopies,
  picturesOnPages,
  placementsOnPages,
} from '../page/content.ts';
import { sharedPages } from '../page/shared.ts';
import { THING_KINDS, type Thing, thingSchema } from '../page/things/table.ts';
import { arranged } from './arrangements.ts';
import {
  type Arrangement,
  deckSettingsSchema,
  SLIDE_SIZES,
  type SlidesContent,
  slidesContentSchema,
} from './content.ts';
import { DECK_LOOKS } from './deck-look.ts';

const FIRST_SLIDE = '00000000-0000-4000-8000-000000000001';

/** The texts that a new slide begins with, as things. `newId` makes names that nothing has yet. */
export function beginSlide(
  { id, arrangement }: { id: string; arrangement: Arrangement },
  size: { width: number; height: number },
  newId: () => string,
): Thing[] {
  return arranged(arrangement, size).map((text, at) =>
    thingSchema.parse({ ...text, id: newId(), kind: 'text', page: id, order: at, text: '' }),
  );
}

/** A deck: slides with titles, words and objects, to be shown to others. */
export const slides: DocumentKind<SlidesContent> = {
  name: 'slides',
  schema: slidesContentSchema,
  placements: placementsOnPages,
  pictures: picturesOnPages,
  // The style of its tables is part of the look of the deck.
  look: ({ settings }) => ({
    ...settings.look,
    tableStyle: DECK_LOOKS[settings.deckLook].tableStyle,
  }),
  shared: sharedPages<SlidesContent>({ type: 'slides' }, deckSettingsSchema),
  firstContent: (name) => {
    const first = { id: FIRST_SLIDE, order: 0, arrangement: 'opening' as const, notes: '' };
    let made = 1;
    const newId = () => `00000000-0000-4000-8000-${String(++made).padStart(12, '0')}`;
    const [title, ...rest] = beginSlide(first, SLIDE_SIZES['16:9'], newId);
    return {
      type: 'slides',
      settings: deckSettingsSchema.parse({}),
      pages: [first],
      layers: [],
      things: [{ ...title!, text: name } as Thing, ...rest],
    };
  },
  beginning: (content) => {
    const [first] = inOrder(content.pages);
    return {
      ...content,
      pages: first ? [first] : [],
      things: content.things.filter(({ page }) => page === first?.id),
    };
  },
  asCopies: pagesAsCopies,
  knownPart: (content) => knownThings(content, THING_KINDS),
};
