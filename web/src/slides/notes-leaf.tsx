import { aSheet, fontSizeFor, PIXELS_PER_MM } from '@tether/core';
import { inOrder, type SlidesContent } from '@tether/documents';
import { CAPITALS, PAGE_FONT } from '../page/drawn/page-letters.ts';
import type { Leaf } from '../page/still/StillPages.tsx';
import { SLIDES } from './slides-kind.ts';

/** The paper that a slide and its notes are printed on. */
export const NOTES_SHEET = aSheet('A4', false);
/** Millimetres around what is printed, and height of the capitals of notes. */
const MARGIN = 18;
const LETTERS = 2.6;

/** Each slide over its notes and its number. Notes longer than the paper go on overleaf. */
export function notesLeaf(content: SlidesContent): Leaf {
  const slides = inOrder(content.pages);
  return (page, drawn) => {
    const at = slides.findIndex(({ id }) => id === page.id);
    const size = SLIDES.size(page, content.settings);
    const scale = (NOTES_SHEET.width - 2 * MARGIN) / size.width;
    return (
      <div
        key={page.id}
        className="sheet bg-white"
        style={{
          position: 'relative',
          width: NOTES_SHEET.width * PIXELS_PER_MM,
          // A hair less than the paper: what is rounded up would begin another page.
          minHeight: NOTES_SHEET.height * PIXELS_PER_MM - 1,
          padding: `${MARGIN}mm`,
          breakAfter: 'page',
          fontFamily: PAGE_FONT,
          fontSize: fontSizeFor(LETTERS, CAPITALS) * PIXELS_PER_MM,
        }}
      >
        <div style={{ height: size.height * scale * PIXELS_PER_MM }}>
          <div
            className="border border-hairline"
            style={{
              boxSizing: 'content-box',
              width: size.width * PIXELS_PER_MM,
              transform: `scale(${scale})`,
              transformOrigin: '0 0',
            }}
          >
            {drawn}
          </div>
        </div>
        <p className="mt-2 text-right text-muted">{at + 1}</p>
        <p className="mt-4 leading-relaxed break-words whitespace-pre-wrap">{slides[at]?.notes}</p>
      </div>
    );
  };
}
