import {
  type AnyPage,
  DECK_LOOKS,
  type DeckSettings,
  deckSettingsSchema,
  SLIDE_MARGIN,
  SLIDE_SIZES,
  type Slide,
  slideSchema,
} from '@tether/documents';
import type { CSSProperties } from 'react';
import type { PageKind } from '../page/surface/page-kind.ts';

/** A slide; one that says nothing that is understood is an empty one. */
export function slideOf(page: AnyPage): Slide {
  const read = slideSchema.safeParse(page);
  return read.success ? read.data : { ...page, arrangement: 'empty', notes: '' };
}

/** What is settled for a deck, as it lies in its shared settings. */
export const deckOf = (shared: Record<string, unknown>): DeckSettings =>
  deckSettingsSchema.parse(shared);

const sizeOf = (settings: Record<string, unknown>) => SLIDE_SIZES[deckOf(settings).proportion];

/** Decks, for the surface that pages share. */
export const SLIDES: PageKind = {
  name: 'slides',
  hasPlans: false,
  size: (_page, settings) => sizeOf(settings),
  space(_page, settings) {
    const { width, height } = sizeOf(settings);
    return {
      x: SLIDE_MARGIN / 2,
      y: SLIDE_MARGIN / 2,
      width: width - SLIDE_MARGIN,
      height: height - SLIDE_MARGIN,
    };
  },
  spaceName: 'slide',
  kept: () => [],
  fields: () => new Map(),
  look(settings) {
    const { look, deckLook } = deckOf(settings);
    return { ...look, tableStyle: DECK_LOOKS[deckLook].tableStyle };
  },
  style(settings) {
    const { titles, words, ground, ink, accent } = DECK_LOOKS[deckOf(settings).deckLook];
    return {
      background: ground,
      '--titles-face': titles,
      '--titles-ink': accent,
      '--words-face': words,
      '--words-ink': ink,
    } as CSSProperties;
  },
};
