import { describe, expect, it } from '@jest/globals';
import * as Y from 'yjs';
import { readContent } from '../registry.ts';
import { arranged, SLIDE_MARGIN } from './arrangements.ts';
import { ARRANGEMENTS, SLIDE_SIZES } from './content.ts';
import { DECK_LOOKS } from './deck-look.ts';
import { beginSlide, slides } from './slides.ts';

/** Relative luminance of a colour; WCAG 2.2, “relative luminance”. */
function luminance(colour: string): number {
  const [red, green, blue] = [1, 3, 5].map((at) => {
    const share = Number.parseInt(colour.slice(at, at + 2), 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * red! + 0.7152 * green! + 0.0722 * blue!;
}

describe('a deck', () => {
  it('begins with an opening that has its name, and reads as it was written', () => {
    const content = slides.firstContent('Briefing');
    expect(content.things.map((thing) => thing.kind === 'text' && thing.text)).toEqual([
      'Briefing',
      '',
    ]);
    const doc = new Y.Doc();
    doc.transact(() => slides.shared.write(doc, content));
    expect(readContent('slides', slides.shared.read(doc))).toEqual({ ok: true, value: content });
  });

  it('gives its tables the style of its look', () => {
    const content = slides.firstContent('Briefing');
    content.settings.deckLook = 'silt';
    expect(slides.look(content).tableStyle).toBe('dark head');
  });
});

describe('arrangements', () => {
  it.each(ARRANGEMENTS)(
    '%s stands within the margins of both proportions, nothing over another',
    (arrangement) => {
      for (const size of Object.values(SLIDE_SIZES)) {
        const texts = arranged(arrangement, size);
        for (const [at, { x, y, width, height }] of texts.entries()) {
          expect(x).toBeGreaterThanOrEqual(SLIDE_MARGIN);
          expect(x + width).toBeLessThanOrEqual(size.width - SLIDE_MARGIN + 1e-9);
          expect(y + height).toBeLessThanOrEqual(size.height - 10);
          for (const other of texts.slice(at + 1)) {
            const isApart =
              x + width <= other.x || other.x + other.width <= x || y + height <= other.y;
            expect(isApart).toBe(true);
          }
        }
        expect(
          beginSlide(
            { id: slides.firstContent('x').pages[0]!.id, arrangement },
            size,
            () => slides.firstContent('x').things[0]!.id,
          ),
        ).toHaveLength(texts.length);
      }
    },
  );
});

describe('looks of decks', () => {
  // WCAG 2.2, 1.4.3: contrast of words 4.5 to 1 at least; large letters need 3 to 1.
  it.each(Object.entries(DECK_LOOKS))(
    'words of “%s” are read on its ground',
    (_, { ground, ink, accent }) => {
      const against = (colour: string) => {
        const [light, dark] = [luminance(ground), luminance(colour)].sort((a, b) => b - a);
        return (light! + 0.05) / (dark! + 0.05);
      };
      expect(against(ink)).toBeGreaterThan(7);
      expect(against(accent)).toBeGreaterThan(4.5);
    },
  );
});
